import { type CuloriColor, converter } from './culori.ts';
import { labToXyz65, xyz65ToLab } from './lab.ts';
import type { Color, Lab, Rgb, Space } from './model.ts';

/** One channel of a space: its letter, its usual range, and how a person reads it. */
interface Channel {
  letter: string;
  min: number;
  max: number;
  /** What one unit inside is worth on screen, and how many decimals are worth showing. */
  shown: { factor: number; decimals: number; unit?: string };
}

/** A space as a declaration: its channels, and the way to and from culori, which does the arithmetic. */
export interface SpaceDefinition {
  id: Space;
  name: string;
  channels: Channel[];
  toCulori(components: number[]): CuloriColor;
  fromCulori(color: CuloriColor): number[];
}

const toRgbMode = converter('rgb');
const toHsvMode = converter('hsv');
const toXyz65Mode = converter('xyz65');

const percent = { factor: 100, decimals: 0, unit: '%' };

/**
 * CMYK to sRGB by the plain formula, channel = (1 − ink)(1 − black). The one place where it happens, so that
 * an ICC transform can take over.
 */
export function cmykToRgb([c, m, y, k]: number[]): Rgb {
  return [(1 - c) * (1 - k), (1 - m) * (1 - k), (1 - y) * (1 - k)];
}

/** sRGB to CMYK by the plain formula with full black replacement. */
export function rgbToCmyk([r, g, b]: number[]): number[] {
  const k = 1 - Math.max(r, g, b);
  if (k >= 1) return [0, 0, 0, 1];
  return [(1 - r - k) / (1 - k), (1 - g - k) / (1 - k), (1 - b - k) / (1 - k), k];
}

const clamp01 = (v: number) => Math.min(1, Math.max(0, v));

export const spaces: Record<Space, SpaceDefinition> = {
  rgb: {
    id: 'rgb',
    name: 'RGB',
    channels: ['R', 'G', 'B'].map((letter) => ({
      letter,
      min: 0,
      max: 1,
      shown: { factor: 255, decimals: 0 },
    })),
    toCulori: ([r, g, b]) => ({ mode: 'rgb', r, g, b }),
    // CSS lets a channel be missing (`none`), which counts as 0
    fromCulori: (color) => {
      const { r, g, b } = toRgbMode(color);
      return [r ?? 0, g ?? 0, b ?? 0];
    },
  },
  hsb: {
    id: 'hsb',
    name: 'HSB',
    channels: [
      { letter: 'H', min: 0, max: 360, shown: { factor: 1, decimals: 0, unit: '°' } },
      { letter: 'S', min: 0, max: 1, shown: percent },
      { letter: 'B', min: 0, max: 1, shown: percent },
    ],
    toCulori: ([h, s, v]) => ({ mode: 'hsv', h, s, v }),
    fromCulori: (color) => {
      const { h, s, v } = toHsvMode(color);
      return [h ?? 0, s, v];
    },
  },
  cmyk: {
    id: 'cmyk',
    name: 'CMYK',
    channels: ['C', 'M', 'Y', 'K'].map((letter) => ({ letter, min: 0, max: 1, shown: percent })),
    toCulori: (components) => {
      const [r, g, b] = cmykToRgb(components);
      return { mode: 'rgb', r, g, b };
    },
    fromCulori: (color) => {
      const { r, g, b } = toRgbMode(color);
      return rgbToCmyk([r, g, b].map(clamp01));
    },
  },
  lab: {
    id: 'lab',
    name: 'Lab',
    channels: [
      { letter: 'L', min: 0, max: 100, shown: { factor: 1, decimals: 1 } },
      { letter: 'a', min: -128, max: 127, shown: { factor: 1, decimals: 1 } },
      { letter: 'b', min: -128, max: 127, shown: { factor: 1, decimals: 1 } },
    ],
    toCulori: (components) => {
      const [x, y, z] = labToXyz65(components);
      return { mode: 'xyz65', x, y, z };
    },
    fromCulori: (color) => {
      const { x, y, z } = toXyz65Mode(color);
      return xyz65ToLab([x, y, z]);
    },
  },
  gray: {
    id: 'gray',
    name: 'Gray',
    channels: [{ letter: 'G', min: 0, max: 1, shown: percent }],
    toCulori: ([v]) => ({ mode: 'rgb', r: v, g: v, b: v }),
    // the neutral of the same luminance, so that a converted colour stays as light as it was
    fromCulori: (color) => {
      const { y } = toXyz65Mode(color);
      return [toRgbMode({ mode: 'xyz65', x: y * 0.9504559270516716, y, z: y * 1.0890577507598784 }).g];
    },
  },
};

/** The colour as culori holds it, for conversions and notation. */
export function toCulori(color: Color): CuloriColor {
  return spaces[color.space].toCulori(color.components);
}

/** The same colour in another space; colours already in it come back untouched. CMYK by {@link cmykToRgb}. */
export function convert(color: Color, space: Space): Color {
  if (color.space === space) return color;
  return { space, components: spaces[space].fromCulori(toCulori(color)) };
}

/** Encoded sRGB, not clipped. */
export function toRgb(color: Color): Rgb {
  return convert(color, 'rgb').components as Rgb;
}

/** CIE Lab, D50, 2°. */
export function toLab(color: Color): Lab {
  return convert(color, 'lab').components as Lab;
}

/** Encoded sRGB as whole numbers 0–255, clipped to the gamut. */
export function toRgb8(color: Color): Rgb {
  return toRgb(color).map((v) => Math.round(clamp01(v) * 255)) as Rgb;
}

/** `#rrggbb`, clipped to the sRGB gamut. */
export function toHex(color: Color): string {
  return `#${toRgb8(color)
    .map((v) => v.toString(16).padStart(2, '0'))
    .join('')}`;
}

/** A colour from three bytes. */
export function fromRgb8(r: number, g: number, b: number): Color {
  return { space: 'rgb', components: [r / 255, g / 255, b / 255] };
}

/** Relative luminance, 0–1, as the Y of CIE XYZ for a D65 white (WCAG 2.2 uses the same quantity). */
export function luminance(color: Color): number {
  return toXyz65Mode(toCulori(color)).y;
}

/** Black or white: whichever has the higher WCAG 2.2 contrast on the colour. */
export function inkOn(color: Color): '#000000' | '#ffffff' {
  const y = Math.min(1, Math.max(0, luminance(color)));
  return (y + 0.05) / 0.05 >= 1.05 / (y + 0.05) ? '#000000' : '#ffffff';
}

/** Whether sRGB can show the colour, with room for half a step of 8 bits. */
export function inSrgb(color: Color): boolean {
  return toRgb(color).every((v) => v >= -0.5 / 255 && v <= 1 + 0.5 / 255);
}
