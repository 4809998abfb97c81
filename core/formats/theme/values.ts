import { computedCss } from '../../color/computed-css.ts';
import { type Color, fromCss, NotationError, parseColor, type Space, spaces } from '../../color/index.ts';
import { isRecord } from '../../text/json.ts';

/** A colour as a value of JSON states it. */
export type Read = { color: Color; alpha?: number };

/** A space by what keys call it, and its channels by theirs; the factors are what 1 inside is outside. */
interface Named {
  space: Space;
  keys: string[];
  letters: string[][];
  factors: number[];
}
const named = (space: Space, keys: string[], factors: number[], ...letters: string[]): Named => ({
  space,
  keys,
  factors,
  letters: letters.map((l) => l.split(' ')),
});
const NAMED = [
  named('rgb', ['rgb', 'rgba', 'srgb'], [255, 255, 255], 'r g b', 'red green blue'),
  named(
    'cmyk',
    ['cmyk'],
    [100, 100, 100, 100],
    'c m y k',
    'cyan magenta yellow black',
    'cyan magenta yellow key',
  ),
  named('hsl', ['hsl', 'hsla'], [1, 100, 100], 'h s l', 'hue saturation lightness'),
  named(
    'hsb',
    ['hsb', 'hsv'],
    [1, 100, 100],
    'h s b',
    'h s v',
    'hue saturation brightness',
    'hue saturation value',
  ),
  named('hwb', ['hwb'], [1, 100, 100], 'h w b'),
  named('lab', ['lab', 'cielab'], [1, 1, 1], 'l a b'),
  named('lch', ['lch', 'cielch'], [1, 1, 1], 'l c h'),
  named('oklab', ['oklab'], [100, 1, 1]),
  named('oklch', ['oklch'], [100, 1, 1]),
];
const BY_KEY = new Map(NAMED.flatMap((n) => n.keys.map((key) => [key, n] as const)));

/** The space that a key states. */
export const spaceOf = (key: string): Named | undefined => BY_KEY.get(key.toLowerCase());

/** What says how opaque a colour is, beside its channels. */
const OPACITY_KEYS = ['alpha', 'opacity', 'a'];

/** A number, also as a text; what is in percent is marked. */
function numberIn(value: unknown): { value: number; percent: boolean } | null {
  if (typeof value === 'number') return Number.isFinite(value) ? { value, percent: false } : null;
  const match =
    typeof value === 'string' ? /^\s*([-+]?(?:\d+\.?\d*|\.\d+))\s*(%|°|deg)?\s*$/.exec(value) : null;
  return match && { value: Number(match[1]), percent: match[2] === '%' };
}

/** The numbers of a colour before their scale is known. */
export interface Numbers {
  named: Named;
  values: { value: number; percent: boolean }[];
  alpha?: number;
}

const numbersOf = (named: Named, list: readonly unknown[], opacity: unknown): Numbers | null => {
  const values = list.map(numberIn);
  if (!values.every((v) => v !== null)) return null;
  const alpha = numberIn(opacity);
  const whole = alpha && (alpha.percent ? alpha.value / 100 : alpha.value);
  return {
    named,
    values,
    ...(whole === null ? {} : { alpha: whole > 1 ? whole / (whole > 100 ? 255 : 100) : whole }),
  };
};

/**
 * The numbers of a colour in a list, in a text such as `0, 100, 100, 0`, or in an object by the letters of its channels; null
 * when they are none.
 * @param named the space that the key states; an object's own letters do as well
 */
export function numbersIn(value: unknown, named: Named | undefined): Numbers | null {
  if (typeof value === 'string' && !named) return null;
  const list = typeof value === 'string' ? value.split(/[\s,;/]+/).filter(Boolean) : value;
  if (Array.isArray(list)) {
    const count = named?.factors.length ?? 0;
    const fits = list.length === count || list.length === count + 1;

    return named && fits ? numbersOf(named, list.slice(0, count), list[count]) : null;
  }
  if (!isRecord(value) || hasMany(value)) return null;
  const lower = Object.fromEntries(Object.entries(value).map(([key, v]) => [key.toLowerCase(), v]));
  for (const one of named && named.letters.length > 0 ? [named] : NAMED)
    for (const letters of one.letters) {
      if (!letters.every((l) => l in lower)) continue;
      const opacity = OPACITY_KEYS.filter((k) => !letters.includes(k)).map((k) => lower[k]);
      return numbersOf(
        named ?? one,
        letters.map((l) => lower[l]),
        opacity.find((v) => v !== undefined),
      );
    }
  // OKLab and OKLCh have the letters of CIE's
  const like = named && { oklab: 'lab', oklch: 'lch' }[named.space as string];
  return like ? withSpace(numbersIn(value, spaceOf(like)), named) : null;
}
/** More keys than a colour has: such objects hold others, and may be large. */
const MAX_COLOR_KEYS = 40;
function hasMany(value: object): boolean {
  let n = 0;
  for (const _ in value) if (++n > MAX_COLOR_KEYS) return true;
  return false;
}
const withSpace = (numbers: Numbers | null, named: Named) => numbers && { ...numbers, named };

/** Which of a file's spaces count beyond 1, where a colour of nothing but 0 and 1 does not say so itself. */
export class Scales {
  private readonly large = new Set<Space>();

  /** Takes note of a colour of the file. */
  see({ named, values }: Numbers): void {
    if (this.parts(named, values).some((v) => v > 1)) this.large.add(named.space);
  }

  private parts = (named: Named, values: Numbers['values']) =>
    values.filter((v, i) => named.factors[i]! > 1 && !v.percent).map((v) => v.value);

  /** The colour; null when a number is out of range. */
  read({ named, values, alpha }: Numbers): Read | null {
    const { space, factors } = named;
    const parts = this.parts(named, values);
    const counted = parts.some((v) => v > 1) || (this.large.has(space) && parts.every(Number.isInteger));
    const { channels } = spaces[space];
    const components = values.map(({ value, percent }, i) => {
      if (percent) return (value / 100) * channels[i]!.max;
      return factors[i]! > 1 && counted ? value / factors[i]! : value;
    });
    // a hue goes round, and what is measured has no ends but those of its lightness
    const ends = spaces[space].measured || space.startsWith('ok') ? 1 : components.length;
    const out = components.some(
      (v, i) => i < ends && channels[i]!.letter !== 'H' && (v < channels[i]!.min || v > channels[i]!.max),
    );
    if (out) return null;
    return {
      color: { space, components },
      ...(alpha !== undefined && alpha < 1 ? { alpha: Math.max(0, alpha) } : {}),
    };
  }
}

/** A colour as CSS has it, or `rgba(#112233, 0.5)` as style languages do. */
export function colorIn(text: string): Read | null {
  const thin = /^rgba?\(\s*(#[\da-f]{3,8})\s*,\s*([\d.]+%?)\s*\)$/i.exec(text.trim());
  if (!thin) return computedCss(text);
  const solid = fromCss(thin[1]!);
  const alpha = Number.parseFloat(thin[2]!) / (thin[2]!.endsWith('%') ? 100 : 1);
  return solid && Number.isFinite(alpha)
    ? { color: solid.color, ...(alpha < 1 ? { alpha: Math.max(0, alpha) } : {}) }
    : null;
}

/** A text whose form alone says that it is a colour: a code with its mark, or a function of CSS. */
export const isMarked = (text: string): boolean =>
  /^\s*(?:#[\da-f]{3,8}|(?:rgba?|hsla?|hwb|lab|lch|oklab|oklch|color|color-mix|light-dark)\(.{1,300}\))\s*$/is.test(
    text,
  );

/** A colour in the words of the trade, such as `C 0 M 100 Y 100 K 0`. */
export function letteredIn(text: string): Read | null {
  try {
    return { color: parseColor(text) };
  } catch (error) {
    if (error instanceof NotationError) return null;
    throw error;
  }
}
