import { deltaE00, fromRgb8, type Lab, toLab } from '../color/index.ts';
import type { Histogram } from './histogram.ts';

/** The mean CIEDE2000 of a picture's colours to their nearest in the palette (sRGB 0–255). */
export function meanDeltaE00(histogram: Histogram, palette: readonly (readonly number[])[]): number {
  if (palette.length === 0 || histogram.total === 0) return 0;
  const labs = palette.map(([r, g, b]) => toLab(fromRgb8(r, g, b)));
  let sum = 0;
  for (let i = 0; i < histogram.size; i++) {
    const lab: Lab = toLab(
      fromRgb8(histogram.rgb[3 * i], histogram.rgb[3 * i + 1], histogram.rgb[3 * i + 2]),
    );
    let best = Number.POSITIVE_INFINITY;
    for (const other of labs) {
      // lightness alone bounds the difference from below: its weight is at most 1.75
      if (Math.abs(lab[0] - other[0]) / 1.75 >= best) continue;
      best = Math.min(best, deltaE00(lab, other));
    }
    sum += best * histogram.count[i];
  }
  return sum / histogram.total;
}
