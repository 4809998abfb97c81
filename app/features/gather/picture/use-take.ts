import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import {
  type Fit,
  type Method,
  type Palette,
  type PaletteColor,
  paletteNames,
  plainRecipe,
  type Recipe,
  type Take,
  withName,
  without,
  withRecipe,
} from '#core/picture/index';
import type { Source } from '~/messages/picture-messages';
import { ALL, type PictureState, type PictureStore } from '~/state/picture-store';
import { latestOnly } from '~/workers/worker-client';

/** The take worked on, and the palette it gives. */
export interface TakeState {
  store: PictureStore;
  /** The board it lies on, and the pictures it is taken from. */
  board: string;
  source: Source;
  take: Take;
  recipe: Recipe;
  /** Changes the recipe; a new method or count forgets what was taken out of the old result. */
  set(part: Partial<Recipe> | ((now: Recipe) => Partial<Recipe>)): void;
  change(next: (take: Take) => Take): void;
  /** What the worker found beside the colours, for this very recipe or the one before it. */
  answer: Palette | null;
  /** The method that {@link answer} is of. */
  answered: Method | null;
  /** The palette with what the user changed in it, in the chosen order. */
  colors: PaletteColor[];
  pairs: Pair[];
  fit: Fit | null;
}

/** Two colours that look alike, the one with the larger share on the left. */
export interface Pair {
  left: PaletteColor;
  right: PaletteColor;
  deltaE00: number;
}

/** Whether a palette so taken stands for the picture, so that it can be drawn with it and held against it. */
export const fits = (method: Method) => method === 'reduce' || method === 'exact';

const NONE: PaletteColor[] = [];
const SETTLED_MS = 250;

export function useTake(store: PictureStore, { pictures, shown, boards }: PictureState): TakeState | null {
  const board = shown ? boards[shown] : undefined;
  const take = board?.takes.find((t) => t.id === board.current) ?? board?.takes[0];
  const ready = useMemo(
    () => pictures.filter((p) => p.opened && (shown === ALL || p.id === shown)).map((p) => p.id),
    [pictures, shown],
  );
  const sourceKey = ready.join();
  const source = useMemo(() => sourceKey.split(',').filter(Boolean), [sourceKey]);
  const [result, setResult] = useState<{ of: string; method: Method; answer: Palette } | null>(null);
  const [fit, setFit] = useState<Fit | null>(null);

  const takeId = take?.id;
  const takeKey = `${shown}/${takeId}`;
  const askPalette = useMemo(
    () =>
      latestOnly(
        (ask: { source: Source; recipe: Recipe; of: string }) =>
          store.client.ask('palette', { source: ask.source, recipe: ask.recipe }),
        (answer, { of, recipe: { method } }) => setResult({ of, method, answer }),
        store.report,
      ),
    [store],
  );
  const askFit = useMemo(
    () =>
      latestOnly(
        (ask: { source: Source; recipe: Recipe; colors: PaletteColor[] }) =>
          store.client.ask('fit', {
            source: ask.source,
            // cells and background are what the palette is taken from, not what it is to stand for
            look: { cell: 1, region: ask.recipe.region },
            palette: ask.colors.map((c) => c.color),
          }),
        setFit,
        store.report,
      ),
    [store],
  );

  const recipe = take?.recipe ?? plainRecipe;
  const { method, region, correction } = recipe;
  useEffect(() => {
    if (source.length > 0) askPalette({ source, recipe, of: takeKey });
  }, [source, takeKey, recipe, askPalette]);

  const answer = result?.of === takeKey ? result.answer : null;
  const answered = (answer && result?.method) ?? null;
  // until the worker has answered, what the take showed last
  const colors = answer?.colors ?? take?.colors ?? NONE;

  // biome-ignore lint/correctness/useExhaustiveDependencies: of the recipe only the region has a part in it
  useEffect(() => {
    if (source.length === 0 || colors.length === 0 || !fits(method) || correction) setFit(null);
    else askFit({ source, recipe, colors });
  }, [source, colors, method, region, correction, askFit]);

  const change = useCallback(
    (next: (take: Take) => Take) => shown && store.change(shown, next),
    [store, shown],
  );
  // the take keeps what it shows, for its strip and for the next time it is opened; not while a hand still drags
  const mean = fit?.mean ?? null;
  const now = useRef(takeKey);
  now.current = takeKey;
  useEffect(() => {
    if (!answer || !shown || !takeId) return;
    const keep = () => store.keepResult(shown, takeId, answer.colors, mean);
    const timer = setTimeout(keep, SETTLED_MS);
    return () => {
      clearTimeout(timer);
      if (now.current !== takeKey) keep();
    };
  }, [answer, mean, shown, takeId, takeKey, store]);

  const set = useCallback(
    (given: Partial<Recipe> | ((now: Recipe) => Partial<Recipe>)) =>
      change((t) => withRecipe(t, typeof given === 'function' ? given(t.recipe) : given)),
    [change],
  );

  const pairs = useMemo(
    () =>
      (answer?.pairs ?? []).map(({ left, right, deltaE00 }) => ({
        left: colors[left],
        right: colors[right],
        deltaE00,
      })),
    [answer, colors],
  );

  return shown && take
    ? {
        store,
        board: shown,
        source,
        take,
        recipe,
        set,
        change,
        answer,
        answered,
        colors,
        pairs,
        fit,
      }
    : null;
}

/** What each colour of a palette is called, by place: typed, suggested, or its code. */
export const useNames = ({ colors, take: { names, suggest }, recipe: { held } }: TakeState) =>
  useMemo(() => paletteNames(colors, { names, suggest, held }), [colors, names, suggest, held]);

export const remove = (state: TakeState, color: PaletteColor) => state.set(without(state.recipe, color));

/** Gives a colour of the palette the name the user typed; an empty one takes it back. */
export const rename = (state: TakeState, color: PaletteColor, name: string) =>
  state.change((take) => withName(take, color, name));
