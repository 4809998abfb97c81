/**
 * A colour as it was authored, in full precision.
 *
 * Units: `rgb` (sRGB, encoded), `cmyk` and `gray` 0–1 (gray 1 is white); `hsb` hue in degrees, saturation
 * and brightness 0–1; `lab` CIE L* 0–100 with a*, b*, for the D50 white and the 2° observer.
 */
export interface Color {
  space: Space;
  components: number[];
  profile?: string;
}

export const SPACES = ['rgb', 'hsb', 'cmyk', 'lab', 'gray'] as const;
export type Space = (typeof SPACES)[number];

/** CIE L*a*b*, D50, 2°. */
export type Lab = [L: number, a: number, b: number];

/** Encoded sRGB, 0–1 inside the gamut; may lie outside for colours the screen cannot show. */
export type Rgb = [r: number, g: number, b: number];
