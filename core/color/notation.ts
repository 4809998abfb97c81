import { converter, parse } from './culori.ts';
import type { Color } from './model.ts';
import { fromRgb8, inSrgb, luminance, spaces, toCulori, toHex, toRgb8 } from './spaces.ts';

const toHsl = converter('hsl');
const toOklch = converter('oklch');

/** One line of a readout: what it is called, and the value as text to show and to copy. */
export interface Notation {
  id: string;
  label: string;
  text: string;
}

const fixed = (v: number, decimals: number) =>
  (Math.abs(v) < 0.5 * 10 ** -decimals ? 0 : v).toFixed(decimals);
const degrees = (v: number | undefined, decimals: number) => `${fixed(v ?? 0, decimals)}°`;
const percent = (v: number) => `${fixed(v * 100, 0)} %`;

/** The colour's components as a person of the trade reads them, e.g. `C 20 M 0 Y 80 K 0`. */
export function authored(color: Color): string {
  return color.components
    .map((v, i) => {
      const { letter, shown } = spaces[color.space].channels[i];
      return `${letter} ${fixed(v * shown.factor, shown.decimals)}`;
    })
    .join('  ');
}

/**
 * A colour in every notation of the readout. Digits are cut to what the 8-bit or measured source can hold:
 * whole numbers for RGB and percentages, one decimal for CIE, three for OKLCh.
 */
export function notations(color: Color): Notation[] {
  const c = toCulori(color);
  const hsb = spaces.hsb.fromCulori(c);
  const hsl = toHsl(c);
  const lab = spaces.lab.fromCulori(c);
  const chroma = Math.hypot(lab[1], lab[2]);
  const hue = chroma < 0.05 ? 0 : ((Math.atan2(lab[2], lab[1]) * 180) / Math.PI + 360) % 360;
  const ok = toOklch(c);
  const rows: Notation[] = [
    { id: 'hex', label: 'Hex', text: toHex(color).toUpperCase() },
    { id: 'rgb', label: 'RGB', text: toRgb8(color).join(' ') },
    { id: 'hsb', label: 'HSB', text: `${degrees(hsb[0], 0)} ${percent(hsb[1])} ${percent(hsb[2])}` },
    { id: 'hsl', label: 'HSL', text: `${degrees(hsl.h, 0)} ${percent(hsl.s)} ${percent(hsl.l)}` },
    { id: 'lab', label: 'Lab D50', text: lab.map((v) => fixed(v, 1)).join(' ') },
    { id: 'lch', label: 'LCh D50', text: `${fixed(lab[0], 1)} ${fixed(chroma, 1)} ${degrees(hue, 1)}` },
    { id: 'oklch', label: 'OKLCh', text: `${fixed(ok.l, 3)} ${fixed(ok.c, 3)} ${degrees(ok.h, 1)}` },
    { id: 'luminance', label: 'Luminance', text: fixed(luminance(color), 3) },
  ];
  if (color.space === 'cmyk' || color.space === 'gray') {
    const text = color.components.map((v) => fixed(v * 100, 0)).join(' ');
    rows.unshift({ id: color.space, label: spaces[color.space].name, text: `${text} %` });
  }
  return rows;
}

/** Whether the readout's hex and RGB are a clipped stand-in for a colour sRGB cannot show. */
export const isClipped = (color: Color) => !inSrgb(color);

/** A typed colour that could not be read; the message says why and what would do. */
export class NotationError extends Error {
  override name = 'NotationError';
}

const NUMBER = '([-+]?(?:\\d+\\.?\\d*|\\.\\d+))\\s*(%?)°?';
const SEPARATOR = '[\\s,;:/=]*';

/** Spaces by the letters of their channels, and by what else people call them. */
const LETTERED: { space: Color['space'] | 'hsl'; letters: string; called: string }[] = [
  { space: 'cmyk', letters: 'CMYK', called: 'CMYK' },
  { space: 'hsb', letters: 'HSB', called: 'HSB|HSV' },
  { space: 'hsb', letters: 'HSV', called: 'HSV' },
  { space: 'hsl', letters: 'HSL', called: 'HSL' },
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
    if (space === 'hsl') return fromCss(`hsl(${match[1]} ${match[3]}% ${match[5]}%)`)?.color ?? null;
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
 * CSS `lab()` keeps its space; other CSS notations become `rgb`, unclipped. Alpha is left out.
 * @throws NotationError when the text is no colour or a number is out of range.
 */
export function parseColor(input: string): Color {
  const text = input.length > LONGEST ? '' : input.trim();
  const hex = /^#?([0-9a-f]{6}|[0-9a-f]{3})$/i.exec(text);
  const color = hex ? fromCss(`#${hex[1]}`)?.color : (lettered(text) ?? fromCss(text)?.color);
  if (!color) {
    throw new NotationError(
      `“${input.slice(0, 100)}” is not a colour Papillon can read. Try #2f7d6b, rgb(47 125 107), C 20 M 0 Y 80 K 0 or Lab 39 55 34.`,
    );
  }
  color.components.forEach((v, i) => {
    const { letter, min, max, shown } = spaces[color.space].channels[i];
    if (color.space !== 'rgb' && (v < min - 1e-9 || v > max + 1e-9))
      throw new NotationError(
        `${letter} is ${fixed(v * shown.factor, shown.decimals)}; ${spaces[color.space].name} takes ${min * shown.factor} to ${max * shown.factor}.`,
      );
    if (color.space === 'rgb' && !hex && lettered(text) && (v < 0 || v > 1))
      throw new NotationError(`${letter} is ${v * 255}; RGB takes 0 to 255.`);
  });
  return color;
}

/** No notation of a colour is longer. */
const LONGEST = 500;
const PLAIN_HEX = /^#[0-9a-f]{6}$/i;

/** Any CSS Color 4 notation, or null. `lab()` keeps its space and numbers; alpha 0–1 is given when below 1. */
export function fromCss(text: string): { color: Color; alpha?: number } | null {
  // by far the most frequent, and a file may hold a hundred thousand
  if (PLAIN_HEX.test(text)) {
    const n = Number.parseInt(text.slice(1), 16);
    return { color: fromRgb8(n >> 16, (n >> 8) & 255, n & 255) };
  }
  if (text.length > LONGEST) return null;
  let c: ReturnType<typeof parse>;
  try {
    // CSS does not mind capitals, culori does
    c = parse(text.toLowerCase());
  } catch {
    // culori throws on some unfinished notations, such as an open bracket at the end
    return null;
  }
  if (!c) return null;
  const color: Color =
    c.mode === 'lab'
      ? { space: 'lab', components: [c.l ?? 0, c.a ?? 0, c.b ?? 0] }
      : { space: 'rgb', components: spaces.rgb.fromCulori(c) };
  if (!color.components.every(Number.isFinite)) return null;
  return c.alpha === undefined || c.alpha >= 1 ? { color } : { color, alpha: Math.max(0, c.alpha) };
}

/**
 * The shortest CSS Color 4 notation that carries the colour: hex where 8 bits hold it exactly, `lab()` for
 * Lab, `color(srgb …)` otherwise. CMYK and HSB are converted to sRGB.
 */
export function toCss(color: Color, alpha = 1): string {
  const opacity = alpha < 1 ? ` / ${alpha}` : '';
  if (color.space === 'lab') return `lab(${color.components.join(' ')}${opacity})`;
  const rgb = spaces.rgb.fromCulori(toCulori(color));
  const rgb8 = toRgb8(color);
  if (!rgb.every((v, i) => v === rgb8[i] / 255)) return `color(srgb ${rgb.join(' ')}${opacity})`;
  return opacity ? `rgb(${rgb8.join(' ')}${opacity})` : toHex(color);
}
