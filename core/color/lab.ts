import type { Lab } from './model.ts';

type Triple = [number, number, number];

/** The D50 white point as XYZ, from its chromaticity x 0.3457, y 0.3585 (CSS Color 4, ICC.1). */
const WHITE: Triple = [0.3457 / 0.3585, 1, (1 - 0.3457 - 0.3585) / 0.3585];
/** CIE 15: (6/29)³ and (29/3)³, as exact fractions. */
const EPSILON = 216 / 24389;
const KAPPA = 24389 / 27;

/** Bradford adaptation between D65 (0.3127, 0.3290) and D50; CSS Color 4, section 12. */
const TO_D50 = [
  [1.0479297925449969, 0.022946870601609652, -0.05019226628920524],
  [0.02962780877005599, 0.9904344267538799, -0.017073799063418826],
  [-0.009243040646204504, 0.015055191490298152, 0.7518742814281371],
];
const TO_D65 = [
  [0.955473421488075, -0.02309845494876471, 0.06325924320057072],
  [-0.0283697093338637, 1.0099953980813041, 0.021041441191917323],
  [0.012314014864481998, -0.020507649298898964, 1.330365926242124],
];

const times = (m: number[][], v: number[]) =>
  m.map((row) => row[0] * v[0] + row[1] * v[1] + row[2] * v[2]) as Triple;

/** XYZ for D50 (Y of white is 1) to CIE Lab. */
export function xyz50ToLab(xyz: number[]): Lab {
  const [fx, fy, fz] = xyz.map((v, i) => {
    const t = v / WHITE[i];
    return t > EPSILON ? Math.cbrt(t) : (KAPPA * t + 16) / 116;
  });
  return [116 * fy - 16, 500 * (fx - fy), 200 * (fy - fz)];
}

/** CIE Lab to XYZ, both for D50; Y of white is 1. */
export function labToXyz50([L, a, b]: number[]): Triple {
  const fy = (L + 16) / 116;
  const f = [fy + a / 500, fy, fy - b / 200];
  return f.map((t, i) => (t > 24 / 116 ? t ** 3 : (116 * t - 16) / KAPPA) * WHITE[i]) as Triple;
}

/** XYZ for D65 (Y of white is 1) to CIE Lab for D50. Our own, as culori's adaptation is rounded to 1e-7. */
export const xyz65ToLab = (xyz: Triple): Lab => xyz50ToLab(times(TO_D50, xyz));

/** CIE Lab for D50 to XYZ for D65. */
export const labToXyz65 = (lab: number[]): Triple => times(TO_D65, labToXyz50(lab));
