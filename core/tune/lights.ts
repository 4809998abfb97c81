import { labToOklab, labToXyz50, oklabToLab, xyz50ToLab } from '../color/index.ts';

type Triple = [number, number, number];

/**
 * White points of the 2° observer, X and Z with Y = 100: ASTM E308, as also printed in CIE 15. From memory, and held against
 * colorjs.io where that has them (`tune.test.ts`).
 */
export const LIGHTS = {
  D50: [96.422, 82.521],
  D55: [95.682, 92.149],
  D65: [95.047, 108.883],
  D75: [94.972, 122.638],
  A: [109.85, 35.585],
  C: [98.074, 118.232],
  E: [100, 100],
  F2: [99.186, 67.393],
  F7: [95.041, 108.747],
  F11: [100.962, 64.35],
} as const satisfies Record<string, readonly [X: number, Z: number]>;
export type Light = keyof typeof LIGHTS;
export const LIGHT_NAMES = Object.keys(LIGHTS) as Light[];

/** The cone responses that adaptation scales: Bradford's (ICC.1, annex E), and CAT16's (Li et al. 2017, Color Res. Appl. 42). */
export const CONES = {
  bradford: [
    [0.8951, 0.2664, -0.1614],
    [-0.7502, 1.7135, 0.0367],
    [0.0389, -0.0685, 1.0296],
  ],
  cat16: [
    [0.401288, 0.650173, -0.051461],
    [-0.250268, 1.204414, 0.045854],
    [-0.002079, 0.048952, 0.953127],
  ],
} as const;
export type Cones = keyof typeof CONES;

type Matrix = readonly (readonly number[])[];
const times = (m: Matrix, v: readonly number[]) =>
  m.map((row) => row[0]! * v[0]! + row[1]! * v[1]! + row[2]! * v[2]!) as Triple;

function inverse(m: Matrix): Matrix {
  const at = (r: number, c: number) => m[r % 3]![c % 3]!;
  const minor = (r: number, c: number) =>
    at(r + 1, c + 1) * at(r + 2, c + 2) - at(r + 1, c + 2) * at(r + 2, c + 1);
  const determinant = at(0, 0) * minor(0, 0) + at(0, 1) * minor(0, 1) + at(0, 2) * minor(0, 2);
  return [0, 1, 2].map((r) => [0, 1, 2].map((c) => minor(c, r) / determinant));
}
const BACK: Record<Cones, Matrix> = { bradford: inverse(CONES.bradford), cat16: inverse(CONES.cat16) };

/** XYZ of one light's white and what it is adapted to another's, completely; any scale. */
export function adapt(
  xyz: readonly number[],
  from: readonly number[],
  to: readonly number[],
  cones: Cones,
): Triple {
  const [a, b] = [times(CONES[cones], from), times(CONES[cones], to)];
  return times(
    BACK[cones],
    times(CONES[cones], xyz).map((v, i) => (v * b[i]!) / a[i]!),
  );
}

const whiteOf = (light: Light): Triple => [LIGHTS[light][0] / 100, 1, LIGHTS[light][1] / 100];

/**
 * How colors are seen when another light falls on them and the eye stays with the first: OKLab to OKLab. What is neutral takes the
 * colour of the new light.
 */
export function relighter(from: Light, to: Light, cones: Cones): (oklab: readonly number[]) => Triple {
  const [a, b] = [whiteOf(from), whiteOf(to)];
  // one matrix for all: what becomes of each axis
  const axes = [0, 1, 2].map((i) =>
    adapt(
      [0, 1, 2].map((k) => (k === i ? 1 : 0)),
      a,
      b,
      cones,
    ),
  );
  const whole = [0, 1, 2].map((row) => axes.map((axis) => axis[row]!));
  // adaptation scales the cones, so that the white XYZ is given for makes no difference
  return (oklab) => labToOklab(xyz50ToLab(times(whole, labToXyz50(oklabToLab(oklab)))));
}
