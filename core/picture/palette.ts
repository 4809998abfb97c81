import { inCells } from './cells.ts';
import { type ChartGrid, type Chip, findChart, readLitChart } from './chart.ts';
import { correctedLab } from './correct.ts';
import { type ExactResult, exactColors } from './exact.ts';
import { histogram, type Picture } from './histogram.ts';
import { paletteOrders } from './order.ts';
import { lookAlikes } from './prune.ts';
import { NEVER, type PaletteColor, type Prepared, prepare, reduce } from './reduce.ts';
import { within } from './region.ts';
import { amended, type Recipe } from './take.ts';

/** What part of a picture is looked at, and how coarsely. */
export type Look = Pick<Recipe, 'cell' | 'region'>;

/** What was found in a picture, before the user's changes. */
export interface Found {
  colors: PaletteColor[];
  exact: Omit<ExactResult, 'colors'> | null;
  /** The chips of a chart and the grid they were read by; null where none was found. */
  /** `darkest`: where light was uneven and was evened out, how bright the darkest place is against the brightest, 0–1. */
  chart: { grid: ChartGrid; chips: Chip[]; darkest: number | null } | null;
}

/** A palette as a recipe gives it. */
export interface Palette extends Found {
  /** Colours that look alike, by their places; the one with the larger share on the left. */
  pairs: { left: number; right: number; deltaE00: number }[];
  /** How many colours there were before the user's changes. */
  found: number;
}

/**
 * Where a palette is taken from. Its steps cost much and are asked for again and again: whoever lends them may remember what they
 * gave, for they always give the same.
 */
export interface PaletteSource {
  /** The one picture; null when several are taken as one, which only Reduce can. */
  picture: Picture | null;
  part(look: Look): Picture;
  prepared(look: Look): Prepared;
}

/** The part of a picture that is looked at, in cells when it is. */
export function partOf(picture: Picture, { cell, region }: Look): Picture {
  const inside = region ? within(picture, region) : picture;
  return cell > 1 ? inCells(inside, cell) : inside;
}

/** One picture, of which nothing is remembered. */
export const ofPicture = (picture: Picture): PaletteSource => ({
  picture,
  part: (look) => partOf(picture, look),
  prepared: (look) => prepare(histogram(partOf(picture, look))),
});

/** The palette of a recipe: what is found, the user's changes over it, in the order asked for. */
export function paletteOf(
  source: PaletteSource,
  recipe: Recipe,
  find: (source: PaletteSource, recipe: Recipe) => Found = findPalette,
): Palette {
  const { method, amendments, order, threshold } = recipe;
  const found = find(source, recipe);
  const list = amended(found.colors, amendments).map((c) => correctedColor(c, source, recipe));
  // a chart is read in the order of its chips, points in the order they were taken
  const asFound = method === 'point' || (order === 'appearance' && method !== 'reduce');
  const colors = asFound ? list : paletteOrders[order].arrange(list);
  const pairs = lookAlikes(colors, threshold).map(({ into, gone, deltaE00 }) => ({
    left: into,
    right: gone,
    deltaE00,
  }));
  return { ...found, colors, pairs, found: found.colors.length };
}

/** The colour as the reference chart in the picture says it was; a held colour is what it is. */
function correctedColor(
  color: PaletteColor,
  { picture }: PaletteSource,
  { correction }: Recipe,
): PaletteColor {
  if (!correction || !picture || color.held) return color;
  const lab = correctedLab(color.rgb, picture.space, correction);
  return { ...color, color: { space: 'lab', components: lab.map((v) => Math.round(v * 100) / 100) } };
}

/** What a recipe's method finds; the rest of the recipe is laid over it. */
export function findPalette(source: PaletteSource, recipe: Recipe): Found {
  const { method, cell, region, count, accent, held } = recipe;
  const { picture } = source;
  if (method === 'point') return { colors: recipe.points, exact: null, chart: null };
  if (method === 'exact' && picture) {
    const { colors, ...exact } = exactColors(source.part({ cell, region }), 256, recipe.keepBackground);
    return { colors: placed(colors, picture, cell), exact, chart: null };
  }
  if (method === 'chart' && picture) {
    const grid = recipe.grid ?? findChart(picture);
    const { chips, darkest } = grid ? readLitChart(picture, grid) : { chips: [], darkest: null };
    return { colors: named(chips), exact: null, chart: grid && { grid, chips, darkest } };
  }
  const prepared = source.prepared({ cell, region });
  if (prepared.histogram.total === 0) return { colors: [], exact: null, chart: null };
  const colors = reduce(prepared, { count, accent, held: held.map((h) => h.color) });
  return { colors: picture ? placed(colors, picture, cell) : colors, exact: null, chart: null };
}

/** The colours of chips; one that several chips show is named once, at the first of them. */
function named(chips: Chip[]): PaletteColor[] {
  const colors = new Map<string, PaletteColor>();
  for (const { color } of chips) {
    if (!color) continue;
    const same = colors.get(color.rgb.join());
    if (same) same.share += color.share;
    else colors.set(color.rgb.join(), { ...color });
  }
  return [...colors.values()];
}

/** The same palette with places in the picture, where they were counted in cells. */
function placed(colors: PaletteColor[], { width, height }: Picture, cell: number): PaletteColor[] {
  if (cell <= 1) return colors;
  const columns = Math.ceil(width / cell);
  const middle = (n: number, most: number) => Math.min(most - 1, n * cell + (cell >> 1));
  return colors.map((c) =>
    c.first === NEVER
      ? c
      : {
          ...c,
          first: middle(Math.floor(c.first / columns), height) * width + middle(c.first % columns, width),
        },
  );
}
