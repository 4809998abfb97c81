import {
  type Condition,
  encodeSrgb,
  type InterpolationId,
  labToOklab,
  mixing,
  type Oklab,
  oklabToLinear,
  shownLab,
} from '../color/index.ts';
import type { GradientData, ResolvedStop } from '../swatch/gradient.ts';

/** A color on a gradient: OKLab and how opaque it is, 0–1. */
export interface Shade {
  color: Oklab;
  alpha: number;
}

/** A place on the way with its color; of two at one place the first ends what is before, the second begins what is after. */
interface Point extends Shade {
  at: number;
}

/** How many short ways a longer one is made of. */
const PIECES = 8;

/** The gradient as points between which colors are mixed plainly, half and half in the middle. */
export function pointsOf(
  stops: readonly ResolvedStop[],
  way: InterpolationId,
  condition: Condition,
): Point[] {
  const own = (stop: ResolvedStop): Shade => ({
    color: labToOklab(shownLab(stop.color, condition)) as Oklab,
    alpha: stop.alpha,
  });
  const points: Point[] = [];
  stops.forEach((stop, i) => {
    const here = own(stop);
    points.push({ ...here, at: stop.at });
    const next = stops[i + 1];
    if (!next || next.at <= stop.at) return;
    const there = own(next);
    const long = way === 'oklch-longer';
    if (stop.middle === 0.5 && !long) return;
    // where both are mixed half and half; a longer way is laid in pieces, each of which is a shorter one
    const between = mixed(here, there, way);
    const parts = long ? Array.from({ length: PIECES - 1 }, (_, k) => (k + 1) / PIECES) : [0.5];
    for (const t of parts)
      points.push({ ...between(t), at: stop.at + (next.at - stop.at) * bent(t, stop.middle) });
  });
  return points;
}

/** Where a part of the mixing lies, when its middle is not in the middle: straight to it and straight on. */
const bent = (t: number, middle: number) => (t < 0.5 ? 2 * t * middle : middle + (2 * t - 1) * (1 - middle));

/** Mixes as CSS does: color by its opacity (CSS Color 4, section 12.3). */
function mixed(from: Shade, to: Shade, way: InterpolationId): (t: number) => Shade {
  if (from.alpha === to.alpha) {
    const mix = mixing(way, from.color, to.color);
    return (t) => ({ color: mix(t), alpha: from.alpha });
  }
  const mix = mixing(way, from.color, to.color);
  return (t) => {
    const alpha = from.alpha + (to.alpha - from.alpha) * t;
    // as much of each color as its opacity lends it; hues go by the plain part
    const weight = alpha > 0 ? (to.alpha * t) / alpha : t;
    return { color: mix(weight, t), alpha };
  };
}

/** The way colors are mixed between points, where the longer way has been laid in pieces. */
const plainWay = (way: InterpolationId): InterpolationId => (way === 'oklch-longer' ? 'oklch' : way);

/** A gradient that can be asked for the shade at a part of its length, 0–1. */
export function shading(
  { way, steps }: Pick<GradientData, 'way' | 'steps'>,
  stops: readonly ResolvedStop[],
  condition: Condition,
): (t: number) => Shade {
  const points = pointsOf(stops, way, condition);
  const ways = points.slice(1).map((to, i) => mixed(points[i]!, to, plainWay(way)));
  const smooth = (t: number): Shade => {
    if (t <= points[0]!.at) return points[0]!;
    const after = points.findIndex((p) => p.at > t);
    if (after < 0) return points.at(-1)!;
    const [from, to] = [points[after - 1]!, points[after]!];
    return ways[after - 1]!((t - from.at) / (to.at - from.at));
  };
  if (!steps) return smooth;
  return (t) => smooth(steps === 1 ? 0.5 : Math.min(steps - 1, Math.floor(t * steps)) / (steps - 1));
}

/** Encoded sRGB, each channel cut off where a screen cuts it off. */
export const shadeToRgb = ({ color: [L, a, b] }: Shade): [number, number, number] => {
  const [r, g, bl] = oklabToLinear(L, a, b).map((v) => Math.min(1, Math.max(0, encodeSrgb(v))));
  return [r!, g!, bl!];
};

/** A stop that any program can mix plainly in sRGB. */
export interface PlainStop {
  at: number;
  rgb: [number, number, number];
  alpha: number;
}

/** No channel is off by more than this between plain stops, of 1. */
const OFF = 0.2 / 255;
const MIN_STEP = 1 / 4096;

/**
 * Stops that come to the same when they are mixed in sRGB without regard to opacity, as drawings and older programs do it: as
 * many as it takes to stay within a fifth of 1/255.
 */
export function plainStops(
  data: Pick<GradientData, 'way' | 'steps'>,
  stops: readonly ResolvedStop[],
  condition: Condition,
): PlainStop[] {
  const shade = shading(data, stops, condition);
  const at = (t: number): PlainStop => {
    const here = shade(t);
    return { at: t, rgb: shadeToRgb(here), alpha: here.alpha };
  };
  if (data.steps) {
    const n = data.steps;
    return Array.from({ length: n }, (_, i) => {
      const flat = at((i + 0.5) / n);
      return [
        { ...flat, at: i / n },
        { ...flat, at: (i + 1) / n },
      ];
    }).flat();
  }
  const points = pointsOf(stops, data.way, condition);
  const ways = points.slice(1).map((to, i) => mixed(points[i]!, to, plainWay(data.way)));
  const plain = (shadeHere: Shade, t: number): PlainStop => ({
    at: t,
    rgb: shadeToRgb(shadeHere),
    alpha: shadeHere.alpha,
  });
  const made: PlainStop[] = points.length > 0 ? [plain(points[0]!, points[0]!.at)] : [];
  ways.forEach((way, i) => {
    const [from, to] = [points[i]!, points[i + 1]!];
    if (to.at > from.at) {
      const place = (t: number) => from.at + (to.at - from.at) * t;
      const divide = (a: number, b: number, first: PlainStop, last: PlainStop) => {
        const wrong = [0.25, 0.5, 0.75].some((part) => {
          const t = a + (b - a) * part;
          const here = plain(way(t), 0);
          return [0, 1, 2].some((c) => {
            const straight = first.rgb[c]! + (last.rgb[c]! - first.rgb[c]!) * part;
            return Math.abs(here.rgb[c]! - straight) > OFF;
          });
        });
        if (wrong && (b - a) * (to.at - from.at) > MIN_STEP) {
          const middle = (a + b) / 2;
          const between = plain(way(middle), place(middle));
          divide(a, middle, first, between);
          made.push(between);
          divide(middle, b, between, last);
        }
      };
      divide(0, 1, plain(way(0), from.at), plain(way(1), to.at));
    }
    made.push(plain(to, to.at));
  });
  return made;
}

/** A strip of pixels, RGBA, every row the same. */
export function paintGradient(
  data: Pick<GradientData, 'way' | 'steps'>,
  stops: readonly ResolvedStop[],
  condition: Condition,
  width: number,
): Uint8ClampedArray<ArrayBuffer> {
  const shade = shading(data, stops, condition);
  const pixels = new Uint8ClampedArray(width * 4);
  for (let x = 0; x < width; x++) {
    const here = shade((x + 0.5) / width);
    shadeToRgb(here).forEach((v, c) => {
      pixels[4 * x + c] = Math.round(v * 255);
    });
    pixels[4 * x + 3] = Math.round(here.alpha * 255);
  }
  return pixels;
}
