import { color as computed, SyntaxFlag } from '@csstools/css-color-parser';
import { parseComponentValue } from '@csstools/css-parser-algorithms';
import { tokenize } from '@csstools/css-tokenizer';
import { commaParts } from '../text/text.ts';
import type { Color } from './model.ts';
import { fromCss } from './notation.ts';
import { spaces } from './spaces.ts';

/** No colour that anybody wrote is longer, and none that is has to be computed. */
const MAX_CHARACTERS = 2000;
const MAX_DEPTH = 30;

/** Values that are meant for a colour, whether or not they can be computed. */
export const COLOR_FUNCTION =
  /^\s*(?:rgba?|hsla?|hwb|lab|lch|oklab|oklch|color|color-mix|light-dark|device-cmyk|contrast-color)\(/i;

/**
 * Any color of CSS Color 5: mixes, relative colors, `calc()` and its like within colors, `light-dark()` as on a light page, and
 * `device-cmyk()` with its inks; null for what is none, or depends on the page. Alpha 0–1 is given when below 1.
 *
 * It is as the package css-color-parser computes it, and {@link fromCss} where nothing is to compute.
 */
export function computedCss(text: string): { color: Color; alpha?: number } | null {
  const plain = fromCss(text.trim());
  if (plain || text.length > MAX_CHARACTERS || !COLOR_FUNCTION.test(text) || isDeep(text)) return plain;
  const light = onLightPage(text);
  const inks = inksIn(light);
  if (inks) return inks;
  try {
    const value = parseComponentValue(tokenize({ css: light }));
    const found = value ? computed(value) : false;
    if (!found || typeof found.alpha !== 'number') return null;
    const [a, b, c] = found.channels.map((v) => (Number.isNaN(v) ? 'none' : v));
    const alpha = found.alpha < 1 ? ` / ${found.alpha}` : '';
    // what is mixed or made of another color may lie outside sRGB, what is written in its numbers may not
    const isMixed =
      found.syntaxFlags.has(SyntaxFlag.ColorMix) || found.syntaxFlags.has(SyntaxFlag.RelativeColorSyntax);
    const name: string = found.colorNotation;
    if (name === 'hex' || name === 'rgb') {
      const percent = (v: number | string | undefined) => (typeof v === 'number' ? `${v * 100}%` : 'none');
      return fromCss(
        isMixed ? `color(srgb ${a} ${b} ${c}${alpha})` : `rgb(${[a, b, c].map(percent).join(' ')}${alpha})`,
      );
    }
    if (isMixed && (name === 'hsl' || name === 'hwb')) {
      const numbers = found.channels.map((v, i) => (Number.isNaN(v) ? 0 : i === 0 ? v : v / 100));
      const rgb = spaces.rgb.fromCulori(spaces[name].toCulori(numbers));
      return fromCss(`color(srgb ${rgb.join(' ')}${alpha})`);
    }
    const unit = name === 'hsl' || name === 'hwb' ? '%' : '';
    const numbers = `${a} ${b === 'none' ? b : `${b}${unit}`} ${c === 'none' ? c : `${c}${unit}`}${alpha}`;
    return fromCss(
      /^(?:hsl|hwb|(?:ok)?lab|(?:ok)?lch)$/.test(name) ? `${name}(${numbers})` : `color(${name} ${numbers})`,
    );
  } catch {
    // a package that gives up has not found a color
    return null;
  }
}

function isDeep(text: string): boolean {
  let depth = 0;
  for (const c of text) {
    if (c === '(' && ++depth > MAX_DEPTH) return true;
    if (c === ')') depth--;
  }
  return false;
}

/** Where the bracket closes that stands open before this place; the end of the text where none does. */
function closing(text: string, from: number): number {
  let depth = 1;
  for (let i = from; i < text.length; i++) {
    if (text[i] === '(') depth++;
    else if (text[i] === ')' && --depth === 0) return i;
  }
  return text.length;
}

/** `light-dark(a, b)` as both of its colors (CSS Color 5, 8); null for everything else. */
export function lightAndDark(value: string): [light: string, dark: string] | null {
  const open = /^\s*light-dark\(/i.exec(value)?.[0].length;
  if (open === undefined) return null;
  const end = closing(value, open);
  const [light, dark, ...more] = commaParts(value.slice(open, end));
  return light && dark && more.length === 0 && value.slice(end + 1).trim() === '' ? [light, dark] : null;
}

/** A value with every `light-dark()` in it as on a light page. */
function onLightPage(text: string): string {
  const at = text.search(/light-dark\(/i);
  if (at < 0) return text;
  const end = closing(text, at + 'light-dark('.length);
  const [light = ''] = lightAndDark(text.slice(at, end + 1)) ?? [];
  return onLightPage(text.slice(0, at) + light + text.slice(end + 1));
}

/** `device-cmyk(0 100% 100% 0 / 50%)` (CSS Color 5, 11). */
function inksIn(text: string): { color: Color; alpha?: number } | null {
  const inside = /^\s*device-cmyk\(([^()]*)\)\s*$/i.exec(text)?.[1];
  if (inside === undefined) return null;
  const numbers = inside.split(/[\s,/]+/).filter(Boolean);
  const values = numbers.map((n) => Number.parseFloat(n) / (n.endsWith('%') ? 100 : 1));
  const inRange = values.map((v) => Math.min(1, Math.max(0, v)));
  if (values.length < 4 || values.length > 5 || !values.every(Number.isFinite)) return null;
  const alpha = inRange[4] ?? 1;
  return { color: { space: 'cmyk', components: inRange.slice(0, 4) }, ...(alpha < 1 ? { alpha } : {}) };
}
