import type { Color } from '../color/model.ts';

/**
 * What the numbers of a picture's pixels mean: the curve of each channel, and the way from there to linear sRGB. Plain
 * data, so that it passes between workers.
 */
export interface PixelSpace {
  name: string;
  /** Linear light, 0–1, of each of the 256 values of red, green and blue; never falling. */
  curves: [Float64Array, Float64Array, Float64Array];
  /** Linear values of the space to linear sRGB (unclipped), and back; 3 × 3, row by row. */
  toSrgb: number[];
  fromSrgb: number[];
}

const IDENTITY = [1, 0, 0, 0, 1, 0, 0, 0, 1];
const srgbCurve = Float64Array.from({ length: 256 }, (_, v) => srgbToLinear(v / 255));

/** sRGB, IEC 61966-2-1. */
export const SRGB: PixelSpace = {
  name: 'sRGB',
  curves: [srgbCurve, srgbCurve, srgbCurve],
  toSrgb: IDENTITY,
  fromSrgb: IDENTITY,
};

/** Encoded sRGB to linear light, 0–1, mirrored below 0 as CSS Color 4 does for colours outside the gamut. */
export function srgbToLinear(v: number): number {
  const a = Math.abs(v);
  return Math.sign(v) * (a <= 0.04045 ? a / 12.92 : ((a + 0.055) / 1.055) ** 2.4);
}

/** Linear light to encoded sRGB; the inverse of {@link srgbToLinear}. */
export function linearToSrgb(v: number): number {
  const a = Math.abs(v);
  return Math.sign(v) * (a <= 0.0031308 ? 12.92 * a : 1.055 * a ** (1 / 2.4) - 0.055);
}

/** A value 0–255, fractions allowed, through a curve. */
export function lookUp(curve: Float64Array, v: number): number {
  if (v <= 0) return curve[0];
  if (v >= 255) return curve[255];
  const low = Math.floor(v);
  return curve[low] + (v - low) * (curve[low + 1] - curve[low]);
}

/** The value 0–255 whose light it is; clipped. */
export function lookBack(curve: Float64Array, light: number): number {
  if (light <= curve[0]) return 0;
  if (light >= curve[255]) return 255;
  let low = 0;
  let high = 255;
  while (high - low > 1) {
    const middle = (low + high) >> 1;
    if (curve[middle] <= light) low = middle;
    else high = middle;
  }
  const step = curve[high] - curve[low];
  return low + (step > 0 ? (light - curve[low]) / step : 0);
}

/** A 3 × 3 matrix, row by row, times a column. */
export const multiply = (m: number[], v: ArrayLike<number>): [number, number, number] => [
  m[0] * v[0] + m[1] * v[1] + m[2] * v[2],
  m[3] * v[0] + m[4] * v[1] + m[5] * v[2],
  m[6] * v[0] + m[7] * v[1] + m[8] * v[2],
];

/** A pixel's value as a swatch keeps it: sRGB 0–1, outside that range where sRGB ends and the picture goes on. */
export function colorOfPixel(rgb: ArrayLike<number>, space: PixelSpace = SRGB): Color {
  if (space === SRGB || space.name === SRGB.name)
    return { space: 'rgb', components: [rgb[0] / 255, rgb[1] / 255, rgb[2] / 255] };
  const light = space.curves.map((curve, c) => lookUp(curve, rgb[c]));
  return { space: 'rgb', components: multiply(space.toSrgb, light).map(linearToSrgb) };
}

/** The nearest pixel value, not rounded, 0–255, for encoded sRGB 0–1 that may lie outside that range. */
export function pixelOfColor(srgb: ArrayLike<number>, space: PixelSpace = SRGB): [number, number, number] {
  const light = multiply(space.fromSrgb, Array.from(srgb, srgbToLinear));
  return space.curves.map((curve, c) => lookBack(curve, light[c])) as [number, number, number];
}

// --- ICC profiles -----------------------------------------------------------------------------------------------

/** The primaries of sRGB adapted to the D50 of ICC's connection space by Bradford, as in CSS Color 4. */
const SRGB_TO_D50 = [
  0.4360657468426159, 0.3851514688337912, 0.14307845442264197, 0.22249319175623702, 0.7168870538238823,
  0.06061979053616537, 0.013923904500943465, 0.09708128566574634, 0.7140993584005155,
];

/** Something in a profile that cannot be read; the message says what. */
export class ProfileError extends Error {
  override name = 'ProfileError';
}

/**
 * The pixel space of an RGB or grey ICC profile that is made of curves and a matrix. Source: ICC.1:2022 (v4) and
 * ICC.1:2001-04 (v2), clauses on the header, XYZType, curveType and parametricCurveType.
 *
 * @returns null for profiles of other devices or of tables, which need a colour engine
 * @throws ProfileError when the profile is damaged
 */
export function pixelSpaceOf(icc: Uint8Array): PixelSpace | null {
  const view = new DataView(icc.buffer, icc.byteOffset, icc.byteLength);
  const ascii = (at: number, n: number) => String.fromCharCode(...icc.subarray(at, at + n));
  if (icc.length < 132 || ascii(36, 4) !== 'acsp') throw new ProfileError('it has no ICC header');
  const device = ascii(16, 4);
  const tags = new Map<string, number>();
  const count = view.getUint32(128);
  if (count > 1000) throw new ProfileError('its table of tags is too long');
  for (let i = 0; i < count; i++) {
    const at = 132 + 12 * i;
    if (at + 12 > icc.length) throw new ProfileError('its table of tags is cut short');
    tags.set(ascii(at, 4), view.getUint32(at + 4));
  }
  const read = <T>(name: string, reader: (at: number) => T): T => {
    const at = tags.get(name);
    if (at === undefined) throw new ProfileError(`it lacks ${name}`);
    try {
      return reader(at);
    } catch (error) {
      if (error instanceof ProfileError) throw error;
      throw new ProfileError(`${name} is cut short`);
    }
  };
  const fixed = (at: number) => view.getInt32(at) / 65536;
  const curve = (name: string) => read(name, (at) => readCurve(view, at));
  const nameOf = () => {
    const at = tags.get('desc');
    return (at === undefined ? '' : describe(view, at)) || 'an embedded profile';
  };

  if (device === 'GRAY' && tags.has('kTRC')) {
    const light = curve('kTRC');
    return recognised({
      name: nameOf(),
      curves: [light, light, light],
      toSrgb: IDENTITY,
      fromSrgb: IDENTITY,
    });
  }
  if (device !== 'RGB ' || !tags.has('rXYZ') || !tags.has('rTRC')) return null;
  const columns = ['rXYZ', 'gXYZ', 'bXYZ'].map((name) =>
    read(name, (at) => [fixed(at + 8), fixed(at + 12), fixed(at + 16)]),
  );
  const toD50 = [0, 1, 2].flatMap((row) => columns.map((column) => column[row]));
  const toSrgb = product(inverse(SRGB_TO_D50), toD50);
  return recognised({
    name: nameOf(),
    curves: [curve('rTRC'), curve('gTRC'), curve('bTRC')],
    toSrgb,
    fromSrgb: inverse(toSrgb),
  });
}

/** sRGB itself when a profile differs from it by less than 8 bits can show. */
export function recognised(space: PixelSpace): PixelSpace {
  const sameCurves = space.curves.every((curve) =>
    curve.every((light, v) => Math.abs(linearToSrgb(light) - v / 255) < 0.6 / 255),
  );
  return sameCurves && space.toSrgb.every((v, i) => Math.abs(v - IDENTITY[i]) < 2e-3) ? SRGB : space;
}

function readCurve(view: DataView, at: number): Float64Array {
  const type = view.getUint32(at);
  const table = (f: (x: number) => number) => Float64Array.from({ length: 256 }, (_, v) => f(v / 255));
  // curveType: none is a straight line, one value a gamma, more are a table
  if (type === 0x63757276) {
    const n = view.getUint32(at + 8);
    if (n === 0) return table((x) => x);
    if (n === 1) return table((x) => x ** (view.getUint16(at + 12) / 256));
    return table((x) => {
      const place = x * (n - 1);
      const low = Math.min(n - 2, Math.floor(place));
      const [a, b] = [view.getUint16(at + 12 + 2 * low), view.getUint16(at + 14 + 2 * low)];
      return (a + (place - low) * (b - a)) / 65535;
    });
  }
  // parametricCurveType
  if (type === 0x70617261) {
    const kind = view.getUint16(at + 8);
    const n = [1, 3, 4, 5, 7][kind];
    if (!n) throw new ProfileError(`a curve is of the unknown kind ${kind}`);
    const [g, a = 1, b = 0, c = 0, d = 0, e = 0, f = 0] = Array.from(
      { length: n },
      (_, i) => view.getInt32(at + 12 + 4 * i) / 65536,
    );
    const limit = kind === 1 || kind === 2 ? -b / a : d;
    return table((x) => {
      if (kind === 0) return x ** g;
      if (kind === 1) return x >= limit ? (a * x + b) ** g : 0;
      if (kind === 2) return x >= limit ? (a * x + b) ** g + c : c;
      return x >= limit ? (a * x + b) ** g + e : c * x + f;
    });
  }
  throw new ProfileError('a curve is of an unknown type');
}

/** The profile's name, from textDescriptionType (version 2) or multiLocalizedUnicodeType (version 4). */
function describe(view: DataView, at: number): string {
  const bytes = new Uint8Array(view.buffer, view.byteOffset, view.byteLength);
  if (at + 28 > bytes.length) return '';
  const type = view.getUint32(at);
  if (type === 0x64657363) {
    const n = view.getUint32(at + 8);
    return new TextDecoder('latin1').decode(bytes.subarray(at + 12, at + 12 + n)).replace(/\0.*$/s, '');
  }
  const from = at + view.getUint32(at + 24);
  return new TextDecoder('utf-16be').decode(bytes.subarray(from, from + view.getUint32(at + 20)));
}

export const product = (a: number[], b: number[]) =>
  Array.from({ length: 9 }, (_, i) =>
    [0, 1, 2].reduce((sum, k) => sum + a[3 * Math.floor(i / 3) + k] * b[3 * k + (i % 3)], 0),
  );

export function inverse([a, b, c, d, e, f, g, h, i]: number[]): number[] {
  const det = a * (e * i - f * h) - b * (d * i - f * g) + c * (d * h - e * g);
  if (Math.abs(det) < 1e-9) throw new ProfileError('its primaries do not span a space');
  return [
    e * i - f * h,
    c * h - b * i,
    b * f - c * e,
    f * g - d * i,
    a * i - c * g,
    c * d - a * f,
    d * h - e * g,
    b * g - a * h,
    a * e - b * d,
  ].map((v) => v / det);
}
