import { deltaE00, type Lab, labToXyz50, xyz50ToLab } from '../color/index.ts';
import { FormatError } from '../text/error.ts';
import { plural } from '../text/text.ts';
import { type ChartGrid, type Chip, findChart, readLitChart } from './chart.ts';
import type { Picture } from './histogram.ts';
import { lookUp, type PixelSpace, SRGB } from './space.ts';

// A photograph of a reference chart, brought to what the chart measures.

export const DEGREES = [1, 2, 3, 4] as const;
export type Degree = (typeof DEGREES)[number];

/** How pixels of a photograph become CIE XYZ, and how well they do. */
export interface Correction {
  /** The file of the chart's values. */
  reference: string;
  degree: Degree;
  /** XYZ D50 (Y 0–1) by the terms of {@link termsOf}: three rows. */
  matrix: number[];
  /** ΔE00 of patches that the fit did not see: mean, 95th percentile, largest. */
  mean: number;
  p95: number;
  max: number;
  /** Patches that were fitted, and those left out: too bright or dark for the camera, or in a shadow. */
  patches: number;
  clipped: number;
  shadowed: number;
}

/**
 * Terms that all grow as the light does, so that the correction holds at any exposure. Source: Finlayson, Mackiewicz and Hurlbert,
 * IEEE Trans. Image Process. 24 (2015) 1460, table I: 3, 6, 13 and 22 of them.
 *
 * @param rgb linear, 0–1
 */
export function termsOf([r, g, b]: readonly number[], degree: Degree): number[] {
  const [R, G, B] = [r!, g!, b!].map((v) => Math.max(0, v)) as [number, number, number];
  const root = (n: number, r1: number, g1: number, b1: number) => (R ** r1 * G ** g1 * B ** b1) ** (1 / n);
  const terms = [R, G, B];
  if (degree >= 2) terms.push(root(2, 1, 1, 0), root(2, 0, 1, 1), root(2, 1, 0, 1));
  if (degree >= 3)
    terms.push(
      ...(
        [
          [1, 2, 0],
          [0, 1, 2],
          [1, 0, 2],
          [2, 1, 0],
          [0, 2, 1],
          [2, 0, 1],
          [1, 1, 1],
        ] as const
      ).map(([x, y, z]) => root(3, x, y, z)),
    );
  if (degree >= 4)
    terms.push(
      ...(
        [
          [3, 1, 0],
          [3, 0, 1],
          [1, 3, 0],
          [0, 3, 1],
          [1, 0, 3],
          [0, 1, 3],
          [2, 1, 1],
          [1, 2, 1],
          [1, 1, 2],
        ] as const
      ).map(([x, y, z]) => root(4, x, y, z)),
    );
  return terms;
}

interface Sample {
  /** Linear, 0–1. */
  rgb: number[];
  xyz: number[];
  lab: Lab;
}

/** Least squares through normal equations, a little held towards nothing, which keeps like terms from playing against each other. */
function fitted(samples: readonly Sample[], degree: Degree): number[] {
  const n = termsOf([0, 0, 0], degree).length;
  const square = Array.from({ length: n }, () => new Float64Array(n + 3));
  for (const { rgb, xyz } of samples) {
    const terms = termsOf(rgb, degree);
    // an error counts by what it does to lightness, about
    const weight = 1 / (xyz[1]! + 0.02) ** (4 / 3);
    for (let i = 0; i < n; i++) {
      for (let j = 0; j < n; j++) square[i]![j]! += weight * terms[i]! * terms[j]!;
      for (let c = 0; c < 3; c++) square[i]![n + c]! += weight * terms[i]! * xyz[c]!;
    }
  }
  const ridge = 1e-7 * Math.max(...square.map((row, i) => row[i]!));
  for (let i = 0; i < n; i++) square[i]![i]! += ridge;
  for (let c = 0; c < n; c++) {
    let best = c;
    for (let r = c + 1; r < n; r++) if (Math.abs(square[r]![c]!) > Math.abs(square[best]![c]!)) best = r;
    [square[c], square[best]] = [square[best]!, square[c]!];
    for (let r = 0; r < n; r++) {
      if (r === c) continue;
      const factor = square[r]![c]! / square[c]![c]!;
      for (let k = c; k < n + 3; k++) square[r]![k]! -= factor * square[c]![k]!;
    }
  }
  return [0, 1, 2].flatMap((c) => square.map((row, i) => row[n + c]! / row[i]!));
}

const applied = (matrix: readonly number[], rgb: readonly number[], degree: Degree): Lab => {
  const terms = termsOf(rgb, degree);
  return xyz50ToLab(
    [0, 1, 2].map((c) => terms.reduce((sum, t, i) => sum + t * matrix[c * terms.length + i]!, 0)),
  );
};

const linearOf = (rgb: readonly number[], { curves }: PixelSpace): number[] =>
  rgb.map((v, c) => lookUp(curves[c]!, v));

/** What a pixel of the photograph was, Lab D50 and 2°, estimated. @param rgb 0–255 */
export const correctedLab = (
  rgb: readonly number[],
  space: PixelSpace = SRGB,
  { matrix, degree }: Correction,
): Lab => applied(matrix, linearOf(rgb, space), degree);

/** Parts that the samples are divided in for validation; each is predicted by the rest. */
const FOLDS = 12;

/** ΔE00 of each sample as predicted by a fit that has not seen it. */
function unseenErrors(samples: readonly Sample[], degree: Degree): number[] {
  const folds = Math.min(FOLDS, samples.length);
  const errors: number[] = new Array(samples.length);
  for (let fold = 0; fold < folds; fold++) {
    const matrix = fitted(
      samples.filter((_, i) => i % folds !== fold),
      degree,
    );
    samples.forEach(({ rgb, lab }, i) => {
      if (i % folds === fold) errors[i] = deltaE00(lab, applied(matrix, rgb, degree));
    });
  }
  return errors;
}

const meanOf = (values: readonly number[]) => values.reduce((a, b) => a + b, 0) / values.length;
const percentile = (values: readonly number[], part: number) =>
  values.toSorted((a, b) => a - b)[Math.min(values.length - 1, Math.ceil(part * values.length) - 1)]!;

/** Fewer patches say nothing of a camera. */
const MIN_PATCHES = 8;
/** Patches that each term of a fit needs. */
const PATCHES_PER_TERM = 1.6;
/** Levels of 255 at which a camera has no more to say. */
const [DARKEST, BRIGHTEST] = [2, 253];
/** Patches so much further off than most lie in a shadow or a glare: in a share of that, and at least so far, ΔE00. */
const OFF = { times: 5, least: 8 };

/**
 * The correction of a photograph from patches whose values are known. The degree is the one that predicts patches best which it has
 * not seen; so are the errors.
 *
 * @param known Lab D50 of each patch; null for one that is not to be used
 * @throws FormatError when too few patches are left
 */
export function correctionFrom(
  read: readonly (readonly number[] | null)[],
  known: readonly (Lab | null)[],
  space: PixelSpace,
  reference: string,
): Correction {
  const all = read.map((rgb, i): { rgb: readonly number[]; lab: Lab } | null => {
    const lab = known[i];
    return rgb && lab ? { rgb, lab } : null;
  });
  const usable = all.filter((s) => s !== null);
  const sound = usable.filter(({ rgb }) => rgb.every((v) => v > DARKEST && v < BRIGHTEST));
  const samples = sound.map(
    ({ rgb, lab }): Sample => ({ rgb: linearOf(rgb, space), xyz: labToXyz50(lab), lab }),
  );
  const enough = (n: number) => {
    if (n < MIN_PATCHES)
      throw new FormatError(
        `only ${plural(n, 'patch', 'patches')} of the chart can be used, and ${MIN_PATCHES} are needed. Photograph it larger and less bright, or choose its right file.`,
      );
  };
  enough(samples.length);
  const best = (list: readonly Sample[]) =>
    DEGREES.filter((d) => d === 1 || list.length >= PATCHES_PER_TERM * termsOf([0, 0, 0], d).length)
      .map((degree) => ({ degree, errors: unseenErrors(list, degree) }))
      .reduce((a, b) => (meanOf(b.errors) < meanOf(a.errors) ? b : a));
  let { degree, errors } = best(samples);
  const limit = Math.max(OFF.least, OFF.times * percentile(errors, 0.5));
  const lit = samples.filter((_, i) => errors[i]! <= limit);
  // what is in a shadow has bent the fit of the others
  if (lit.length < samples.length) {
    enough(lit.length);
    ({ degree, errors } = best(lit));
  }
  return {
    reference,
    degree,
    matrix: fitted(lit, degree),
    mean: meanOf(errors),
    p95: percentile(errors, 0.95),
    max: Math.max(...errors),
    patches: lit.length,
    clipped: usable.length - sound.length,
    shadowed: samples.length - lit.length,
  };
}

/** The eight ways a chart may lie against its list: as it is, turned, and by columns. */
function arrangements(rows: number, columns: number): ((row: number, column: number) => number)[] {
  const byRows = [
    (r: number, c: number) => r * columns + c,
    (r: number, c: number) => (rows - 1 - r) * columns + (columns - 1 - c),
    (r: number, c: number) => r * columns + (columns - 1 - c),
    (r: number, c: number) => (rows - 1 - r) * columns + c,
  ];
  const byColumns = [
    (r: number, c: number) => c * rows + r,
    (r: number, c: number) => (columns - 1 - c) * rows + (rows - 1 - r),
    (r: number, c: number) => c * rows + (rows - 1 - r),
    (r: number, c: number) => (columns - 1 - c) * rows + r,
  ];
  return [...byRows, ...byColumns];
}

/** How far off a correction is on a second chart, ΔE00. */
export interface Verified {
  reference: string;
  patches: number;
  mean: number;
  p95: number;
  max: number;
}

/**
 * Holds a correction against another chart in the same picture, which had no part in it.
 *
 * @throws FormatError when the chart has another number of patches
 */
export function verifyCorrection(
  picture: Picture,
  correction: Correction,
  known: readonly Lab[],
  reference: string,
  grid: ChartGrid,
): Verified {
  const { chips } = readLitChart(picture, grid);
  if (chips.length !== known.length)
    throw new FormatError(
      `the grid has ${plural(chips.length, 'patch', 'patches')}, and ${reference} has ${known.length}. Lay the grid over the second chart first.`,
    );
  const errorsOf = (place: (row: number, column: number) => number) =>
    chips.flatMap(({ row, column, color }) => {
      const lab = known[place(row, column)];
      return color && lab ? [deltaE00(lab, correctedLab(color.rgb, picture.space, correction))] : [];
    });
  const errors = arrangements(grid.rows, grid.columns)
    .map(errorsOf)
    .reduce((a, b) => (meanOf(b) < meanOf(a) ? b : a));
  return {
    reference,
    patches: errors.length,
    mean: meanOf(errors),
    p95: percentile(errors, 0.95),
    max: Math.max(...errors),
  };
}

/** A correction that is further off than this on average is of another chart, ΔE00. */
const MAX_MEAN = 10;

/**
 * Finds the chart in a photograph, unless its grid is given, and the correction that brings it to its known values. The chart may lie
 * turned, and its values may be listed by rows or by columns: the way that fits best counts.
 *
 * @throws FormatError that says what does not fit and what to do
 */
export function correctionOf(
  picture: Picture,
  known: readonly Lab[],
  reference: string,
  given: ChartGrid | null = null,
): { correction: Correction; grid: ChartGrid; darkest: number | null } {
  const grid = given ?? findChart(picture);
  if (!grid)
    throw new FormatError(
      'no chart was found in the picture. Choose Chart, lay a grid over it, and try again.',
    );
  const { chips, darkest } = readLitChart(picture, grid);
  if (chips.length !== known.length)
    throw new FormatError(
      `the chart in the picture has ${plural(chips.length, 'patch', 'patches')}, and ${reference} has ${known.length}. Correct its rows and columns under Chart, or choose its right file.`,
    );
  const read = chips.map((c) => c.color?.rgb ?? null);
  const space = picture.space ?? SRGB;
  const found = arrangements(grid.rows, grid.columns).flatMap((place) => {
    const labs = chips.map((chip: Chip) => known[place(chip.row, chip.column)] ?? null);
    try {
      return [correctionFrom(read, labs, space, reference)];
    } catch (error) {
      if (error instanceof FormatError && grid.empty === 0) throw error;
      return [];
    }
  });
  // all patches count, so that a way that fits few of them does not win
  const rank = (c: Correction) => c.mean + c.shadowed;
  const best = found.reduce<Correction | null>((a, b) => (a && rank(a) <= rank(b) ? a : b), null);
  if (!best || best.mean > MAX_MEAN)
    throw new FormatError(
      `the chart in the picture does not look like ${reference}: its patches are ΔE00 ${best ? best.mean.toFixed(0) : 'far'} off on average. Is it another chart, or in another order?`,
    );
  return { correction: best, grid, darkest };
}
