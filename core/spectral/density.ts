import type { Curve } from './lab.ts';

export const STATUSES = ['E', 'T'] as const;
/** Which inks a density is meant for: E for printing in Europe, T for printing in North America. */
export type Status = (typeof STATUSES)[number];

export const FILTERS = ['red', 'green', 'blue', 'visual'] as const;
export type Filter = (typeof FILTERS)[number];

const STEP_NM = 10;

/**
 * Spectral products as logarithms, 5 at their peak: lamp, filter and receiver together, every 10 nm from the first wavelength that
 * lets anything through. Source: ISO 5-3, tables of status E, T and visual density, as Argyll CMS 2.3.1 carries them.
 */
const RED = {
  first: 560,
  values: [
    0.5, 1.778, 2.653, 4.477, 5, 4.929, 4.74, 4.398, 4, 3.699, 3.176, 2.699, 2.477, 2.176, 1.699, 1, 0.5,
  ],
};
const GREEN = {
  first: 470,
  values: [
    0.5, 3, 3.699, 4.447, 4.833, 4.964, 5, 4.944, 4.82, 4.623, 4.342, 3.954, 3.398, 2.845, 1.954, 1, 0.5,
  ],
};
const VISUAL = {
  first: 400,
  values: [
    0.5, 1.332, 1.914, 2.447, 2.881, 3.09, 3.346, 3.582, 3.818, 4.041, 4.276, 4.513, 4.702, 4.825, 4.905,
    4.957, 4.989, 5, 4.989, 4.956, 4.902, 4.827, 4.731, 4.593, 4.433, 4.238, 4.013, 3.749, 3.49, 3.188, 2.901,
    2.622, 2.334, 2.041, 1.732, 1.431, 1.146, 0.5,
  ],
};
const PRODUCTS: Record<Status, Record<Filter, { first: number; values: number[] }>> = {
  E: {
    red: RED,
    green: GREEN,
    blue: {
      first: 370,
      values: [
        1, 2.431, 3.431, 4.114, 4.477, 4.778, 4.914, 5, 4.959, 4.881, 4.672, 4.255, 3.778, 2.903, 1.699, 1,
      ],
    },
    visual: VISUAL,
  },
  T: {
    red: RED,
    green: GREEN,
    blue: {
      first: 340,
      values: [
        0.5, 1, 1.301, 2, 2.477, 3.176, 3.778, 4.23, 4.602, 4.778, 4.914, 4.973, 5, 4.987, 4.929, 4.813,
        4.602, 4.255, 3.699, 2.301, 1.602, 0.5,
      ],
    },
    visual: VISUAL,
  },
};

/** Density is computed from at least this reflectance: the logarithm of 0 is not finite. */
const MIN_REFLECTANCE = 1e-4;

/** Optical density of a reflectance factor, 0–4. Source: ISO 5-4, D = −lg R. */
export const densityOf = (reflectance: number): number => -Math.log10(Math.max(MIN_REFLECTANCE, reflectance));

/** The curve's value at a wavelength, on a straight line between two bands; the end values beyond the ends. */
function at({ start, step, values }: Curve, nm: number): number {
  const place = Math.min(values.length - 1, Math.max(0, (nm - start) / step));
  const i = Math.min(values.length - 2, Math.floor(place));
  return values[i]! + (place - i) * (values[i + 1]! - values[i]!);
}

/** Status density of measured reflectance through a filter. Source: ISO 5-3, 10 nm intervals. */
export function statusDensity(curve: Curve, status: Status, filter: Filter): number {
  const { first, values } = PRODUCTS[status][filter];
  let [sum, whole] = [0, 0];
  values.forEach((log, i) => {
    const weight = 10 ** log;
    sum += weight * at(curve, first + i * STEP_NM);
    whole += weight;
  });
  return densityOf(sum / whole);
}

/** The densest of the three colour filters, which is the one an ink is controlled by. */
export function mainDensity(curve: Curve, status: Status): { filter: Filter; value: number } {
  return FILTERS.slice(0, 3)
    .map((filter) => ({ filter, value: statusDensity(curve, status, filter) }))
    .reduce((a, b) => (b.value > a.value ? b : a));
}
