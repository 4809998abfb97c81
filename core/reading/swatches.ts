import { asTint } from '../books/index.ts';
import type { Lab } from '../color/model.ts';
import type { NewId, Spectrum, Swatch } from '../swatch/model.ts';
import type { MeasuredInk, ReadingData, Step } from '../swatch/reading.ts';
import { labOfSpectrum } from './figures.ts';

/** What a library keeps of a spectrum's colour: Lab D50 and 2°, to two places. */
export const keptLab = (spectrum: Spectrum): Lab =>
  labOfSpectrum(spectrum).map((v) => Math.round(v * 100) / 100) as Lab;

/** The solid over white; the darkest step there is, where it was not measured. */
export const solidOf = ({ steps }: MeasuredInk): Step =>
  steps.findLast((s) => s.backing === 'white') ?? steps.at(-1)!;

/** A measured ink as a spot swatch with its spectrum. */
export function spotOf({ ink, facts, from }: ReadingData, id: string): Swatch {
  const { spectrum } = solidOf(ink);
  return {
    id,
    name: ink.name,
    kind: 'spot',
    color: { space: 'lab', components: keptLab(spectrum) },
    spectrum,
    ...(facts.code ? { code: facts.code } : {}),
    origin: { from: 'reading', name: from },
  };
}

/** The ink and its measured tints over white, the darkest first. */
export function spotWithTints(reading: ReadingData, newId: NewId): Swatch[] {
  const spot = spotOf(reading, newId());
  const tints = reading.ink.steps
    .filter((s) => s.backing === 'white' && s.percent > 0 && s.percent < 100)
    .reverse();
  return [spot, ...tints.map((s) => asTint(spot, s.percent, keptLab(s.spectrum), newId()))];
}
