import { type CuloriColor, parse } from './culori.ts';
import type { Color, Condition, Space } from './model.ts';
import { carried, convert, fromRgb8, luminance, spaces, toHex, toLab, toRgb8 } from './spaces.ts';

/** One line of a readout: what it is called, and the value as text to show and to copy. */
export interface Notation {
  id: string;
  label: string;
  text: string;
  /** The name of the profile the numbers came through. */
  through?: string;
}

const fixed = (v: number, decimals: number) =>
  (Math.abs(v) < 0.5 * 10 ** -decimals ? 0 : v).toFixed(decimals);
const degrees = (v: number | undefined, decimals: number) => `${fixed(v ?? 0, decimals)}°`;
const percent = (v: number) => `${fixed(v * 100, 0)} %`;

/** The colour's components as a person of the trade reads them, e.g. `C 20 M 0 Y 80 K 0`. */
export function authored(color: Color): string {
  const { channels, gamut } = spaces[color.space];
  const numbers = numbersOf(color).map((text, i) => `${channels[i]!.letter} ${text}`);
  // letters alone do not tell one RGB from another
  const wide = gamut === color.space && gamut !== 'rgb' ? [spaces[color.space].name] : [];
  return [...wide, ...numbers, ...(color.white ? [`(${color.white}°)`] : [])].join('  ');
}

const numbersOf = ({ space, components }: Color) =>
  components.map((v, i) => {
    const { shown } = spaces[space].channels[i]!;
    return `${fixed(v * shown.factor, shown.decimals)}${shown.unit === '°' ? '°' : ''}`;
  });

/**
 * A color in every notation of the readout. Digits are cut to what the 8-bit or measured source can hold: whole numbers for
 * RGB and percentages, one decimal for CIE, three for OKLCh. RGB, HSB and HSL are of sRGB, brought inside.
 */
export function notations(color: Color, condition: Condition): Notation[] {
  const [hsb, hsl, cmyk, lch, ok] = (['hsb', 'hsl', 'cmyk', 'lch', 'oklch'] as const).map(
    (space) => convert(color, space, condition).components,
  ) as [number[], number[], number[], number[], number[]];
  const lab = toLab(color, condition);
  // the hue of what is all but a grey says nothing
  const hue = lch[1]! < 0.05 ? 0 : lch[2]!;
  const rows: Notation[] = [
    { id: 'hex', label: 'Hex', text: toHex(color, condition).toUpperCase() },
    { id: 'rgb', label: 'RGB', text: toRgb8(color, condition).join(' ') },
    { id: 'hsb', label: 'HSB', text: `${degrees(hsb[0], 0)} ${percent(hsb[1]!)} ${percent(hsb[2]!)}` },
    { id: 'hsl', label: 'HSL', text: `${degrees(hsl[0], 0)} ${percent(hsl[1]!)} ${percent(hsl[2]!)}` },
    {
      id: 'cmyk',
      label: 'CMYK',
      text: `${cmyk.map((v) => fixed(v * 100, 0)).join(' ')} %`,
      through: color.space === 'cmyk' ? condition.throughOf(color) : condition.name,
    },
    { id: 'lab', label: 'Lab D50', text: lab.map((v) => fixed(v, 1)).join(' ') },
    { id: 'lch', label: 'LCh D50', text: `${fixed(lch[0]!, 1)} ${fixed(lch[1]!, 1)} ${degrees(hue, 1)}` },
    { id: 'oklch', label: 'OKLCh', text: `${fixed(ok[0]!, 3)} ${fixed(ok[1]!, 3)} ${degrees(ok[2], 1)}` },
    { id: 'luminance', label: 'Luminance', text: fixed(luminance(color, condition), 3) },
  ];
  // what it was written in stands first
  const own = rows.findIndex((row) => row.id === color.space);
  if (own > 1) rows.unshift(...rows.splice(own, 1));
  if (own < 0 && color.space !== 'rgb')
    rows.unshift({ id: color.space, label: spaces[color.space].name, text: numbersOf(color).join(' ') });
  return rows;
}

/** A typed colour that could not be read; the message says why and what would do. */
export class NotationError extends Error {
  override name = 'NotationError';
}

const NUMBER = '([-+]?(?:\\d+\\.?\\d*|\\.\\d+))\\s*(%?)°?';
const SEPARATOR = '[\\s,;:/=]*';

/** Spaces by the letters of their channels, and by what else people call them. */
const LETTERED: { space: Space; letters: string; called: string }[] = [
  { space: 'cmyk', letters: 'CMYK', called: 'CMYK' },
  { space: 'hsb', letters: 'HSB', called: 'HSB|HSV' },
  { space: 'hsb', letters: 'HSV', called: 'HSV' },
  { space: 'hsl', letters: 'HSL', called: 'HSL' },
  { space: 'lch', letters: 'LCH', called: 'CIE\\s?L\\*?C\\*?h°?|L\\*?C\\*?h°?' },
  { space: 'lab', letters: 'LAB', called: 'CIE\\s?L\\*?a\\*?b\\*?|L\\*?a\\*?b\\*?' },
  { space: 'rgb', letters: 'RGB', called: 'RGB' },
];
const forms = LETTERED.flatMap(({ space, letters, called }) => [
  // L* 39 a* 55 b* 34
  { space, source: [...letters].map((l) => `${l}\\*?${SEPARATOR}${NUMBER}`).join(SEPARATOR) },
  // Lab 39 55 34
  {
    space,
    source: `(?:${called})${SEPARATOR}\\(?\\s*${[...letters].map(() => NUMBER).join('[\\s,;/]+')}\\s*\\)?`,
  },
]);
const GRAY = `gr[ae]y${SEPARATOR}\\(?\\s*${NUMBER}\\s*\\)?`;

const WHOLE = forms.map(({ space, source }) => ({ space, pattern: new RegExp(`^(?:${source})$`, 'i') }));
const WHOLE_GRAY = new RegExp(`^${GRAY}$`, 'i');

/** Finds lettered numbers inside a text; no letter or digit stands right before or behind them. */
export const LETTERED_NUMBERS = new RegExp(
  `(?<![\\p{L}\\p{N}.-])(?:${forms.map((f) => f.source).join('|')}|(?<=(?:^|[:=\\t])\\s*)${GRAY})(?![\\p{L}\\p{N}])`,
  'giu',
);

/** Reads `C 20 M 0 Y 80 K 0`, `cmyk(20 0 80 0)`, `Lab 39 55 34`, `HSB 12 80 60`, `gray 40`… into numbers. */
function lettered(text: string): Color | null {
  for (const { space, pattern } of WHOLE) {
    const match = pattern.exec(text);
    if (!match) continue;
    return {
      space,
      components: spaces[space].channels.map(
        (channel, i) =>
          Number(match[1 + 2 * i]) / (match[2 + 2 * i] ? 100 / channel.max : channel.shown.factor),
      ),
    };
  }
  const gray = WHOLE_GRAY.exec(text);
  return gray && { space: 'gray', components: [Number(gray[1]) / 100] };
}

/**
 * Reads one typed colour: hex with or without `#` (3 or 6 digits), any CSS Color 4 notation, or lettered
 * numbers as the trade writes them (`C 20 M 0 Y 80 K 0`, `Lab 39 55 34`, `gray 40`, RGB in 0–255).
 *
 * Every notation keeps its space and its numbers. Alpha is left out.
 * @throws NotationError when the text is not a colour or a number is out of range.
 */
export function parseColor(input: string): Color {
  const text = input.length > MAX_CHARACTERS ? '' : input.trim();
  const hex = /^#?([0-9a-f]{6}|[0-9a-f]{3})$/i.exec(text);
  const color = hex ? fromCss(`#${hex[1]}`)?.color : (lettered(text) ?? fromCss(text)?.color);
  if (!color) {
    throw new NotationError(
      `“${input.slice(0, 100)}” is not a colour Papillon can read. Try #2f7d6b, rgb(47 125 107), C 20 M 0 Y 80 K 0 or Lab 39 55 34.`,
    );
  }
  color.components.forEach((v, i) => {
    const { letter, min, max, shown } = spaces[color.space].channels[i];
    if (spaces[color.space].gamut !== color.space && (v < min - 1e-9 || v > max + 1e-9))
      throw new NotationError(
        `${letter} is ${fixed(v * shown.factor, shown.decimals)}; ${spaces[color.space].name} takes ${min * shown.factor} to ${max * shown.factor}.`,
      );
    if (color.space === 'rgb' && !hex && lettered(text) && (v < 0 || v > 1))
      throw new NotationError(`${letter} is ${v * 255}; RGB takes 0 to 255.`);
  });
  return color;
}

/** No notation of a colour is longer. */
const MAX_CHARACTERS = 500;
const PLAIN_HEX = /^#[0-9a-f]{6}$/i;

/** Spaces by the modes of culori that CSS can state; the others are brought to one that holds any colour. */
const MODES: Record<string, Space> = {
  ...{ rgb: 'rgb', hsl: 'hsl', hwb: 'hwb', lab: 'lab', lch: 'lch', oklab: 'oklab', oklch: 'oklch' },
  ...{ p3: 'p3', a98: 'a98', prophoto: 'prophoto', rec2020: 'rec2020' },
};

/** The spaces that CSS Color 4 can state. */
export const CSS_SPACES = [...new Set(Object.values(MODES))];

/** Any CSS Color 4 notation, or null, in its own space with its own numbers; alpha 0–1 is given when below 1. */
export function fromCss(text: string): { color: Color; alpha?: number } | null {
  // by far the most frequent, and a file may hold a hundred thousand
  if (PLAIN_HEX.test(text)) {
    const n = Number.parseInt(text.slice(1), 16);
    return { color: fromRgb8(n >> 16, (n >> 8) & 255, n & 255) };
  }
  if (text.length > MAX_CHARACTERS) return null;
  let c: CuloriColor | undefined;
  try {
    // CSS does not mind capitals, culori does
    c = parse(text.toLowerCase());
  } catch {
    // culori throws on some unfinished notations, such as an open bracket at the end
    return null;
  }
  if (!c) return null;
  const space = MODES[c.mode];
  const color: Color = space
    ? inRange({ space, components: numbersIn(c) }, /^\s*color\(/i.test(text))
    : { space: 'lab', components: spaces.lab.fromCulori(c) };
  if (!color.components.every(Number.isFinite)) return null;
  return c.alpha === undefined || c.alpha >= 1 ? { color } : { color, alpha: Math.max(0, c.alpha) };
}

const clamped = (v: number, max = 1) => Math.min(max, Math.max(0, v));

/**
 * A colour with its numbers as CSS computes them (CSS Color 4, 5–9): `rgb()`, `hsl()` and `hwb()` end with sRGB, a lightness with
 * black and white, a chroma at 0, and hues go round.
 * @param open whether its RGB numbers may lie outside, as those of `color()`
 */
function inRange({ space, components }: Color, open: boolean): Color {
  const [a = 0, b = 0, c = 0] = components;
  const hue = (h: number) => (h >= 0 && h <= 360 ? h : ((h % 360) + 360) % 360);
  switch (space) {
    case 'rgb':
      return open ? { space, components } : { space, components: components.map((v) => clamped(v)) };
    case 'hsl':
      return { space, components: [hue(a), clamped(b), clamped(c)] };
    case 'hwb': {
      // more white and black than there is room for is a grey of both (CSS Color 4, 8)
      const [white, black] = [Math.max(0, b), Math.max(0, c)];
      const sum = Math.max(1, white + black);
      return { space, components: [hue(a), white / sum, black / sum] };
    }
    case 'lab':
    case 'oklab':
      return { space, components: [clamped(a, spaces[space].channels[0]!.max), b, c] };
    case 'lch':
    case 'oklch':
      return { space, components: [clamped(a, spaces[space].channels[0]!.max), Math.max(0, b), hue(c)] };
    default:
      return { space, components };
  }
}

/** The numbers of a colour as they were written, by its channels; what is missing (`none`) counts as 0. */
const numbersIn = (c: CuloriColor): number[] =>
  (CHANNELS_OF[c.mode] ?? [...c.mode]).map((channel) => (Reflect.get(c, channel) as number | undefined) ?? 0);

/** Where the mode's name does not spell its channels. */
const CHANNELS_OF: Record<string, string[]> = Object.fromEntries([
  ...['rgb', 'p3', 'a98', 'prophoto', 'rec2020'].map((mode) => [mode, ['r', 'g', 'b']]),
  ['oklab', ['l', 'a', 'b']],
  ['oklch', ['l', 'c', 'h']],
]);

/** What CSS calls the RGB spaces. */
const RGB_IDS: Partial<Record<string, string>> = {
  ...{ rgb: 'srgb', p3: 'display-p3', a98: 'a98-rgb', prophoto: 'prophoto-rgb', rec2020: 'rec2020' },
};

/**
 * The shortest CSS Color 4 notation that carries the color: hex where 8 bits hold it exactly, else its own space where CSS has
 * it. HSB, gray and inks are brought to sRGB.
 */
export function toCss(color: Color, condition: Condition, alpha = 1): string {
  const opacity = alpha < 1 ? ` / ${alpha}` : '';
  const { space, components } = carried(color, CSS_SPACES, condition);
  const [a, b, c] = components as [number, number, number];
  if (space === 'hsl' || space === 'hwb') return `${space}(${a} ${b * 100}% ${c * 100}%${opacity})`;
  if (space !== 'rgb')
    return RGB_IDS[space]
      ? `color(${RGB_IDS[space]} ${a} ${b} ${c}${opacity})`
      : `${space}(${a} ${b} ${c}${opacity})`;
  const rgb8 = components.map((v) => Math.round(v * 255));
  // a color of no other device is written to the last bit; what was converted needs no more than 8
  if (color.space === 'rgb' && !components.every((v, i) => v === rgb8[i]! / 255))
    return `color(srgb ${a} ${b} ${c}${opacity})`;
  return opacity
    ? `rgb(${rgb8.join(' ')}${opacity})`
    : toHex(fromRgb8(rgb8[0]!, rgb8[1]!, rgb8[2]!), condition);
}

/** What looks like a colour where a number or a name may stand as well; null for all else. */
export function typedColor(text: string): Color | null {
  const bare = text.trim();
  if (!/^(#|[a-z]+\s*\(|(lab|lch|oklab|oklch|cmyk|rgb|hsb|hsl|hwb|gr[ae]y|c)\s*:?\s*[-+\d])/i.test(bare))
    return null;
  try {
    return parseColor(bare);
  } catch (error) {
    if (error instanceof NotationError) return null;
    throw error;
  }
}
