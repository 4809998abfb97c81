import { labToXyz65, xyz65ToLab } from './lab.ts';
import type { Lab } from './model.ts';

/** OKLCh: lightness 0–1, chroma, hue in degrees. */
export type Oklch = [L: number, C: number, h: number];

type Triple = [number, number, number];

const RAD = Math.PI / 180;

/**
 * OKLab to linear sRGB, which lies outside 0–1 for what sRGB does not hold. For hot loops; elsewhere `convert` does it.
 *
 * Source: B. Ottosson, A perceptual color space for image processing (2020), with the matrices in the digits of CSS Color 4,
 * section 17.
 */
export function oklabToLinear(L: number, a: number, b: number): Triple {
  const l = L + 0.3963377773761749 * a + 0.2158037573099136 * b;
  const m = L - 0.1055613458156586 * a - 0.0638541728258133 * b;
  const s = L - 0.0894841775298119 * a - 1.2914855480194092 * b;
  const l3 = l * l * l;
  const m3 = m * m * m;
  const s3 = s * s * s;
  return [
    4.0767416360759583 * l3 - 3.3077115392580629 * m3 + 0.2309699031821043 * s3,
    -1.2684379732850315 * l3 + 2.6097573492876882 * m3 - 0.3413193760026573 * s3,
    -0.0041960761386756 * l3 - 0.7034186179359362 * m3 + 1.7076146940746117 * s3,
  ];
}

/** Linear sRGB to OKLab. */
export function linearToOklab([r, g, b]: readonly number[]): Triple {
  const l = Math.cbrt(0.4122214694707629 * r! + 0.5363325372617349 * g! + 0.0514459932675022 * b!);
  const m = Math.cbrt(0.2119034958178251 * r! + 0.6806995506452345 * g! + 0.1073969535369405 * b!);
  const s = Math.cbrt(0.0883024591900564 * r! + 0.2817188391361215 * g! + 0.6299787016738222 * b!);
  return [
    0.210454268309314 * l + 0.7936177747023054 * m - 0.0040720430116193 * s,
    1.9779985324311684 * l - 2.4285922420485799 * m + 0.450593709617411 * s,
    0.0259040424655478 * l + 0.7827717124575296 * m - 0.8086757549230774 * s,
  ];
}

/** The curve of sRGB and Display P3, beyond 0–1 mirrored (IEC 61966-2-1, CSS Color 4). */
export const encodeSrgb = (v: number): number => {
  const size = Math.abs(v);
  return Math.sign(v) * (size > 0.0031308 ? 1.055 * size ** (1 / 2.4) - 0.055 : 12.92 * size);
};
export const decodeSrgb = (v: number): number => {
  const size = Math.abs(v);
  return Math.sign(v) * (size > 0.04045 ? ((size + 0.055) / 1.055) ** 2.4 : size / 12.92);
};

/** Linear sRGB to linear Display P3 (CSS Color 4, both by way of XYZ). */
export const toLinearP3 = ([r, g, b]: readonly number[]): Triple => [
  0.8224619687143623 * r! + 0.1775380312856377 * g!,
  0.0331941988509616 * r! + 0.9668058011490384 * g!,
  0.0170826307211201 * r! + 0.0723974406639633 * g! + 0.9105199286149164 * b!,
];

export const oklchToOklab = ([L, C, h]: readonly number[]): Triple => [
  L!,
  C! * Math.cos(h! * RAD),
  C! * Math.sin(h! * RAD),
];

/** The hue of a grey is 0. */
export function oklabToOklch([L, a, b]: readonly number[]): Oklch {
  const chroma = Math.hypot(a!, b!);
  return [L!, chroma, chroma < 1e-6 ? 0 : (Math.atan2(b!, a!) / RAD + 360) % 360];
}

/** CIE Lab, D50, of a color in OKLab. */
export function oklabToLab([L, a, b]: readonly number[]): Lab {
  const [red, green, blue] = oklabToLinear(L!, a!, b!);
  return xyz65ToLab([
    0.4123907992659593 * red + 0.357584339383878 * green + 0.1804807884018343 * blue,
    0.2126390058715102 * red + 0.715168678767756 * green + 0.0721923153607337 * blue,
    0.0193308187155918 * red + 0.119194779794626 * green + 0.9505321522496607 * blue,
  ]);
}

/** OKLab of a color in CIE Lab, D50. */
export function labToOklab(lab: readonly number[]): Triple {
  const [x, y, z] = labToXyz65([...lab]);
  return linearToOklab([
    3.2409699419045226 * x - 1.537383177570094 * y - 0.4986107602930034 * z,
    -0.9692436362808796 * x + 1.8759675015077202 * y + 0.04155505740717559 * z,
    0.05563007969699366 * x - 0.20397695888897652 * y + 1.0569715142428786 * z,
  ]);
}

/** The relative luminance, 0–1 inside sRGB. */
export const linearLuminance = ([r, g, b]: readonly number[]): number =>
  0.2126390058715102 * r! + 0.715168678767756 * g! + 0.0721923153607337 * b!;
