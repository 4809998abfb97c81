import { lookBack, lookUp, multiply, type PixelSpace, SRGB } from './space.ts';

/**
 * The space the quantiser works in: DIN99o (DIN 6176), whose plain Euclidean distance follows CIEDE2000 far
 * better than CIE Lab or OKLab do. Three numbers to a colour.
 */
const ANGLE = (26 * Math.PI) / 180;
const COS = Math.cos(ANGLE);
const SIN = Math.sin(ANGLE);

/** Pixel values 0–255 (fractions allowed), three to a colour, to DIN99o. */
export function toPerceptual(pixels: ArrayLike<number>, space: PixelSpace = SRGB): Float64Array {
  const out = new Float64Array(pixels.length);
  const [red, green, blue] = space.curves;
  const m = space.toSrgb;
  for (let i = 0; i < pixels.length; i += 3) {
    const pr = lookUp(red, pixels[i]);
    const pg = lookUp(green, pixels[i + 1]);
    const pb = lookUp(blue, pixels[i + 2]);
    const r = m[0] * pr + m[1] * pg + m[2] * pb;
    const g = m[3] * pr + m[4] * pg + m[5] * pb;
    const b = m[6] * pr + m[7] * pg + m[8] * pb;
    // CIE XYZ relative to the D65 white, with the matrix of IEC 61966-2-1 in the digits of CSS Color 4
    const x = (0.4123907992659593 * r + 0.357584339383878 * g + 0.1804807884018343 * b) / 0.9504559270516716;
    const y = 0.2126390058715102 * r + 0.715168678767756 * g + 0.0721923153607337 * b;
    const z = (0.0193308187155918 * r + 0.119194779794626 * g + 0.9505321522496607 * b) / 1.0890577507598784;
    const fx = cubeRoot(x);
    const fy = cubeRoot(y);
    const fz = cubeRoot(z);
    const L = 116 * fy - 16;
    const a = 500 * (fx - fy);
    const bb = 200 * (fy - fz);
    const e = a * COS + bb * SIN;
    const f = 0.83 * (bb * COS - a * SIN);
    const G = Math.hypot(e, f);
    const scale = G === 0 ? 0 : Math.log1p(0.075 * G) / (0.0435 * G);
    out[i] = 303.67 * Math.log1p(0.0039 * L);
    out[i + 1] = e * scale;
    out[i + 2] = f * scale;
  }
  return out;
}

const cubeRoot = (t: number) => (t > 216 / 24389 ? Math.cbrt(t) : ((24389 / 27) * t + 16) / 116);

/** DIN99o back to pixel values 0–255, not rounded, clipped to what the pixels of the space can hold. */
export function fromPerceptual(points: ArrayLike<number>, space: PixelSpace = SRGB): Float64Array {
  const out = new Float64Array(points.length);
  for (let i = 0; i < points.length; i += 3) {
    const L = Math.expm1(points[i] / 303.67) / 0.0039;
    const C = Math.hypot(points[i + 1], points[i + 2]);
    const scale = C === 0 ? 0 : Math.expm1(0.0435 * C) / (0.075 * C);
    const e = points[i + 1] * scale;
    const f = (points[i + 2] * scale) / 0.83;
    const a = e * COS - f * SIN;
    const b = e * SIN + f * COS;
    const fy = (L + 16) / 116;
    const x = cube(fy + a / 500) * 0.9504559270516716;
    const y = cube(fy);
    const z = cube(fy - b / 200) * 1.0890577507598784;
    const srgb = [
      3.2409699419045226 * x - 1.537383177570094 * y - 0.4986107602930034 * z,
      -0.9692436362808796 * x + 1.8759675015077202 * y + 0.04155505740717559 * z,
      0.05563007969699366 * x - 0.20397695888897652 * y + 1.0569715142428786 * z,
    ];
    const light = multiply(space.fromSrgb, srgb);
    for (let c = 0; c < 3; c++) out[i + c] = lookBack(space.curves[c], light[c]);
  }
  return out;
}

const cube = (t: number) => (t > 24 / 116 ? t ** 3 : (116 * t - 16) / (24389 / 27));
