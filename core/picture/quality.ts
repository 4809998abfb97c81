import { type Color, type Lab, NearIndex, screenOnly, toLab } from '../color/index.ts';
import type { Histogram } from './histogram.ts';
import { colorOfPixel } from './space.ts';

/** How well a palette stands for a picture. */
export interface Fit {
  /** CIEDE2000 of the picture's colours to their nearest in the palette, by pixels: the mean, and what 95 % stay under. */
  mean: number;
  p95: number;
  word: FitWord;
  /** Lightness of picture and palette, in steps of L* 5 from 0 to 100. */
  lightness: Distribution;
  /** Chroma of picture and palette, in steps of C* 5 from 0 to 130 and more. */
  chroma: Distribution;
}

export type FitWord = 'close' | 'simplified' | 'poster';

export interface Distribution {
  step: number;
  /** Part of the pixels in each step, 0–1. */
  picture: number[];
  /** The same of the picture drawn with the palette. */
  palette: number[];
}

const STEP = 5;
const LIGHTNESS_STEPS = 20;
const CHROMA_STEPS = 26;

/** Below 2.5 it takes a second look to tell the two apart; from 6 on the picture is flat areas. Common practice, no source. */
export const fitWord = (mean: number): FitWord => (mean < 2.5 ? 'close' : mean < 6 ? 'simplified' : 'poster');

/** The picture's colours in CIE Lab; kept with a histogram, as many palettes are held against one picture. */
const known = new WeakMap<Histogram, Lab[]>();

function labsOf(histogram: Histogram): Lab[] {
  let labs = known.get(histogram);
  if (!labs) {
    labs = Array.from({ length: histogram.size }, (_, i) =>
      toLab(colorOfPixel(histogram.rgb.subarray(3 * i, 3 * i + 3), histogram.space), screenOnly),
    );
    known.set(histogram, labs);
  }
  return labs;
}

/** For each colour of the picture, the nearest of the palette by CIEDE2000, and how far it is. */
function nearest(histogram: Histogram, palette: Lab[]) {
  const labs = labsOf(histogram);
  const to = new Uint16Array(labs.length);
  const far = new Float64Array(labs.length);
  const index = new NearIndex(palette);
  labs.forEach((lab, i) => {
    const { place, difference } = index.closest(lab)!;
    to[i] = place;
    far[i] = difference;
  });
  return { labs, to, far };
}

/** The mean CIEDE2000 of a picture's colours to their nearest in the palette; 0 without either. */
export function meanDeltaE00(histogram: Histogram, palette: readonly Color[]): number {
  if (palette.length === 0 || histogram.total === 0) return 0;
  const { far } = nearest(
    histogram,
    palette.map((color) => toLab(color, screenOnly)),
  );
  return far.reduce((sum, d, i) => sum + d * histogram.count[i], 0) / histogram.total;
}

/** How well a palette stands for a picture, and what it misses; null without either. */
export function fitOf(histogram: Histogram, palette: readonly Color[]): Fit | null {
  if (palette.length === 0 || histogram.total === 0) return null;
  const own = palette.map((color) => toLab(color, screenOnly));
  const { labs, to, far } = nearest(histogram, own);
  const part = (i: number) => histogram.count[i] / histogram.total;
  const mean = far.reduce((sum, d, i) => sum + d * part(i), 0);
  const byDistance = Array.from(far.keys()).sort((a, b) => far[a] - far[b]);
  let covered = 0;
  const at = byDistance.find((i) => {
    covered += part(i);
    return covered >= 0.95 - 1e-9;
  });
  const distribution = (steps: number, measure: (lab: Lab) => number): Distribution => {
    const picture = new Array<number>(steps).fill(0);
    const drawn = new Array<number>(steps).fill(0);
    const bin = (lab: Lab) => Math.min(steps - 1, Math.max(0, Math.floor(measure(lab) / STEP)));
    labs.forEach((lab, i) => {
      picture[bin(lab)] += part(i);
      drawn[bin(own[to[i]])] += part(i);
    });
    return { step: STEP, picture, palette: drawn };
  };
  return {
    mean,
    p95: at === undefined ? 0 : far[at],
    word: fitWord(mean),
    lightness: distribution(LIGHTNESS_STEPS, ([L]) => L),
    chroma: distribution(CHROMA_STEPS, ([, a, b]) => Math.hypot(a, b)),
  };
}
