import { nanoid } from 'nanoid';
import { useDeferredValue, useMemo, useState } from 'react';
import { DISPLAY_P3, type Gamut, SRGB } from '#core/harmony/index';
import { allSwatches, type Swatch } from '#core/swatch/index';
import {
  contrastAfter,
  isTunable,
  type Tuned,
  type Tuning,
  tune,
  tunedGroup,
  tuneSwatches,
  tuningWords,
} from '#core/tune/index';
import { usePressGamut } from '~/features/shared/use-press-gamut';
import { useLibrary } from '~/state/workspace';
import { useCondition } from '~/ui/condition';
import { useToast, wayBack } from '~/ui/toast';

export const WITHIN = [
  ['srgb', 'sRGB'],
  ['p3', 'Display P3'],
  ['press', 'the press'],
] as const;
export type Within = (typeof WITHIN)[number][0];

export interface TuneState {
  tuning: Tuning;
  set(part: Partial<Tuning>): void;
  startOver(): void;
  within: Within;
  setWithin(within: Within): void;
  gamut: Gamut;
  /** The gamut of the press is still being made. */
  waiting: boolean;
  tuned: Tuned[];
  /** Pairs of text and ground that begin and cease to be readable, 4.5 : 1. */
  contrast: { starts: number; stops: number };
  /** Inks and lines among the chosen, which stay as they are. */
  leftAlone: number;
  /** What is done, in words; empty for nothing. */
  words: string;
  save(): void;
  saveAsNew(): void;
}

const NOTHING: Tuning = {};
/** The contrast of text, WCAG 2.2, 1.4.3. */
const READABLE = 4.5;

/** Chosen swatches as they are tuned; nothing is kept before it is saved. */
export function useTune(chosen: readonly Swatch[], groupName: string, onClose: () => void): TuneState {
  const { store, select } = useLibrary();
  const condition = useCondition();
  const toast = useToast();
  const [asked, setAsked] = useState<Tuning>(NOTHING);
  // a swatch's own values are its own: another that is chosen meanwhile does not get them
  const only = chosen.length === 1 ? chosen[0]!.id : null;
  const [valuesOf, setValuesOf] = useState<string | null>(null);
  const tuning = useMemo(() => {
    if (!asked.values || valuesOf === only) return asked;
    const { values: _, ...rest } = asked;
    return rest;
  }, [asked, valuesOf, only]);
  const setTuning = (next: Tuning) => {
    setAsked(next);
    if (next.values) setValuesOf(only);
  };
  // what is all for the press stays on it
  const [within, setWithin] = useState<Within>(() =>
    chosen.length > 0 && chosen.every((s) => s.color.space === 'cmyk') ? 'press' : 'srgb',
  );
  const press = usePressGamut(condition);
  const gamut = within === 'p3' ? DISPLAY_P3 : within === 'press' ? (press ?? SRGB) : SRGB;
  // swatches follow a dragging hand when there is time for it
  const calm = useDeferredValue(tuning);
  const tuned = useMemo(() => tune(chosen, calm, gamut, condition), [chosen, calm, gamut, condition]);
  const contrast = useMemo(
    () =>
      contrastAfter(
        allSwatches(store.rows.library),
        new Map(tuned.map((t) => [t.swatch.id, t.color])),
        READABLE,
        condition,
      ),
    [store, tuned, condition],
  );
  const words = tuningWords(tuning, condition);
  const now = () => tune(chosen, tuning, gamut, condition);
  return {
    tuning,
    set: (part) => setTuning({ ...tuning, ...part }),
    startOver: () => setTuning(NOTHING),
    within,
    setWithin,
    gamut,
    waiting: within === 'press' && !press,
    tuned,
    contrast,
    leftAlone: chosen.filter((s) => !isTunable(s)).length,
    words,
    save: () => {
      const done = store.edit(tuneSwatches(now(), words));
      onClose();
      if (done) toast({ text: `Tuned: ${words}.`, ...wayBack([store, done]) });
    },
    saveAsNew: () => {
      const { made, ...draft } = tunedGroup(store.rows, now(), words, `${groupName}, tuned`, () =>
        nanoid(12),
      );
      const done = store.edit(draft);
      onClose();
      if (!done) return;
      select(made);
      toast({ text: `Added as a group: ${words}.`, ...wayBack([store, done]) });
    },
  };
}
