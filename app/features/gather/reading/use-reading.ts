import { nanoid } from 'nanoid';
import { useMemo } from 'react';
import { asTint } from '#core/books/index';
import type { Lab } from '#core/color/index';
import { figuresOf, labUnder, type StepFigures } from '#core/reading/figures';
import { reflectanceToXyz, whiteOf } from '#core/spectral/index';
import type { Spectrum, Swatch } from '#core/swatch/index';
import type { KeptReading } from '~/state/readings';
import { useStore } from '~/state/store';
import { useStores } from '~/state/stores';

/** The ink that is looked at, with its figures under D50 and 2°. */
export function useReading() {
  const { readings } = useStores();
  const { inks, current } = useStore(readings);
  const reading = inks.find((r) => r.id === current) ?? inks[0] ?? null;
  const ink = reading?.ink ?? null;
  const figures = useMemo(() => (ink ? figuresOf(ink) : null), [ink]);
  return { store: readings, inks, reading, figures };
}

/** What a library keeps of a spectrum's colour: D50 and 2°. */
export const labOf = (spectrum: Spectrum): Lab =>
  labUnder(reflectanceToXyz(spectrum), whiteOf('D50', '2')).map((v) => Math.round(v * 100) / 100) as Lab;

/** The solid of a measured ink as a spot swatch; the darkest step there is, where no solid was measured. */
export function inkFrom({ ink, facts, from }: KeptReading): Swatch {
  const own = ink.steps.filter((s) => s.backing === 'white');
  const solid = own.at(-1) ?? ink.steps.at(-1)!;
  return {
    id: nanoid(12),
    name: ink.name,
    kind: 'spot',
    color: { space: 'lab', components: labOf(solid.spectrum) },
    spectrum: solid.spectrum,
    ...(facts.code ? { code: facts.code } : {}),
    origin: { from: 'file', name: from },
  };
}

/** The ink and its tints over white, the darkest first. */
export function tintsFrom(reading: KeptReading, figures: readonly StepFigures[]): Swatch[] {
  const ink = inkFrom(reading);
  const tints = figures
    .filter(({ step }) => step.backing === 'white' && step.percent > 0 && step.percent < 100)
    .reverse();
  return [ink, ...tints.map(({ step }) => asTint(ink, step.percent, labOf(step.spectrum), nanoid(12)))];
}
