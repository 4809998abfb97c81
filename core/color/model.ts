/**
 * A colour as it was authored, in full precision.
 *
 * Units: `rgb` (sRGB), `p3` (Display P3), `a98` (A98 RGB), `prophoto` (ProPhoto RGB) and `rec2020` encoded, 0–1 inside their
 * gamut; `cmyk` and `gray` 0–1 (gray 1 is white); `hsb`, `hsl` and `hwb` hue in degrees, the others 0–1, all of sRGB;
 * `lab` CIE L* 0–100 with a*, b*; `lch` the same as L*, C*, hue in degrees; `oklab` L 0–1 with a, b; `oklch` L 0–1, C, hue.
 */
export interface Color {
  space: Space;
  components: number[];
  /** SHA-256 of the ICC profile whose device the numbers are for: `rgb`, `cmyk` and `gray` only. */
  profile?: string;
  /** The white `lab` and `lch` are for, when it is not D50 with the 2° observer. */
  white?: White;
}

export const SPACES = [
  ...(['rgb', 'hsb', 'hsl', 'hwb', 'cmyk', 'lab', 'lch', 'oklab', 'oklch'] as const),
  ...(['p3', 'a98', 'prophoto', 'rec2020', 'gray'] as const),
] as const;
export type Space = (typeof SPACES)[number];

/** Illuminants and observers other than D50 with 2° that a file may state; {@link Color.white}. */
export const WHITES = [
  ...(['D50/10', 'D55/2', 'D55/10', 'D65/2', 'D65/10', 'D75/2', 'D75/10'] as const),
  ...(['A/2', 'A/10', 'C/2', 'C/10', 'E/2', 'F2/2', 'F2/10', 'F7/2', 'F7/10', 'F11/2', 'F11/10'] as const),
] as const;
export type White = (typeof WHITES)[number];

/** CIE L*a*b*, D50, 2°. */
export type Lab = [L: number, a: number, b: number];

/** Encoded sRGB, 0–1 inside the gamut; may lie outside for colours the screen cannot show. */
export type Rgb = [r: number, g: number, b: number];

export const INTENTS = ['relative', 'perceptual', 'saturation', 'absolute'] as const;
/** How colours are brought from one device to another (ICC.1). All but absolute with black point compensation. */
export type Intent = (typeof INTENTS)[number];

/** What a library is printed under, as it is kept with it. */
export interface ConditionSetting {
  /** SHA-256 of a CMYK profile. */
  profile: string;
  intent: Intent;
  /** The most ink that may lie on one place, all inks together, %. */
  inkLimit: number;
}

/** How a color looks under a condition. */
export interface Appearance {
  /** What an instrument would measure, media white and all; for screen colours, what is shown. */
  lab: Lab;
  /** On an sRGB screen: encoded, 0–1, brought inside by lowering chroma. */
  rgb: Rgb;
  /** The same as `#rrggbb`. */
  hex: string;
  /** Whether sRGB can show it as it is. */
  inSrgb: boolean;
  /** Relative luminance on that screen, 0–1 (WCAG 2.2). */
  luminance: number;
}

/**
 * A print condition at work: its profile is open. Nothing is converted without one; {@link screenOnly} does for colours that
 * are surely of no device but the screen.
 */
export interface Condition {
  readonly setting: ConditionSetting;
  /** The profile's own description. */
  readonly name: string;
  /** Whether a color goes through a profile: inks do, and screen colours that name a profile which is here. */
  isDevice(color: Color): boolean;
  /** The name of the profile a device color goes through. */
  throughOf(color: Color): string;
  /** Device colours as a screen shows them: Lab D50 relative to the medium's white, under the condition's intent. */
  shown(color: Color): Lab;
  /** Device colours as an instrument measures them: absolute colorimetric, D50, paper included. */
  measured(color: Color): Lab;
  /** Inks 0–1 for a colour: `measured` for one that was measured (absolute), else under the condition's intent. */
  inks(lab: Lab, measured: boolean): number[];
  /** What an instrument would measure of very many ink mixes, C, M, Y, K 0–1 one after the other; L, a, b likewise. */
  print(inks: Float32Array): Float32Array;
  /** Inks for very many measured colours. */
  separate(labs: Float32Array): Float32Array;
  /** Takes device colours through the profiles in one call, so that each by itself is only looked up. */
  prepare(colors: Iterable<Color>): void;
  /** Appearances found so far. */
  readonly seen: WeakMap<Color, Appearance>;
}
