import { xyz50ToLab } from '../color/lab.ts';
import type { Lab } from '../color/model.ts';

/** A sampled curve: wavelength of the first value and step in nm, values as reflectance factors (1 is white). */
export interface Curve {
  start: number;
  step: number;
  values: number[];
}

/** The wavelengths that reflectance is computed at: 380–730 nm, every 10. */
export const GRID = { start: 380, step: 10, count: 36 } as const;

/**
 * What each 10 nm of reflectance adds to X, Y and Z: CIE illuminant D50 times the CIE 1931 2° observer, scaled so
 * that the sum of Y is 1. Derived with Argyll CMS 2.3.1 (`spec2cie -i D50 -o 1931_2`), one narrow band at a time.
 */
const WEIGHTS: [number, number, number][] = [
  [0.000031, 0.000001, 0.000145],
  [0.000137, 0.000004, 0.000645],
  [0.000589, 0.000016, 0.002789],
  [0.002335, 0.000062, 0.011114],
  [0.007747, 0.000228, 0.037217],
  [0.016186, 0.000664, 0.079013],
  [0.024512, 0.001623, 0.123005],
  [0.027719, 0.003127, 0.146185],
  [0.024983, 0.00514, 0.143378],
  [0.017179, 0.007984, 0.113036],
  [0.008601, 0.012384, 0.073017],
  [0.002831, 0.01841, 0.041318],
  [0.000399, 0.029472, 0.024656],
  [0.000883, 0.046324, 0.014465],
  [0.005936, 0.065908, 0.00737],
  [0.015889, 0.083015, 0.004006],
  [0.028002, 0.091992, 0.001965],
  [0.042042, 0.096452, 0.000847],
  [0.056573, 0.094718, 0.000368],
  [0.071351, 0.089056, 0.000197],
  [0.085332, 0.081052, 0.000149],
  [0.092691, 0.068388, 0.000104],
  [0.098333, 0.058367, 0.000073],
  [0.094644, 0.047512, 0.000035],
  [0.080062, 0.035718, 0.000016],
  [0.059319, 0.024457, 0.000005],
  [0.041684, 0.016282, 0.000002],
  [0.026113, 0.009851, 0.0],
  [0.015414, 0.0057, 0.0],
  [0.008537, 0.003124, 0.0],
  [0.004332, 0.001574, 0.0],
  [0.001944, 0.000703, 0.0],
  [0.000976, 0.000352, 0.0],
  [0.000474, 0.000171, 0.0],
  [0.000264, 0.000095, 0.0],
  [0.000199, 0.000072, 0.0],
];

/** The curve's value at a wavelength: straight lines between samples, the end values beyond the ends. */
function at({ start, step, values }: Curve, wavelength: number): number {
  const place = Math.min(values.length - 1, Math.max(0, (wavelength - start) / step));
  const i = Math.min(values.length - 2, Math.floor(place));
  if (i < 0) return values[0];
  return values[i] + (place - i) * (values[i + 1] - values[i]);
}

/** CIE Lab, D50 and 2°, of a measured reflectance curve (weights as in ASTM E308, at 10 nm). */
export function spectrumToLab(curve: Curve): Lab {
  const xyz = [0, 0, 0];
  const white = [0, 0, 0];
  WEIGHTS.forEach((weights, i) => {
    const reflectance = at(curve, GRID.start + GRID.step * i);
    weights.forEach((w, c) => {
      xyz[c] += w * reflectance;
      white[c] += w;
    });
  });
  // scaled so that a perfect white is Lab 100 0 0 whatever the table's last digits
  const scale = [0.3457 / 0.3585, 1, (1 - 0.3457 - 0.3585) / 0.3585];
  return xyz50ToLab(xyz.map((v, c) => (v / white[c]) * scale[c]));
}
