import {
  type Color,
  type Condition,
  contrastOf,
  convert,
  decodeSrgb,
  encodeSrgb,
  type InterpolationId,
  type Lab,
  linearLuminance,
  luminance,
  mixing,
  type Oklab,
  type Oklch,
  oklabToLab,
  oklabToLinear,
  oklabToOklch,
  oklchToOklab,
} from '../color/index.ts';
import { uniquely } from '../text/text.ts';

import { circleById } from './circles.ts';
import { Way } from './even.ts';
import { fitted } from './family.ts';
import type { Gamut } from './gamuts.ts';
import { SRGB } from './gamuts.ts';

export const MIN_STEPS = 3;
export const MAX_STEPS = 24;

/** What is the same from each step to the next. */
export type Evenness = 'way' | 'lightness' | 'difference';

export interface ScaleAsked {
  /** What it leads through, one or more. One alone leads from near white through it to near black. */
  through: Color[];
  steps: number;
  way: InterpolationId;
  even: Evenness;
}

const perceptual = circleById('perceptual');
const oklabOf = (color: Color, condition: Condition) =>
  convert(color, 'oklab', condition).components as Oklab;

/** Where a scale of one color begins and ends: as light and dark as a screen of an interface mostly has its steps. */
const ENDS: Oklch[] = [
  [0.972, 0.018, 0],
  [0.24, 0.06, 0],
];

/** Steps from color to color. Ends, and colors that a step meets exactly, stay as they were authored. */
export function scaleOf(
  { through, steps, way, even }: ScaleAsked,
  gamut: Gamut,
  condition: Condition,
): Color[] {
  const given = through.map((c) => oklabOf(c, condition));
  const points = given.length === 1 ? aroundOne(given[0]!) : given;
  const spans = points.slice(1).map((to, i) => mixing(way, points[i]!, to));
  const at = (t: number): Oklch => {
    const span = Math.min(spans.length - 1, Math.floor(t * spans.length));
    const [L, C, h] = oklabToOklch(spans[span]!(t * spans.length - span));
    return fitted([L, C, h], perceptual, gamut).lch;
  };
  return places(at, steps, even).map((t) => {
    const met = given.length > 1 ? Math.round(t * spans.length) : -1;
    const own = through[met];
    if (own && Math.abs(t * spans.length - met) < 1e-9 && holds(gamut, given[met]!)) return own;
    return { space: 'oklch', components: at(t) };
  });
}

const holds = (gamut: Gamut, [L, a, b]: Oklab) => gamut.holds(L, a, b);

function aroundOne(color: Oklab): Oklab[] {
  const [, C, h] = oklabToOklch(color);
  const [light, dark] = ENDS.map(([L, c]): Oklab => oklchToOklab([L, Math.min(c, C), h]));
  return [light!, color, dark!];
}

function places(at: (t: number) => Oklch, steps: number, even: Evenness): number[] {
  const plain = Array.from({ length: steps }, (_, i) => i / (steps - 1 || 1));
  const lab = (t: number): Lab => oklabToLab(oklchToOklab(at(t)));
  if (even === 'difference') return new Way(lab).even(steps);
  if (even === 'way') return plain;
  // the way up and down in lightness, laid out straight
  const N = 512;
  const sums = [0];
  let before = lab(0)[0];
  for (let i = 1; i <= N; i++) {
    const here = lab(i / N)[0];
    sums.push(sums[i - 1]! + Math.abs(here - before));
    before = here;
  }
  const whole = sums[N]!;
  if (whole < 1) return plain;
  return plain.map((part, i) => {
    if (i === 0 || i === steps - 1) return part;
    const wanted = part * whole;
    const after = sums.findIndex((s) => s >= wanted);
    const [low, high] = [sums[after - 1]!, sums[after]!];
    return (after - 1 + (high > low ? (wanted - low) / (high - low) : 0)) / N;
  });
}

/** A step of a contrast scale. */
export interface ContrastStep {
  /** sRGB, in whole numbers of 8 bits: the ratio holds for what is written, and is never less than was asked for. */
  color: Color;
  wanted: number;
  contrast: number;
}

/** How close 8 bits come to a ratio. */
const NEAR = 0.02;

/**
 * Steps of a color at WCAG ratios on a ground: its hue, with as much of its chroma as there is room for.
 *
 * Source of the ratio: WCAG 2.2, “contrast ratio”.
 * @param ratios 1–21
 * @returns null for ratios that nothing has on this ground
 */
export function contrastScale(
  color: Color,
  ground: Color,
  ratios: readonly number[],
  condition: Condition,
): (ContrastStep | null)[] {
  const [, C, h] = oklabToOklch(oklabOf(color, condition));
  const y = luminance(ground, condition);
  const rgbAt = (L: number) => {
    const [l, a, b] = oklchToOklab(fitted([L, C, h], perceptual, SRGB).lch);
    return oklabToLinear(l, a, b);
  };
  const ratioAt = (L: number) => contrastOf(linearLuminance(rgbAt(L)), y);
  // darker on a light ground and lighter on a dark one, whichever reaches further
  const end = ratioAt(0) >= ratioAt(1) ? 0 : 1;
  return ratios.map((wanted) => {
    if (wanted > ratioAt(end) + 1e-6 || wanted < 1) return null;
    // from the ground's own lightness to the end the ratio grows
    let [near, far] = [groundLightness(y), end as number];
    for (let i = 0; i < 50; i++) {
      const middle = (near + far) / 2;
      if (ratioAt(middle) < wanted) near = middle;
      else far = middle;
    }
    return inWholeNumbers(rgbAt(far).map(encodeSrgb), y, wanted);
  });
}

/** OKLab's lightness of the grey with a luminance: cube root, as its matrices sum to one. */
const groundLightness = (y: number) => Math.cbrt(Math.max(0, y));

/** The luminance that each of 256 levels of a channel gives, linear. */
const LINEAR = Float64Array.from({ length: 256 }, (_, i) => decodeSrgb(i / 255));

/** The 8-bit color closest to one among those that have the ratio: looked for further around where none is near. */
function inWholeNumbers(rgb: number[], ground: number, wanted: number): ContrastStep {
  for (const reach of [3, 12, 48]) {
    const found = closestWith(rgb, ground, wanted, reach);
    if (found) return found;
  }
  // black and white are all there is at the ends
  const own = rgb.map((v) => Math.round(v * 255) / 255);
  const contrast = contrastOf(linearLuminance(own.map(decodeSrgb)), ground);
  return { color: { space: 'rgb', components: own }, wanted, contrast };
}

function closestWith(rgb: number[], ground: number, wanted: number, reach: number): ContrastStep | null {
  // a level of green weighs more than many of the others
  const around = rgb.map((v, channel) => {
    const middle = Math.round(v * 255);
    const side = channel === 1 ? Math.min(reach, 6) : reach;
    return Array.from({ length: 2 * side + 1 }, (_, d) => middle - side + d).filter(
      (n) => n >= 0 && n <= 255,
    );
  });
  let least = Number.POSITIVE_INFINITY;
  let best: number[] | null = null;
  for (const r of around[0]!)
    for (const g of around[1]!)
      for (const b of around[2]!) {
        const contrast = contrastOf(linearLuminance([LINEAR[r]!, LINEAR[g]!, LINEAR[b]!]), ground);
        // one that fails passes no test that asks for the ratio
        if (contrast < wanted - 1e-9 || contrast > wanted + NEAR) continue;
        const away = (r - rgb[0]! * 255) ** 2 + (g - rgb[1]! * 255) ** 2 + (b - rgb[2]! * 255) ** 2;
        if (away < least) {
          least = away;
          best = [r, g, b];
        }
      }
  if (!best) return null;
  const contrast = contrastOf(linearLuminance(best.map((n) => LINEAR[n]!)), ground);
  return { color: { space: 'rgb', components: best.map((n) => n / 255) }, wanted, contrast };
}

/** Ratios that steps of an interface mostly have, from a ground's tint to text (common practice, no source). */
export function usualRatios(steps: number, most = 15): number[] {
  return Array.from({ length: steps }, (_, i) => {
    const ratio = 1.07 * (most / 1.07) ** (i / (steps - 1 || 1));
    return Math.round(ratio * 100) / 100;
  });
}

/** What tells a step of a scale from the others. */
export interface StepFacts {
  /** L*, 0–100. */
  lightness: number;
  /** WCAG, on the ground, where the scale is one of contrasts. */
  contrast?: number;
}

/**
 * Names of steps by a pattern: `{name}` is what they are of, `{lightness}` and `{contrast}` are their own, `{step}` is the contrast
 * where there is one and else the lightness, `{n}` counts from 1. A pattern without any of these gets the step behind it; names
 * that would be the same are numbered.
 */
export function stepNames(pattern: string, name: string, steps: readonly StepFacts[]): string[] {
  const numbered = /\{(?:step|lightness|contrast|n)\}/.test(pattern)
    ? pattern
    : `${pattern || '{name}'}-{step}`;
  const unique = uniquely('-');
  return steps.map(({ lightness, contrast }, i) => {
    const light = lightness.toFixed(0);
    const ratio = contrast === undefined ? light : String(Number(contrast.toFixed(2)));
    const words: Record<string, string> = {
      name,
      lightness: light,
      contrast: ratio,
      step: ratio,
      n: String(i + 1),
    };
    return unique(numbered.replace(/\{(\w+)\}/g, (all, word) => words[word] ?? all));
  });
}
