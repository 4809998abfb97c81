import { type Color, screenOnly, toOpenRgb } from '../color/index.ts';
import { type Cloud, type Clusters, divide, type Rounds, search, settle } from './cluster.ts';
import type { Histogram } from './histogram.ts';
import { fromPerceptual, toPerceptual } from './perceptual.ts';
import { colorOfPixel, pixelOfColor } from './space.ts';

/** One colour of a palette taken from a picture. */
export interface PaletteColor {
  /** As a swatch keeps it; outside 0–1 where the picture goes beyond sRGB. */
  color: Color;
  /** The value of such a pixel, whole numbers 0–255. */
  rgb: [number, number, number];
  /** Part of the picture's opaque pixels, 0–1. */
  share: number;
  /** Its first pixel, counted row by row from the top; {@link NEVER} for a held colour the picture does not have. */
  first: number;
  /** It was asked for, not found. */
  held?: boolean;
}

export const NEVER = Number.MAX_SAFE_INTEGER;

/** A histogram with its colours in the space the quantiser works in; kept so that a new count starts here. */
export interface Prepared {
  histogram: Histogram;
  points: Float64Array;
  /** Which coarse cell each colour lies in, and how many such cells there are. */
  coarse: { cell: Uint16Array; size: number };
}

export function prepare(histogram: Histogram): Prepared {
  return { histogram, points: toPerceptual(histogram.rgb, histogram.space), coarse: coarsen(histogram) };
}

export const MIN_PALETTE_COLORS = 2;
export const MAX_PALETTE_COLORS = 256;

export interface ReduceOptions {
  /** {@link MIN_PALETTE_COLORS}–{@link MAX_PALETTE_COLORS}; held colours are among them. */
  count: number;
  /** 0 for the least error over all areas, 1 for small colours that stand out; see {@link accented}. */
  accent?: number;
  /** Colours that must be in the palette; the rest is found round them. */
  held?: readonly Color[];
}

/** A coarse palette settles in few rounds, and the fine one begins close to where it ends. */
const COARSE: Rounds = { all: 10, moving: 5 };
const TRIAL: Rounds = { all: 6, moving: 0 };
const fineRounds = (k: number): Rounds => ({ all: k > 32 ? 10 : k > 12 ? 8 : 16, moving: k > 32 ? 5 : 4 });
/** Beyond this the coarse cells are too few to choose among. */
const MAX_COARSE_COLORS = 32;
/** How many distances the search for better places may cost. */
const SEARCH = 250_000;

/**
 * Reduces a picture to at most `count` colours with the least mean perceived difference.
 *
 * Works in DIN99o, where plain distance follows CIEDE2000. Cuts the colours in two, again and again where that helps most;
 * lets the palette settle ({@link settle}); tries better places for single colours ({@link search}). The first of that is
 * done on a coarse picture of the colours, and only the end on all of them. No randomness: the same picture and options
 * always give the same palette. A picture with no more than `count` colours gives exactly those.
 *
 * @returns the colours, largest share first; shares are of pixels, whatever `accent` says
 */
export function reduce(prepared: Prepared, { count, accent = 0, held = [] }: ReduceOptions): PaletteColor[] {
  const { histogram, coarse } = prepared;
  const wanted = Math.min(Math.max(MIN_PALETTE_COLORS, Math.round(count)), MAX_PALETTE_COLORS);
  if (histogram.exact && histogram.size + held.length <= wanted) return exactly(prepared, held);
  const k = Math.min(Math.max(wanted, held.length), histogram.size + held.length);
  const free = k - held.length;
  const fixed = heldPoints(held, histogram);
  const cloud: Cloud = { points: prepared.points, weight: accented(prepared, accent) };
  let clusters: Clusters;
  if (k <= MAX_COARSE_COLORS && coarse.size > 4 * k) {
    const rough = gathered(cloud, coarse);
    clusters = divide(rough, free, fixed);
    const cost = settle(clusters, rough, COARSE);
    search(clusters, rough, cost, Math.ceil(SEARCH / (rough.weight.length * k * TRIAL.all)), TRIAL);
    const { owner } = clusters;
    clusters.owner = Uint16Array.from(coarse.cell, (c) => owner[c]);
  } else clusters = divide(cloud, free, fixed);
  settle(clusters, cloud, fineRounds(k));
  tellApart(clusters, cloud, histogram);
  return palette(
    prepared,
    fromPerceptual(clusters.centre, histogram.space),
    clusters.owner,
    clusters.k,
    held,
  );
}

const pixelAt = (rgb: ArrayLike<number>, c: number) =>
  [0, 1, 2].map((a) => Math.round(Math.min(255, Math.max(0, rgb[3 * c + a]))));

/**
 * Centres that round to the same eight bits, or have lost all points, would be a colour fewer than was asked for: such a one
 * leaves its points to its twin and begins again at the point that is worst served.
 */
function tellApart(
  { k, held, centre, owner }: Clusters,
  { points, weight }: Cloud,
  { rgb, space }: Histogram,
) {
  const seen = new Map<string, number>();
  const away = (i: number, c: number) =>
    [0, 1, 2].reduce((sum, a) => sum + (points[3 * i + a] - centre[3 * c + a]) ** 2, 0);
  const pixels = fromPerceptual(centre, space);
  const used = new Uint8Array(k);
  for (let i = 0; i < owner.length; i++) used[owner[i]] = 1;
  for (let c = 0; c < k; c++) {
    const twin = seen.get(pixelAt(pixels, c).join());
    if (c < held || (twin === undefined && used[c])) {
      seen.set(pixelAt(pixels, c).join(), c);
      continue;
    }
    let worst = -1;
    let most = 0;
    for (let i = 0; i < weight.length; i++) {
      if (owner[i] === c && twin !== undefined) owner[i] = twin;
      const cost = weight[i] * away(i, owner[i]);
      if (cost <= most || seen.has(pixelAt(rgb, i).join())) continue;
      most = cost;
      worst = i;
    }
    if (worst < 0) continue;
    centre.set(points.subarray(3 * worst, 3 * worst + 3), 3 * c);
    seen.set(pixelAt(rgb, worst).join(), c);
    for (let i = 0; i < weight.length; i++) if (away(i, c) < away(i, owner[i])) owner[i] = c;
  }
}

/** All colours of a flat picture, and the held ones; a colour that is both is named once. */
function exactly(prepared: Prepared, held: readonly Color[]): PaletteColor[] {
  const { histogram } = prepared;
  const owner = Uint16Array.from({ length: histogram.size }, (_, i) => held.length + i);
  const rgb = new Float64Array(3 * (held.length + histogram.size));
  rgb.set(histogram.rgb, 3 * held.length);
  held.forEach((color, h) => {
    rgb.set(pixelOfColor(toOpenRgb(color, screenOnly), histogram.space), 3 * h);
  });
  return palette(prepared, rgb, owner, held.length + histogram.size, held);
}

const heldPoints = (held: readonly Color[], { space }: Histogram) =>
  toPerceptual(
    held.flatMap((color) => pixelOfColor(toOpenRgb(color, screenOnly), space)),
    space,
  );

/**
 * What each colour of a picture weighs. At 0 that is its pixels, which gives the least error. Towards 1 area counts for
 * less and standing out for more: pixels^(1 − a/2) · (d / mean d)^2a, where d is the distance from the picture's mean
 * colour in DIN99o with lightness taken half, as a hue that is nowhere else tells more than a shadow.
 *
 * @param accent a, 0–1
 */
export function accented({ histogram, points }: Prepared, accent: number): Float64Array {
  const a = Math.min(1, Math.max(0, accent));
  if (a === 0) return histogram.count;
  const { size, count, total } = histogram;
  const mean = [0, 0, 0];
  for (let i = 0; i < size; i++)
    for (let c = 0; c < 3; c++) mean[c] += (count[i] / total) * points[3 * i + c];
  const distance = Float64Array.from({ length: size }, (_, i) =>
    Math.hypot((points[3 * i] - mean[0]) / 2, points[3 * i + 1] - mean[1], points[3 * i + 2] - mean[2]),
  );
  const usual = distance.reduce((sum, d, i) => sum + (d * count[i]) / total, 0) || 1;
  // a colour right in the middle still counts for something
  return distance.map((d, i) => count[i] ** (1 - a / 2) * Math.max(0.05, d / usual) ** (2 * a));
}

function coarsen(histogram: Histogram): Prepared['coarse'] {
  const number = new Int32Array(4096).fill(-1);
  const cell = new Uint16Array(histogram.size);
  let size = 0;
  for (let i = 0; i < histogram.size; i++) {
    const [r, g, b] = [0, 1, 2].map((a) => histogram.rgb[3 * i + a] >> 4);
    const at = (r << 8) | (g << 4) | b;
    if (number[at] < 0) number[at] = size++;
    cell[i] = number[at];
  }
  return { cell, size };
}

/** The cloud with the points of each coarse cell drawn together in their mean. */
function gathered({ points, weight }: Cloud, { cell, size }: Prepared['coarse']): Cloud {
  const sums = new Float64Array(3 * size);
  const all = new Float64Array(size);
  for (let i = 0; i < cell.length; i++) {
    const c = cell[i];
    all[c] += weight[i];
    for (let a = 0; a < 3; a++) sums[3 * c + a] += weight[i] * points[3 * i + a];
  }
  for (let c = 0; c < size; c++) for (let a = 0; a < 3; a++) sums[3 * c + a] /= all[c];
  return { points: sums, weight: all };
}

function palette(
  { histogram }: Prepared,
  rgb: ArrayLike<number>,
  owner: ArrayLike<number>,
  k: number,
  held: readonly Color[],
): PaletteColor[] {
  const colors: PaletteColor[] = Array.from({ length: k }, (_, c) => {
    const pixel = pixelAt(rgb, c);
    return {
      color: held[c] ?? colorOfPixel(pixel, histogram.space),
      rgb: pixel as PaletteColor['rgb'],
      share: 0,
      first: NEVER,
      ...(c < held.length ? { held: true } : {}),
    };
  });
  for (let i = 0; i < histogram.size; i++) {
    const color = colors[owner[i]];
    color.share += histogram.count[i] / histogram.total;
    color.first = Math.min(color.first, histogram.first[i]);
  }
  // two that round to the same eight bits are one colour
  const merged = new Map<string, PaletteColor>();
  for (const color of colors) {
    if (color.share === 0 && !color.held) continue;
    const same = merged.get(color.rgb.join());
    if (same) {
      same.share += color.share;
      same.first = Math.min(same.first, color.first);
    } else merged.set(color.rgb.join(), color);
  }
  return [...merged.values()].sort((a, b) => b.share - a.share || a.first - b.first);
}
