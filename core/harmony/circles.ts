import {
  decodeSrgb,
  encodeSrgb,
  linearToOklab,
  type Oklch,
  oklabToLinear,
  oklabToOklch,
} from '../color/index.ts';
import type { CircleId } from './asked.ts';

/** An order of the hues around. Places on it are degrees, 0–360. */
export interface Circle {
  id: CircleId;
  name: string;
  about: string;
  /** The place of a color; 0 for a grey. */
  placeOf(color: Oklch): number;
  /** The hue in OKLCh of a place, for a color of this lightness and chroma. */
  hueAt(place: number, L: number, C: number): number;
}

/** Degrees brought within 0–360. */
export const around = (degrees: number) => ((degrees % 360) + 360) % 360;
/** The shorter way from one place to another, −180 to 180. */
export const turnOf = (from: number, to: number) => around(to - from + 180) - 180;

const RAD = Math.PI / 180;

/**
 * The painters' red, yellow and blue a third of the way around from each other, orange, green and violet between them, with the
 * hues they have in OKLCh: so that red stands opposite green, yellow opposite violet, blue opposite orange. The order and its
 * pairs are common practice, no source; the hues are those of CSS's red, orange (#ff8000), yellow, green (#008000 and lime),
 * blue and violet (#8000ff), rounded to a degree.
 */
export const PIGMENTS: readonly [place: number, name: string, hue: number][] = [
  [0, 'red', 29],
  [60, 'orange', 53],
  [120, 'yellow', 110],
  [180, 'green', 143],
  [240, 'blue', 264],
  [300, 'violet', 294],
  [360, 'red', 389],
];

/** From one column of the table to another, straight between its lines. */
function through(value: number, from: 0 | 2, to: 0 | 2): number {
  const start = PIGMENTS[0]![from];
  const v = start + around(value - start);
  const at = PIGMENTS.findIndex((p, i) => i > 0 && v <= p[from]);
  const [a, b] = [PIGMENTS[at - 1]!, PIGMENTS[at]!];
  return around(a[to] + ((v - a[from]) / (b[from] - a[from])) * (b[to] - a[to]));
}

/** The hue of HSL, of encoded sRGB that may lie outside 0–1 (CSS Color 4, section 7). */
export function hslHue(r: number, g: number, b: number): number {
  const [most, least] = [Math.max(r, g, b), Math.min(r, g, b)];
  const d = most - least;
  if (d < 1e-12) return 0;
  const sixth = most === r ? (g - b) / d : most === g ? (b - r) / d + 2 : (r - g) / d + 4;
  return around(sixth * 60);
}

function screenPlace(L: number, C: number, h: number): number {
  const linear = oklabToLinear(L, C * Math.cos(h * RAD), C * Math.sin(h * RAD));
  return hslHue(encodeSrgb(linear[0]), encodeSrgb(linear[1]), encodeSrgb(linear[2]));
}

/** The OKLCh hues of the purest screen colours, for a first guess. */
const PURE = Array.from({ length: 73 }, (_, i) => {
  const hue = i * 5;
  const channel = (n: number) => {
    const k = (n + hue / 30) % 12;
    return decodeSrgb(0.5 - 0.5 * Math.max(-1, Math.min(k - 3, 9 - k, 1)));
  };
  return oklabToOklch(linearToOklab([channel(0), channel(8), channel(4)]))[2];
});

export const circles: readonly Circle[] = [
  {
    id: 'perceptual',
    name: 'perceptual',
    about: 'equal steps look equal (OKLCh)',
    placeOf: ([, C, h]) => (C < GREY ? 0 : h),
    hueAt: (place) => around(place),
  },
  {
    id: 'pigment',
    name: 'pigment',
    about: 'the painters’ red, yellow and blue',
    placeOf: ([, C, h]) => (C < GREY ? 0 : through(h, 2, 0)),
    hueAt: (place) => through(place, 0, 2),
  },
  {
    id: 'screen',
    name: 'screen',
    about: 'red, green and blue light (HSL)',
    placeOf: ([L, C, h]) => (C < GREY ? 0 : screenPlace(L, C, h)),
    hueAt(place, L, C) {
      const wanted = around(place);
      const cell = Math.floor(wanted / 5);
      const [low, high] = [PURE[cell]!, PURE[cell + 1]!];
      const guess = around(low + turnOf(low, high) * (wanted / 5 - cell));
      if (C < GREY || L <= 0 || L >= 1) return guess;
      return meet((h) => turnOf(wanted, screenPlace(L, C, h)), guess);
    },
  },
];

/** Under this chroma a hue says nothing. */
export const GREY = 1e-4;

export const circleById = (id: string): Circle => circles.find((c) => c.id === id) ?? circles[0]!;

const CLOSE = 1e-7;

/** Where a function of an angle that grows with it is nothing, looked for from a guess. */
function meet(off: (h: number) => number, guess: number): number {
  let [low, atLow] = [guess, off(guess)];
  if (Math.abs(atLow) < CLOSE) return around(guess);
  let high = low;
  let atHigh = atLow;
  // outwards, to where the sign is another
  for (let step = 4; step <= 128; step *= 2) {
    const next = guess - Math.sign(atLow) * step;
    const here = off(next);
    if (Math.sign(here) !== Math.sign(atLow) && Math.abs(here - atLow) < 180) {
      high = next;
      atHigh = here;
      break;
    }
    low = next;
    atLow = here;
  }
  if (high === low || Math.sign(atLow) === Math.sign(atHigh)) return around(guess);
  // false position, with the Illinois rule so that both ends move
  let side = 0;
  for (let i = 0; i < 60; i++) {
    const middle = (low * atHigh - high * atLow) / (atHigh - atLow);
    const here = off(middle);
    if (Math.abs(here) < CLOSE || Math.abs(high - low) < 1e-9) return around(middle);
    if (Math.sign(here) === Math.sign(atHigh)) {
      high = middle;
      atHigh = here;
      if (side === 1) atLow /= 2;
      side = 1;
    } else {
      low = middle;
      atLow = here;
      if (side === -1) atHigh /= 2;
      side = -1;
    }
  }
  return around((low + high) / 2);
}
