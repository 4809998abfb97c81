import { deltaE00 } from './difference.ts';
import { labToLch } from './lab.ts';
import type { Lab } from './model.ts';

/** Differences of one colour from another, the second minus the first. */
export interface Difference {
  deltaE00: number;
  L: number;
  chroma: number;
  /** Degrees, −180 to 180. */
  hue: number;
}

export function differenceOf(from: Lab, to: Lab): Difference {
  const [a, b] = [labToLch(from), labToLch(to)];
  const turn = ((b[2] - a[2] + 540) % 360) - 180;
  return { deltaE00: deltaE00(from, to), L: b[0] - a[0], chroma: b[1] - a[1], hue: turn };
}

/** Under this chroma a hue says nothing. */
const GREY = 4;
/** Under this a part is not mentioned. */
const SEEN = 0.7;

/** Which way a colour of this hue goes when it turns, by the four unique hues of CIELAB (about 24° 90° 162° 246°; Kuehni 2003). */
const UNIQUE: [at: number, word: string][] = [
  [24, 'redder'],
  [90, 'yellower'],
  [162, 'greener'],
  [246, 'bluer'],
];
function towards(hue: number, turn: number): string {
  const list = turn > 0 ? UNIQUE : [...UNIQUE].reverse();
  const ahead = (at: number) => (turn > 0 ? (at - hue + 360) % 360 : (hue - at + 360) % 360);
  return list.reduce((a, b) => (ahead(a[0]) <= ahead(b[0]) ? a : b))[1];
}

const amount = (v: number) => (v < 2 ? 'a little ' : v > 8 ? 'much ' : '');

/** The second colour as seen from the first, in words: “greyer, a little bluer”. */
export function differenceInWords(from: Lab, to: Lab): string {
  const { L, chroma, hue, deltaE00: whole } = differenceOf(from, to);
  if (whole < 0.5) return 'no difference to be seen';
  const [a, b] = [labToLch(from), labToLch(to)];
  const arc = 2 * Math.sqrt(a[1] * b[1]) * Math.sin((Math.abs(hue) * Math.PI) / 360);
  const strong = a[1] > GREY && b[1] > GREY;
  const parts: [number, string][] = [
    [Math.abs(L), L > 0 ? 'lighter' : 'darker'],
    [Math.abs(chroma), chroma > 0 ? 'stronger' : 'greyer'],
    ...(strong ? ([[arc, towards(a[2], hue)]] as [number, string][]) : []),
  ];
  const said = parts
    .filter(([size]) => size >= SEEN)
    .sort((x, y) => y[0] - x[0])
    .map(([size, word]) => amount(size) + word);
  return said.join(', ') || 'a little different';
}
