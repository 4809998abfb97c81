import type { Lab, White } from './model.ts';

export type Triple = [number, number, number];

/** The D50 white point as XYZ, from its chromaticity x 0.3457, y 0.3585 (CSS Color 4, ICC.1). */
const D50: Triple = [0.3457 / 0.3585, 1, (1 - 0.3457 - 0.3585) / 0.3585];
/** CIE 15: (6/29)³ and (29/3)³, as exact fractions. */
const EPSILON = 216 / 24389;
const KAPPA = 24389 / 27;

/**
 * White points, X and Z with Y = 100, by illuminant and observer: ASTM E308, tables of 10 nm, as also printed in CIE 15.
 * Typed from memory, and checked to one unit of the last place where a second source is at hand (`lab.test.ts`).
 */
const WHITE_XZ: Record<White, [X: number, Z: number]> = {
  'D50/10': [96.72, 81.427],
  'D55/2': [95.682, 92.149],
  'D55/10': [95.799, 90.926],
  'D65/2': [95.047, 108.883],
  'D65/10': [94.811, 107.304],
  'D75/2': [94.972, 122.638],
  'D75/10': [94.416, 120.641],
  'A/2': [109.85, 35.585],
  'A/10': [111.144, 35.2],
  'C/2': [98.074, 118.232],
  'C/10': [97.285, 116.145],
  'E/2': [100, 100],
  'F2/2': [99.186, 67.393],
  'F2/10': [103.279, 69.027],
  'F7/2': [95.041, 108.747],
  'F7/10': [95.792, 107.686],
  'F11/2': [100.962, 64.35],
  'F11/10': [103.863, 65.607],
};

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
/** Bradford's sharpened cone responses (ICC.1, annex E), and the way back. */
const CONES = [
  [0.8951, 0.2664, -0.1614],
  [-0.7502, 1.7135, 0.0367],
  [0.0389, -0.0685, 1.0296],
];
const FROM_CONES = [
  [0.9869929054667123, -0.14705425642099013, 0.15996265166373125],
  [0.43230526972339456, 0.5183602715367776, 0.0492912282128556],
  [-0.008528664575177328, 0.04004282165408487, 0.9684866957875502],
];

const times = (m: number[][], v: number[]) =>
  m.map((row) => row[0]! * v[0]! + row[1]! * v[1]! + row[2]! * v[2]!) as Triple;

function toLab(xyz: number[], white: Triple): Lab {
  const [fx, fy, fz] = xyz.map((v, i) => {
    const t = v / white[i]!;
    return t > EPSILON ? Math.cbrt(t) : (KAPPA * t + 16) / 116;
  }) as Triple;
  return [116 * fy - 16, 500 * (fx - fy), 200 * (fy - fz)];
}

function toXyz([L, a, b]: number[], white: Triple): Triple {
  const fy = (L! + 16) / 116;
  const f = [fy + a! / 500, fy, fy - b! / 200];
  return f.map((t, i) => (t > 24 / 116 ? t ** 3 : (116 * t - 16) / KAPPA) * white[i]!) as Triple;
}

/** XYZ for D50 (Y of white is 1) to CIE Lab. */
export const xyz50ToLab = (xyz: number[]): Lab => toLab(xyz, D50);

/** XYZ (Y of white is 1) of chromaticities x, y and luminance Y on 0–100 (CIE 15:2018, 7.3). */
export const xyYToXyz = ([x, y, Y]: readonly number[]): Triple =>
  y ? [(x! * Y!) / 100 / y, Y! / 100, ((1 - x! - y) * Y!) / 100 / y] : [0, 0, 0];

/** CIE Lab to XYZ, both for D50; Y of white is 1. */
export const labToXyz50 = (lab: number[]): Triple => toXyz(lab, D50);

/** XYZ for D65 (Y of white is 1) to CIE Lab for D50. Our own, as culori's adaptation is rounded to 1e-7. */
export const xyz65ToLab = (xyz: Triple): Lab => xyz50ToLab(times(TO_D50, xyz));

/** CIE Lab for D50 to XYZ for D65. */
export const labToXyz65 = (lab: number[]): Triple => times(TO_D65, labToXyz50(lab));

/** CIE XYZ (Y of white is 1) and Lab of another white, adapted to D50 by Bradford's way. */
export const adaptedXyz = (xyz: number[], white: White): Triple => {
  const [X, Z] = WHITE_XZ[white];
  const [from, to] = [times(CONES, [X / 100, 1, Z / 100]), times(CONES, D50)];
  return times(
    FROM_CONES,
    times(CONES, xyz).map((v, i) => (v * to[i]!) / from[i]!),
  );
};
export const adaptedLab = (lab: number[], white: White): Lab => {
  const [X, Z] = WHITE_XZ[white];
  return xyz50ToLab(adaptedXyz(toXyz(lab, [X / 100, 1, Z / 100]), white));
};

/** L*, C* and hue in degrees 0–360 of a Lab; the hue of a grey is 0. */
export function labToLch([L, a, b]: number[]): Triple {
  const chroma = Math.hypot(a!, b!);
  return [L!, chroma, chroma < 1e-9 ? 0 : ((Math.atan2(b!, a!) * 180) / Math.PI + 360) % 360];
}

export function lchToLab([L, chroma, hue]: number[]): Lab {
  const angle = (hue! * Math.PI) / 180;
  return [L!, chroma! * Math.cos(angle), chroma! * Math.sin(angle)];
}

/**
 * What a file states of its Lab: nothing for D50 with 2°, which Lab is for anyway; null for what is not known here.
 * @param observer degrees, or words with them in it
 */
export function whiteNamed(illuminant: string, observer: string): White | undefined | null {
  const light = /^(?:illuminant[\s_,:-]*)?([ACE]|D\d\d|F\d+)(?:00)?$/i
    .exec(illuminant.trim())?.[1]
    ?.toUpperCase();
  const angle = /\b(10|2)\b|^(10|2)(?=[^\d])/.exec(observer.trim())?.[0];
  if (!light || !angle) return null;
  const named = `${light}/${angle}`;
  if (named === 'D50/2') return undefined;
  return named in WHITE_XZ ? (named as White) : null;
}
