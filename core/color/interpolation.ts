import {
  decodeSrgb,
  encodeSrgb,
  labToOklab,
  linearToOklab,
  oklabToLab,
  oklabToLinear,
  oklabToOklch,
  oklchToOklab,
} from './oklab.ts';

export type Oklab = [L: number, a: number, b: number];

export const INTERPOLATIONS = ['oklab', 'oklch', 'oklch-longer', 'lab', 'linear', 'srgb'] as const;
/** In which space, and which way around, colors are mixed on the way from one to another. */
export type InterpolationId = (typeof INTERPOLATIONS)[number];

export interface Interpolation {
  id: InterpolationId;
  name: string;
  /** What CSS calls it (CSS Color 4, section 12). */
  css: string;
  into(color: Oklab): number[];
  back(numbers: number[]): Oklab;
  /** The way that a hue, the third number, goes. */
  hue?: 'shorter' | 'longer';
}

/** Colors of so little chroma have no hue of their own. */
const GREY = 1e-4;

const straight = (
  id: InterpolationId,
  name: string,
  css: string,
  into: (color: Oklab) => number[],
  back: (numbers: number[]) => Oklab,
): Interpolation => ({ id, name, css, into, back });

export const interpolations: readonly Interpolation[] = [
  straight(
    'oklab',
    'OKLab',
    'oklab',
    (c) => c,
    (n) => n as Oklab,
  ),
  {
    id: 'oklch',
    name: 'OKLCh, the shorter way',
    css: 'oklch',
    into: oklabToOklch,
    back: oklchToOklab,
    hue: 'shorter',
  },
  {
    id: 'oklch-longer',
    name: 'OKLCh, the longer way',
    css: 'oklch longer hue',
    into: oklabToOklch,
    back: oklchToOklab,
    hue: 'longer',
  },
  straight('lab', 'Lab', 'lab', oklabToLab, labToOklab),
  straight('linear', 'linear light', 'srgb-linear', ([L, a, b]) => oklabToLinear(L, a, b), linearToOklab),
  straight(
    'srgb',
    'sRGB',
    'srgb',
    ([L, a, b]) => oklabToLinear(L, a, b).map(encodeSrgb),
    (n) => linearToOklab(n.map(decodeSrgb)),
  ),
];

export const interpolationById = (id: string): Interpolation =>
  interpolations.find((i) => i.id === id) ?? interpolations[0]!;

/**
 * The colors from one to another, at parts of the way 0–1. A grey takes on the hue of the other (CSS Color 4, 12.2), and hues go
 * the shorter or the longer way around (12.4). Where opacity weighs the colors, hues go their own part of the way (12.3).
 */
export function mixing(id: InterpolationId, from: Oklab, to: Oklab): (t: number, turned?: number) => Oklab {
  const { into, back, hue } = interpolationById(id);
  const a = into(from);
  const b = into(to);
  if (hue) {
    if (a[1]! < GREY) a[2] = b[2]!;
    else if (b[1]! < GREY) b[2] = a[2]!;
    const turn = b[2]! - a[2]!;
    if (hue === 'shorter') {
      if (turn > 180) a[2]! += 360;
      else if (turn < -180) b[2]! += 360;
    } else if (turn > 0 && turn < 180) a[2]! += 360;
    else if (turn > -180 && turn <= 0) b[2]! += 360;
  }
  return (t, turned = t) => back(a.map((v, i) => v + (b[i]! - v) * (hue && i === 2 ? turned : t)));
}
