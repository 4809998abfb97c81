import { OPAQUE, type Picture } from './histogram.ts';
import { lookBack, SRGB } from './space.ts';

/** Widths of the square that a point takes its mean from, in pixels. */
export const SAMPLE_SIZES = [1, 3, 5, 11] as const;
export type SampleSize = (typeof SAMPLE_SIZES)[number];

/**
 * The colour at a point: one pixel, or the mean of the square round it, taken in linear light as a lens
 * would. Pixels outside the picture and transparent ones do not count.
 * @returns a pixel value, whole numbers 0–255; null when there is nothing opaque
 */
export function sample(
  picture: Picture,
  x: number,
  y: number,
  size: SampleSize,
): [number, number, number] | null {
  const { curves } = picture.space ?? SRGB;
  const reach = (size - 1) / 2;
  const sum = [0, 0, 0];
  let n = 0;
  let only = 0;
  for (let py = Math.max(0, y - reach); py <= Math.min(picture.height - 1, y + reach); py++)
    for (let px = Math.max(0, x - reach); px <= Math.min(picture.width - 1, x + reach); px++) {
      const at = 4 * (py * picture.width + px);
      if (picture.data[at + 3] < OPAQUE) continue;
      for (let c = 0; c < 3; c++) sum[c] += curves[c][picture.data[at + c]];
      only = at;
      n++;
    }
  if (n === 0) return null;
  if (n === 1) return [picture.data[only], picture.data[only + 1], picture.data[only + 2]];
  return sum.map((s, c) => Math.round(lookBack(curves[c], s / n))) as [number, number, number];
}
