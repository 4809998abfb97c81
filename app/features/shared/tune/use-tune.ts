import { useDeferredValue, useMemo, useState } from 'react';
import { DISPLAY_P3, type Gamut, SRGB } from '#core/harmony/index';
import type { Swatch } from '#core/swatch/index';
import {
  contrastAfter,
  isTunable,
  move,
  prepareTuning,
  type Tuned,
  type Tuning,
  tuningWords,
} from '#core/tune/index';
import { usePressGamut } from '~/features/shared/use-press-gamut';
import { useCondition } from '~/ui/condition';

export const WITHIN = [
  ['srgb', 'sRGB'],
  ['p3', 'Display P3'],
  ['press', 'the press'],
] as const;
export type Within = (typeof WITHIN)[number][0];

export interface TuneState {
  tuning: Tuning;
  set(part: Partial<Tuning>): void;
  /** All of it at once, such as one that was kept. */
  replace(tuning: Tuning): void;
  startOver(): void;
  within: Within;
  setWithin(within: Within): void;
  gamut: Gamut;
  /** Of the print condition, once it is there. */
  press: Gamut | null;
  /** The gamut of the press is still being made. */
  waiting: boolean;
  /** What is seen: it follows a dragging hand when there is time for it. */
  tuned: Tuned[];
  tunedOf(id: string): Tuned | undefined;
  /** Pairs of text and ground that begin and cease to be readable, 4.5 : 1. */
  contrast: ReturnType<typeof contrastAfter>;
  /** Inks and lines among the chosen, which stay as they are. */
  leftAlone: number;
  /** What is done, in words; empty for nothing. */
  words: string;
  /** What it comes to now, with the last movement of the hand. */
  now(): Tuned[];
}

const NOTHING: Tuning = {};
/** The contrast of text, WCAG 2.2, 1.4.3. */
const READABLE = 4.5;

/** Chosen swatches as they are tuned; nothing is kept before it is saved. @param withRole those that text and grounds are among */
export function useTune(chosen: readonly Swatch[], withRole: readonly Swatch[]): TuneState {
  const condition = useCondition();
  const [asked, setAsked] = useState<Tuning>(NOTHING);
  // a swatch's own values are its own: another that is chosen meanwhile does not get them
  const only = chosen.length === 1 ? chosen[0]!.id : null;
  const [valuesOf, setValuesOf] = useState<string | null>(null);
  const tuning = useMemo((): Tuning => {
    if (!asked.values || valuesOf === only) return asked;
    const { values: _, ...rest } = asked;
    return rest;
  }, [asked, valuesOf, only]);
  const replace = (next: Tuning) => {
    setAsked(next);
    if (next.values) setValuesOf(only);
  };
  // what is all for the press stays on it
  const [within, setWithin] = useState<Within>(() =>
    chosen.length > 0 && chosen.every((s) => s.color.space === 'cmyk') ? 'press' : 'srgb',
  );
  const press = usePressGamut(condition);
  const gamut = within === 'p3' ? DISPLAY_P3 : within === 'press' ? (press ?? SRGB) : SRGB;
  const calm = useDeferredValue(tuning);
  const prepared = useMemo(
    () => prepareTuning(chosen, condition, calm.values),
    [chosen, condition, calm.values],
  );
  const tuned = useMemo(() => move(prepared, calm, gamut), [prepared, calm, gamut]);
  const byId = useMemo(() => new Map(tuned.map((t) => [t.swatch.id, t])), [tuned]);
  const contrast = useMemo(
    () => contrastAfter(withRole, { get: (id) => byId.get(id)?.color }, READABLE, condition),
    [withRole, byId, condition],
  );
  const leftAlone = useMemo(() => chosen.filter((s) => !isTunable(s)).length, [chosen]);
  return {
    tuning,
    set: (part) => replace({ ...tuning, ...part }),
    replace,
    startOver: () => replace(NOTHING),
    within,
    setWithin,
    gamut,
    press,
    waiting: within === 'press' && !press,
    tuned,
    tunedOf: (id) => byId.get(id),
    contrast,
    leftAlone,
    words: tuningWords(tuning, condition),
    now: () => move(prepareTuning(chosen, condition, tuning.values), tuning, gamut),
  };
}
