import { type Color, deltaE00, screenOnly, suggestNames, toHex, toLab } from '../color/index.ts';
import type { LibraryPicture } from '../services.ts';
import { stored } from '../stored.ts';
import type { ChartGrid } from './chart.ts';
import type { Correction } from './correct.ts';
import type { PaletteOrder } from './order.ts';
import { joined, type Keep } from './prune.ts';
import { NEVER, type PaletteColor } from './reduce.ts';
import type { Region } from './region.ts';
import type { SampleSize } from './sample.ts';

export const METHODS = ['reduce', 'exact', 'chart', 'point'] as const;
/** How a picture is asked for its colours: reduced to some, every one, by the chips of a chart, or by clicking. */
export type Method = (typeof METHODS)[number];

/** A colour that stays in the palette, and what it is called there. */
export interface Held {
  name: string;
  color: Color;
}

/** What the user took out of a result or made one of; by the keys of its colours. */
export type Amendment = { remove: string } | { left: string; right: string; keep: Keep };

/** Everything a palette follows from, besides the picture. */
export interface Recipe {
  method: Method;
  count: number;
  /** 0–1; see {@link accented}. */
  accent: number;
  held: Held[];
  /** Side of the cells, px; 1 for none. */
  cell: number;
  region: Region | null;
  keepBackground: boolean;
  sampleSize: SampleSize;
  points: PaletteColor[];
  /** Set by hand; null to look for the chips. */
  grid: ChartGrid | null;
  /** Look-alikes are shown under this ΔE00. */
  threshold: number;
  order: PaletteOrder;
  amendments: Amendment[];
  /** What a reference chart in the picture says of its colours: they are Lab then, and estimated. */
  correction?: Correction | undefined;
}

/** One result of asking a picture for a palette. */
export interface Take {
  id: string;
  /** Empty until the user types one. */
  name: string;
  recipe: Recipe;
  /** The palette as it was last seen, with the amendments. */
  colors: PaletteColor[];
  /** Mean ΔE00 of the picture against it; null where it says nothing. */
  mean: number | null;
  /** Names the user typed, and the colours they belong to. */
  names: Held[];
  /** Whether colours without one get a suggested name; else they are called by their code. */
  suggest: boolean;
}

export const plainRecipe: Recipe = {
  method: 'reduce',
  count: 10,
  accent: 0,
  held: [],
  cell: 1,
  region: null,
  keepBackground: false,
  sampleSize: 5,
  points: [],
  grid: null,
  threshold: 3,
  order: 'share',
  amendments: [],
};

export const newTake = (id: string): Take => ({
  id,
  name: '',
  recipe: plainRecipe,
  colors: [],
  mean: null,
  names: [],
  suggest: true,
});

/** What a colour is known by within one palette. */
export const colorKey = (c: PaletteColor) => c.rgb.join();

/** A result with the amendments laid over it; those for colours that are not there any more do nothing. */
export function amended(full: PaletteColor[], amendments: Amendment[]): PaletteColor[] {
  let colors = full;
  for (const step of amendments) {
    if ('remove' in step) colors = colors.filter((c) => colorKey(c) !== step.remove);
    else {
      const left = colors.find((c) => colorKey(c) === step.left);
      const right = colors.find((c) => colorKey(c) === step.right);
      if (left && right)
        colors = colors.flatMap((c) => (c === left ? joined(left, right, step.keep) : c === right ? [] : c));
    }
  }
  return colors;
}

/** A typed name stays with its colour when another count shifts it by no more than this ΔE00. */
const SAME = 4;

/** The typed name of each colour, by place; each name goes to one colour, the very one or the nearest. */
export function typedNames(colors: PaletteColor[], names: Held[]): (string | undefined)[] {
  const found: (string | undefined)[] = colors.map(() => undefined);
  if (names.length === 0) return found;
  const labs = colors.map((c) => toLab(c.color, screenOnly));
  for (const { name, color } of names) {
    const lab = toLab(color, screenOnly);
    let best = -1;
    let least = SAME;
    labs.forEach((other, i) => {
      const d = deltaE00(lab, other);
      if (found[i] === undefined && d < least) {
        least = d;
        best = i;
      }
    });
    if (best >= 0) found[best] = name;
  }
  return found;
}

/** What a new result makes void. */
const RESULT: (keyof Recipe)[] = [
  'method',
  'count',
  'accent',
  'held',
  'cell',
  'region',
  'keepBackground',
  'grid',
];

/** The take with another recipe. What asks for another result lets go of the changes that were made to this one. */
export function withRecipe(take: Take, part: Partial<Recipe>): Take {
  const changed = RESULT.some((key) => key in part && part[key] !== take.recipe[key]);
  const order: Partial<Recipe> =
    part.method && part.method !== take.recipe.method
      ? { order: part.method === 'reduce' ? 'share' : 'appearance' }
      : {};
  return { ...take, recipe: { ...take.recipe, ...(changed ? { amendments: [] } : {}), ...order, ...part } };
}

/** What of a recipe must be otherwise for a colour to leave the palette. */
export function without({ method, points, held, amendments }: Recipe, color: PaletteColor): Partial<Recipe> {
  if (method === 'point') return { points: points.filter((p) => colorKey(p) !== colorKey(color)) };
  return color.held
    ? { held: held.filter((h) => toHex(h.color, screenOnly) !== toHex(color.color, screenOnly)) }
    : { amendments: [...amendments, { remove: colorKey(color) }] };
}

/** The take with a typed name for a colour; an empty one takes it back. */
export const withName = (take: Take, { color }: PaletteColor, name: string): Take => ({
  ...take,
  names: [
    ...take.names.filter((n) => toHex(n.color, screenOnly) !== toHex(color, screenOnly)),
    ...(name ? [{ name, color }] : []),
  ],
});

/** What each colour of a palette is called, by place: typed, as where it is held from, suggested, or its code. */
export function paletteNames(
  colors: PaletteColor[],
  { names, suggest, held }: Pick<Take, 'names' | 'suggest'> & Pick<Recipe, 'held'>,
): { text: string; typed: boolean }[] {
  const given = typedNames(colors, names);
  const rest = colors.filter((_, i) => given[i] === undefined);
  const heldNames = new Map(held.map((h) => [toHex(h.color, screenOnly), h.name]));
  const found = suggest
    ? suggestNames(
        rest.map((c) => c.color),
        screenOnly,
        given.filter((name) => name !== undefined),
      )
    : rest.map((c) => toHex(c.color, screenOnly).toUpperCase());
  let next = 0;
  return colors.map((c, i) => {
    const own = given[i];
    if (own !== undefined) return { text: own, typed: true };
    const text = found[next++]!;
    // a colour of the library keeps the name it has there
    return { text: (c.held && heldNames.get(toHex(c.color, screenOnly))) || text, typed: false };
  });
}

interface Size {
  width: number;
  height: number;
}

/** The same take for a copy of the picture in another size: its points, region, cells and grid lie where they lay. */
export function resized(take: Take, from: Size, to: Size): Take {
  const [x, y] = [to.width / from.width, to.height / from.height];
  if (x === 1 && y === 1) return take;
  const place = (c: PaletteColor): PaletteColor => {
    if (c.first === NEVER) return c;
    const column = Math.min(to.width - 1, Math.floor(((c.first % from.width) + 0.5) * x));
    const row = Math.min(to.height - 1, Math.floor((Math.floor(c.first / from.width) + 0.5) * y));
    return { ...c, first: row * to.width + column };
  };
  const { region, grid, points, cell } = take.recipe;
  return {
    ...take,
    colors: take.colors.map(place),
    recipe: {
      ...take.recipe,
      points: points.map(place),
      cell: cell > 1 ? Math.max(1, Math.round(cell * x)) : cell,
      region: region && {
        ...region,
        outline: region.outline.map(([px, py]): [number, number] => [px * x, py * y]),
      },
      grid: grid && {
        ...grid,
        left: grid.left * x,
        right: grid.right * x,
        gapX: grid.gapX * x,
        top: grid.top * y,
        bottom: grid.bottom * y,
        gapY: grid.gapY * y,
      },
    },
  };
}

/** How takes are kept. */
export const takesData = stored<{ takes: Take[] }>([(old) => ({ takes: old })]);

/** A kept picture with the colours of its first take, as boards show it. */
export function libraryPicture({
  takes: [take],
  ...picture
}: Omit<LibraryPicture, 'colors'> & { takes: readonly Take[] }): LibraryPicture {
  const names = new Map(take?.names.map((n) => [n.color.components.join(), n.name]));
  const { id, name, width, height } = picture;
  const colors = (take?.colors ?? []).map(({ color, share }) => ({
    ...{ color, share },
    name: names.get(color.components.join()) ?? '',
  }));
  return { id, name, width, height, colors };
}
