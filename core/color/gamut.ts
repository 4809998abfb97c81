import { type CuloriColor, converter } from './culori.ts';

/** An RGB space with its way to and from culori. */
export interface RgbSpace {
  toCulori(components: number[]): CuloriColor;
  fromCulori(color: CuloriColor): number[];
}

const toOklab = converter('oklab');

/** CSS Color 4, 13.2.3: the just noticeable difference in OKLab, and how close the search comes. */
const NOTICEABLE = 0.02;
const CLOSE = 0.0001;

/** Rounding of the conversions themselves. */
const NOISE = 1e-7;
export const isInside = (rgb: number[], room = NOISE) => rgb.every((v) => v >= -room && v <= 1 + room);
const clip = (rgb: number[]) => rgb.map((v) => Math.min(1, Math.max(0, v)));

/**
 * The colour inside an RGB gamut: as it is when it lies there, else at the same OKLCh lightness and hue with as much chroma as
 * there is room for, and at most one just noticeable difference clipped.
 *
 * Source: CSS Color 4, 13.2 “CSS Gamut Mapping to an RGB Destination”, the binary search with local clipping.
 * @returns components 0–1
 */
export function intoGamut(color: CuloriColor, space: RgbSpace): number[] {
  const plain = space.fromCulori(color);
  if (isInside(plain)) return clip(plain);
  const origin = toOklab(color);
  const { l } = origin;
  if (l >= 1) return [1, 1, 1];
  if (l <= 0) return [0, 0, 0];
  const chroma = Math.hypot(origin.a, origin.b);
  const at = (c: number) => ({
    mode: 'oklab' as const,
    l,
    a: (origin.a * c) / (chroma || 1),
    b: (origin.b * c) / (chroma || 1),
  });
  const off = (here: { l: number; a: number; b: number }, clipped: number[]) => {
    const there = toOklab(space.toCulori(clipped));
    return Math.hypot(here.l - there.l, here.a - there.a, here.b - there.b);
  };
  let clipped = clip(plain);
  if (off(at(chroma), clipped) < NOTICEABLE) return clipped;
  let [low, high, inside] = [0, chroma, true];
  while (high - low > CLOSE) {
    const middle = (low + high) / 2;
    const here = at(middle);
    const rgb = space.fromCulori(here);
    if (inside && isInside(rgb)) {
      low = middle;
      continue;
    }
    clipped = clip(rgb);
    const difference = off(here, clipped);
    if (difference >= NOTICEABLE) high = middle;
    else if (NOTICEABLE - difference < CLOSE) return clipped;
    else {
      inside = false;
      low = middle;
    }
  }
  return clipped;
}
