import {
  type Color,
  type Condition,
  fromCss,
  type InterpolationId,
  interpolationById,
  interpolations,
} from '../color/index.ts';
import { type Gradient, MAX_STOPS, type ResolvedStop, type Stop } from '../swatch/gradient.ts';
import { commaParts } from '../text/text.ts';
import { plainStops, pointsOf, shadeToRgb, shading } from './paint.ts';

const percent = (v: number) => `${Number((v * 100).toFixed(4))}%`;
const n = (v: number) => String(Number(v.toFixed(5)));
const rgbText = (rgb: readonly number[], alpha: number) =>
  `rgb(${rgb.map((v) => n(v * 255)).join(' ')}${alpha < 1 ? ` / ${n(alpha)}` : ''})`;

/** A gradient as stops of plain sRGB, which every browser draws alike (CSS Images 3). */
export function cssFallback(
  { data }: Gradient,
  stops: readonly ResolvedStop[],
  condition: Condition,
): string {
  const list = plainStops(data, stops, condition).map((s) => `${rgbText(s.rgb, s.alpha)} ${percent(s.at)}`);
  return `linear-gradient(90deg, ${list.join(', ')})`;
}

/**
 * A gradient in the space it is mixed in (CSS Images 4): with the swatches it leads through by name where it can, so that they
 * recolour it.
 *
 * @param named what a swatch is called in the sheet, such as `var(--hull)`; null where it is not in it
 */
export function cssGradient(
  { data }: Gradient,
  stops: readonly ResolvedStop[],
  condition: Condition,
  named: (stop: ResolvedStop) => string | null,
): string {
  const way = interpolationById(data.way);
  if (data.steps) {
    const shade = shading(data, stops, condition);
    const flat = Array.from({ length: data.steps }, (_, i) => {
      const here = shade((i + 0.5) / data.steps!);
      return `${rgbText(shadeToRgb(here), here.alpha)} ${percent(i / data.steps!)} ${percent((i + 1) / data.steps!)}`;
    });
    return `linear-gradient(90deg, ${flat.join(', ')})`;
  }
  const own = new Map(stops.map((s) => [s.at, s] as const));
  const list = pointsOf(stops, data.way, condition).map((point) => {
    const stop = own.get(point.at);
    const alpha = stop?.alpha ?? point.alpha;
    const color = stop && alpha === (stop.swatch?.alpha ?? 1) ? named(stop) : null;
    const [L, a, b] = point.color;
    return `${color ?? `oklab(${n(L)} ${n(a)} ${n(b)}${alpha < 1 ? ` / ${n(alpha)}` : ''})`} ${percent(point.at)}`;
  });
  // the longer way has been laid in pieces, each of which is the shorter
  const space = data.way === 'oklch-longer' ? 'oklch' : way.css;
  return `linear-gradient(90deg in ${space}, ${list.join(', ')})`;
}

/** A gradient as it is read: its colors are the file's own. */
export interface ReadGradient {
  stops: (Omit<Stop, 'ref'> & { name?: string })[];
  way: InterpolationId;
}

const KIND = /^(repeating-)?(linear|radial|conic)-gradient\(([\s\S]*)\)$/i;
const SPACE = /\bin\s+([\w-]+)(?:\s+(shorter|longer|increasing|decreasing)\s+hue)?/i;
const PLACE = String.raw`-?(?:\d+\.?\d*|\.\d+)(?:%|deg|turn|g?rad)|0`;
const PLACES = new RegExp(String.raw`\s+(${PLACE})(?:\s+(${PLACE}))?$`, 'i');
/** How a gradient begins that says more than its stops. */
const DIRECTION =
  /^(?:to\s|from\s|at\s|in\s|circle|ellipse|closest-|farthest-|-?[\d.]+(?:deg|turn|g?rad|px|%|r?em)?(?:\s|$))/i;
/** What 1 is of each unit; of a length nobody knows what it is a part of. */
const UNITS: Record<string, number> = { deg: 360, turn: 1, grad: 400, rad: 2 * Math.PI };

/** A place as a part of the whole; angles only where the gradient goes round. */
function placeOf(text: string, angles: boolean): number {
  const value = Number.parseFloat(text);
  const unit = /[a-z%]*$/i.exec(text)![0].toLowerCase();
  if (unit === '%') return value / 100;
  if (unit === '') return 0;
  return angles ? value / UNITS[unit]! : Number.NaN;
}

const wayOf = (space: string, hue: string | undefined): InterpolationId | null => {
  if (space === 'oklch' || space === 'lch' || space === 'hsl' || space === 'hwb')
    return hue?.toLowerCase() === 'longer' ? 'oklch-longer' : 'oklch';
  return interpolations.find((i) => i.css === space)?.id ?? null;
};

/**
 * A CSS gradient, whichever its shape; null when the text is none, or a stop of it is not a color.
 *
 * Source: CSS Images 4, “color stop list fixup”.
 * @param lookUp the color of a custom property, by its name without the dashes
 * @param colorIn how a color is read
 */
export function readCssGradient(
  text: string,
  lookUp: (name: string) => { color: Color; alpha?: number } | null,
  colorIn: typeof fromCss = fromCss,
): ReadGradient | null {
  const match = KIND.exec(text.trim());
  if (!match) return null;
  const list = commaParts(match[3]!);
  if (list.length > 2 * MAX_STOPS) return null;
  const colorOf = (word: string) => {
    const variable = /^var\(\s*--([^,)\s]+)/.exec(word);
    const found = variable ? lookUp(variable[1]!) : colorIn(word);
    return found && { ...found, ...(variable ? { name: variable[1]! } : {}) };
  };
  let way: InterpolationId | null = null;
  const first = list[0] ?? '';
  const space = SPACE.exec(first);
  if (space) way = wayOf(space[1]!.toLowerCase(), space[2]);
  const begins = DIRECTION.test(first) && !colorOf(first.replace(PLACES, '')) ? 1 : 0;
  interface Loose {
    color: Color;
    alpha?: number;
    name?: string;
    at: number | null;
    middle?: number;
  }
  const stops: Loose[] = [];
  const angles = match[2]!.toLowerCase() === 'conic';
  for (const part of list.slice(begins)) {
    const hint = /^(-?[\d.]+)%$/.exec(part);
    if (hint && stops.length > 0) {
      stops.at(-1)!.middle = Number(hint[1]) / 100;
      continue;
    }
    const places = PLACES.exec(part);
    const color = colorOf(places ? part.slice(0, places.index) : part);
    if (!color) return null;
    const at = (k: number) => (places?.[k] === undefined ? null : placeOf(places[k], angles));
    const [from, to] = [at(1), at(2)];
    if ([from, to].some((v) => Number.isNaN(v))) return null;
    stops.push({ ...color, at: from });
    if (to !== null) stops.push({ ...color, at: to });
  }
  if (stops.length < 2) return null;
  stops[0]!.at ??= 0;
  stops.at(-1)!.at ??= 1;
  let before = 0;
  stops.forEach((stop, i) => {
    if (stop.at === null) {
      // evenly up to the next that says where it is
      const next = stops.findIndex((s, k) => k > i && s.at !== null);
      stop.at = before + (stops[next]!.at! - before) / (next - i + 1);
    }
    stop.at = before = Math.max(before, stop.at);
  });
  // beyond both ends there is nothing to be seen of it
  const [low, high] = [Math.min(0, stops[0]!.at!), Math.max(1, stops.at(-1)!.at!)];
  const scaled = (v: number) => (low === 0 && high === 1 ? v : (v - low) / (high - low));
  const legacy = ['rgb', 'hsl', 'hwb'];
  return {
    way: way ?? (stops.every((s) => legacy.includes(s.color.space)) ? 'srgb' : 'oklab'),
    stops: stops.map(({ at, middle, ...stop }, i) => {
      const next = stops[i + 1]?.at;
      const room = next != null ? next - at! : 0;
      const half =
        middle !== undefined && room > 0 ? Math.min(1, Math.max(0, (middle - at!) / room)) : undefined;
      return { ...stop, at: scaled(at!), ...(half === undefined || half === 0.5 ? {} : { middle: half }) };
    }),
  };
}
