import type { Lab } from './model.ts';

/** A color in words, as what it is at its most typical: L* 0–100, chroma C*ab, hue in degrees; null for greys. */
export interface ColorWords {
  L: number;
  C: number;
  h: number | null;
  /** How far its hues reach, in degrees, where that is more than usual. */
  span?: number;
}

/**
 * Where the colors lie that a word is commonly used for, in CIE LCh D50. Taken from the colors that CSS Color 4 gives these names,
 * where it has them; the rest common practice, no source.
 */
const NOUNS: Record<string, ColorWords> = {
  red: { L: 48, C: 80, h: 35 },
  crimson: { L: 47, C: 70, h: 25 },
  maroon: { L: 24, C: 48, h: 34 },
  burgundy: { L: 24, C: 38, h: 14 },
  orange: { L: 72, C: 80, h: 66 },
  coral: { L: 68, C: 58, h: 42 },
  salmon: { L: 70, C: 46, h: 37 },
  peach: { L: 86, C: 26, h: 68 },
  brown: { L: 38, C: 36, h: 55 },
  tan: { L: 74, C: 28, h: 78 },
  beige: { L: 92, C: 13, h: 95 },
  cream: { L: 95, C: 16, h: 98 },
  sand: { L: 80, C: 26, h: 85 },
  gold: { L: 82, C: 82, h: 88 },
  ochre: { L: 62, C: 56, h: 78 },
  yellow: { L: 92, C: 90, h: 98 },
  khaki: { L: 82, C: 38, h: 100 },
  olive: { L: 48, C: 52, h: 104 },
  lime: { L: 84, C: 95, h: 122 },
  green: { L: 52, C: 62, h: 138 },
  mint: { L: 90, C: 24, h: 160 },
  teal: { L: 48, C: 30, h: 196 },
  turquoise: { L: 76, C: 42, h: 187 },
  cyan: { L: 84, C: 48, h: 200 },
  aqua: { L: 84, C: 45, h: 198 },
  blue: { L: 42, C: 60, h: 274, span: 28 },
  navy: { L: 14, C: 48, h: 292 },
  indigo: { L: 22, C: 52, h: 304 },
  violet: { L: 46, C: 70, h: 312 },
  purple: { L: 36, C: 62, h: 322 },
  lavender: { L: 82, C: 22, h: 300 },
  lilac: { L: 76, C: 34, h: 318 },
  magenta: { L: 58, C: 92, h: 338 },
  pink: { L: 82, C: 32, h: 5 },
  rose: { L: 62, C: 52, h: 8 },
  grey: { L: 56, C: 0, h: null },
  gray: { L: 56, C: 0, h: null },
  silver: { L: 78, C: 0, h: null },
  white: { L: 98, C: 0, h: null },
  black: { L: 8, C: 0, h: null },
};

const ISH: Record<string, string> = {
  reddish: 'red',
  orangish: 'orange',
  brownish: 'brown',
  yellowish: 'yellow',
  greenish: 'green',
  bluish: 'blue',
  purplish: 'purple',
  violetish: 'violet',
  pinkish: 'pink',
  olivish: 'olive',
};

type Shift = (at: ColorWords) => ColorWords;
const shift =
  (lighter: number, strength: number): Shift =>
  ({ L, C, ...rest }) => ({
    ...rest,
    L: lighter > 0 ? L + (100 - L) * lighter : L * (1 + lighter),
    C: C * strength,
  });

/** The modifiers of the ISCC–NBS method (NBS Circular 553) and their everyday kin; how far each goes is common practice, no source. */
const MODIFIERS: Record<string, Shift> = {
  light: shift(0.45, 0.65),
  pale: shift(0.6, 0.4),
  dark: shift(-0.42, 0.75),
  deep: shift(-0.3, 1),
  vivid: shift(0, 1.2),
  strong: shift(0, 1.05),
  bright: shift(0.1, 1.15),
  brilliant: shift(0.25, 1),
  moderate: shift(0, 0.7),
  medium: shift(0, 0.8),
  greyish: shift(0, 0.3),
  grayish: shift(0, 0.3),
  dull: shift(-0.05, 0.45),
  muted: shift(0, 0.5),
  soft: shift(0.1, 0.5),
  blackish: shift(-0.7, 0.35),
  whitish: shift(0.8, 0.25),
};

const turn = (from: number, to: number, share: number) =>
  from + (((((to - from) % 360) + 540) % 360) - 180) * share;

/** Two hues in one: of equals the one between, of “greenish blue” a third of the way from blue. */
function mix(main: ColorWords, other: ColorWords, share: number): ColorWords {
  return {
    L: main.L + (other.L - main.L) * share,
    // a grey that leans is still a grey
    C: main.h === null ? Math.min(9, other.C) : other.h === null ? main.C * 0.35 : main.C,
    h: main.h === null ? other.h : other.h === null ? main.h : turn(main.h, other.h, share),
  };
}

/**
 * What is meant by words for a color, such as “dark blue”, “blue, very light”, “greyish green” or “bluish green”, in any order; null
 * where a word is unknown or no word is a color.
 */
export function colorWords(text: string): ColorWords | null {
  const words = text
    .toLowerCase()
    .split(/[\s,\-/]+/)
    .filter(Boolean);
  const nouns: ColorWords[] = [];
  const leans: ColorWords[] = [];
  const shifts: Shift[] = [];
  let isVery = false;
  for (const word of words) {
    if (word === 'very') {
      isVery = true;
      continue;
    }
    const lean = ISH[word];
    const modifier = MODIFIERS[word];
    const noun = NOUNS[word];
    if (modifier) shifts.push(...(isVery ? [modifier, modifier] : [modifier]));
    else if (lean) leans.push(NOUNS[lean]!);
    else if (noun) nouns.push(noun);
    else return null;
    isVery = false;
  }
  const [first, ...others] = nouns;
  if (!first || isVery) return null;
  let at = others.reduce((a, b) => mix(a, b, 0.5), first);
  for (const lean of leans) at = mix(at, { ...lean, L: at.L }, 1 / 3);
  return shifts.reduce((a, change) => change(a), at);
}

/** What differs by more is not meant. */
const MAX_OFF = 2;

/**
 * How far a color lies from what words mean: 0 is most typical, and what is not meant any more has no number.
 *
 * @param lab CIE Lab D50
 */
export function offWords([L, a, b]: Lab, words: ColorWords): number | null {
  const C = Math.hypot(a, b);
  // what is typically colorful may be more so
  const over = C > words.C && words.C > 40 ? 0.4 : 1;
  const off = [(L - words.L) / 17, (over * (C - words.C)) / (9 + 0.32 * words.C)];
  if (words.h !== null) {
    const h = (Math.atan2(b, a) * 180) / Math.PI;
    const apart = Math.abs(turn(0, h - words.h, 1));
    // the hue of what is nearly grey says little
    off.push((apart / (words.span ?? 19)) * Math.min(1, C / 12));
    if (words.C > 12 && C < 5) return null;
  }
  const distance = Math.hypot(...off);
  return distance <= MAX_OFF ? distance : null;
}

/** The places of the colors that are meant by words, the most typical first. */
export function findByWords(labs: readonly Lab[], words: ColorWords, most = 200): number[] {
  const found: [off: number, place: number][] = [];
  labs.forEach((lab, place) => {
    const off = offWords(lab, words);
    if (off !== null) found.push([off, place]);
  });
  return found
    .sort(([x, i], [y, j]) => x - y || i - j)
    .slice(0, most)
    .map(([, place]) => place);
}
