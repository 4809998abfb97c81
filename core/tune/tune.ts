import {
  type Color,
  type Condition,
  convert,
  deltaE00,
  type Lab,
  linearLuminance,
  type Oklch,
  oklabToLab,
  oklabToLinear,
  oklabToOklch,
  oklchToOklab,
  toLab,
} from '../color/index.ts';
import type { Gamut } from '../harmony/index.ts';
import type { Swatch } from '../swatch/model.ts';
import { type Cones, type Light, relighter } from './lights.ts';
import { isTunable } from './tunable.ts';

// Colours moved together: each operation keeps what they are to each other, or changes just that.

/** What of a color is made even. */
export const EVEN = ['lightness', 'chroma', 'hue'] as const;
export type Even = (typeof EVEN)[number];

/** Where many colors lie: mean and standard deviation of OKLab. */
export interface Spread {
  mean: readonly number[];
  deviation: readonly number[];
}

/** What is done, in this order. Shares are percent. */
export interface Tuning {
  /** Of one swatch alone: its color by its own numbers, in whatever space; what follows starts from it. */
  values?: Color;
  /** As another light would show them. */
  relight?: { from: Light; to: Light; cones?: Cones };
  /** Towards the mean and spread of others. */
  match?: { spread: Spread; percent: number };
  /** Towards even distances from the least to the most. */
  even?: Partial<Record<Even, number>>;
  /** Hundredths of OKLCh lightness added; a factor of chroma; degrees of hue. */
  lightness?: number;
  chroma?: number;
  hue?: number;
  /** Hundredths of OKLab towards orange, or away from it: all keep their distances. */
  warmth?: number;
  /** Towards a color, in OKLab. */
  blend?: { toward: Color; percent: number };
  /** Light becomes dark and dark light, and contrast ratios stay. */
  reverse?: boolean;
}

/** Orange, degrees of OKLCh: the warmest hue for most eyes (common practice, no source). */
const WARM_HUE = 60;

const mix = (a: number, b: number, percent: number) => a + ((b - a) * percent) / 100;
const round = (degrees: number) => ((degrees % 360) + 360) % 360;

/** Where colors lie together; of none all is 0. */
export function spreadOf(colors: readonly Color[], condition: Condition): Spread {
  const all = colors.map((c) => oklchToOklab(convert(c, 'oklch', condition).components));
  const n = Math.max(1, all.length);
  const mean = [0, 1, 2].map((i) => all.reduce((sum, c) => sum + c[i]!, 0) / n);
  const deviation = [0, 1, 2].map((i) =>
    Math.sqrt(all.reduce((sum, c) => sum + (c[i]! - mean[i]!) ** 2, 0) / n),
  );
  return { mean, deviation };
}

function matched(colors: Oklch[], { mean, deviation }: Spread, percent: number): Oklch[] {
  const all = colors.map(oklchToOklab);
  const n = Math.max(1, all.length);
  const own = [0, 1, 2].map((i) => all.reduce((sum, c) => sum + c[i]!, 0) / n);
  const spread = [0, 1, 2].map((i) => Math.sqrt(all.reduce((sum, c) => sum + (c[i]! - own[i]!) ** 2, 0) / n));
  return all.map((c) =>
    oklabToOklch(
      c.map((v, i) => {
        const scale = spread[i]! > 1e-9 ? deviation[i]! / spread[i]! : 1;
        return mix(v, mean[i]! + (v - own[i]!) * scale, percent);
      }),
    ),
  );
}

/** Greys have no hue to be made even. */
const MIN_HUED = 0.004;
const PLACE: Record<Even, 0 | 1 | 2> = { lightness: 0, chroma: 1, hue: 2 };

/** Towards even distances in the order that there is; of hues the widest gap of the circle stays where it is. */
function evened(colors: Oklch[], what: Even, percent: number): Oklch[] {
  const place = PLACE[what];
  const able = colors.map((_, i) => i).filter((i) => what !== 'hue' || colors[i]![1] >= MIN_HUED);
  if (able.length < 3) return colors;
  const order = able.sort((a, b) => colors[a]![place] - colors[b]![place] || a - b);
  let values = order.map((i) => colors[i]![place]);
  if (what === 'hue') {
    const gaps = values.map((v, k) => (k + 1 < values.length ? values[k + 1]! - v : values[0]! + 360 - v));
    const first = (gaps.indexOf(Math.max(...gaps)) + 1) % values.length;
    order.push(...order.splice(0, first));
    values = order.map((i) => colors[i]![place]);
    values = values.map((v) => (v < values[0]! ? v + 360 : v));
  }
  const [least, most] = [values[0]!, values.at(-1)!];
  const next = colors.map((c): Oklch => [...c]);
  order.forEach((i, k) => {
    const wanted = least + ((most - least) * k) / (order.length - 1);
    const value = mix(values[k]!, wanted, percent);
    next[i]![place] = what === 'hue' ? round(value) : value;
  });
  return next;
}

/** The contrast of black and white is 21 : 1 in WCAG 2.2, whose ratio has this added to each luminance. */
const FLARE = 0.05;

/** A color inside a gamut: as much of its chroma as there is room for at its lightness and hue. */
interface Fitted {
  lch: Oklch;
  /** Chroma that it lost. */
  lost: number;
}

/** Steps so close to the edge of a gamut are close enough. */
const CLOSE = 1e-6;
const RAD = Math.PI / 180;

function toGamut([L, C, h]: Oklch, gamut: Gamut): Fitted {
  const light = Math.min(gamut.lightest, Math.max(gamut.darkest, L));
  const [x, y] = [Math.cos(h * RAD), Math.sin(h * RAD)];
  const wanted = Math.max(0, C);
  if (gamut.holds(light, wanted * x, wanted * y)) return { lch: [light, wanted, h], lost: 0 };
  let [low, high] = [0, wanted];
  while (high - low > CLOSE) {
    const middle = (low + high) / 2;
    if (gamut.holds(light, middle * x, middle * y)) low = middle;
    else high = middle;
  }
  return { lch: [light, low, h], lost: wanted - low };
}

const luminanceOf = (lch: readonly number[]) =>
  Math.min(1, Math.max(0, linearLuminance(oklabToLinear(...oklchToOklab(lch)))));

/** So close to a luminance is there: far less than a step of 8 bits. */
const SAME_LIGHT = 1e-9;

/**
 * The color with the mirrored luminance: 1.05 · 0.05 over what it has with the flare of WCAG 2.2, so that the contrast of any two
 * stays. Chroma is that which the gamut has room for at its new lightness.
 */
function reversed([, C, h]: Oklch, luminance: number, gamut: Gamut): Fitted {
  const wanted = ((1 + FLARE) * FLARE) / (luminance + FLARE) - FLARE;
  let [low, high] = [0, 1];
  // that of the grey is near it: its luminance is the cube of its lightness
  let light = Math.cbrt(Math.max(0, wanted));
  let found = toGamut([light, C, h], gamut);
  for (let i = 0; i < 40 && high - low > SAME_LIGHT; i++) {
    const off = luminanceOf(found.lch) - wanted;
    if (Math.abs(off) < SAME_LIGHT) break;
    if (off < 0) low = light;
    else high = light;
    // as a cube goes on from here, or the middle where that leads out
    const next = light - off / Math.max(3 * light * light, 1e-3);
    light = next > low && next < high ? next : (low + high) / 2;
    found = toGamut([light, C, h], gamut);
  }
  return found;
}

/** So little is rounding, and no change. */
const SAME = 1e-9;
/** A gray that has more chroma than this, OKLCh, is none. */
const MAX_GRAY_CHROMA = 0.001;

/** Swatches that are to be moved, as they are: worked out once, however often they are moved. */
export interface Prepared {
  /** Without spot and technical inks. */
  swatches: readonly Swatch[];
  /** What they start from: their colors, or the one's values. */
  colors: readonly Color[];
  /** The same as OKLCh, and what the swatches are in Lab. */
  lch: readonly Oklch[];
  lab: readonly Lab[];
  condition: Condition;
}

/** @param values stand for the color of a swatch that is alone */
export function prepareTuning(swatches: readonly Swatch[], condition: Condition, values?: Color): Prepared {
  const own = swatches.filter(isTunable);
  const colors = own.map((s) => (values && own.length === 1 ? values : s.color));
  return {
    swatches: own,
    colors,
    lch: colors.map((color) => convert(color, 'oklch', condition).components as Oklch),
    lab: own.map((s) => toLab(s.color, condition)),
    condition,
  };
}

/** A swatch that was moved. */
export class Tuned {
  private made: Color | undefined;

  constructor(
    readonly swatch: Swatch,
    /** OKLCh, inside the gamut. */
    readonly lch: Oklch,
    /** OKLCh chroma it lost to stay inside the gamut. */
    readonly lostChroma: number,
    /** What it started from, which it still is where it was not moved. */
    private readonly start: Color,
    private readonly isMoved: boolean,
    private readonly lab: Lab,
    private readonly condition: Condition,
  ) {}

  /** In the space of the swatch, but for a gray that is none any more. */
  get color(): Color {
    this.made ??= this.isMoved ? inSpaceOf(this.start, this.lch, this.condition) : this.start;
    return this.made;
  }

  /** From the swatch to its new color, as that is written. */
  get deltaE00(): number {
    return this.color === this.swatch.color ? 0 : deltaE00(this.lab, toLab(this.color, this.condition));
  }

  /** The same, for many at once, while a hand drags: what any space holds need not be written in it. */
  get distance(): number {
    const { space, profile } = this.start;
    if (!this.isMoved || space === 'cmyk' || space === 'gray' || profile) return this.deltaE00;
    return deltaE00(this.lab, oklabToLab(oklchToOklab(this.lch)));
  }
}

/**
 * Moves swatches. Spot and technical inks are left out; what a tuning does not change keeps every digit. All results lie inside the
 * gamut: at the same lightness and hue with as much chroma as there is room for.
 */
export function move(
  { swatches, colors, lch: before, lab, condition }: Prepared,
  tuning: Tuning,
  gamut: Gamut,
): Tuned[] {
  let now: Oklch[] = [...before];
  const { relight, match, even, lightness = 0, chroma = 1, hue = 0, warmth = 0, blend, reverse } = tuning;
  if (relight) {
    const { from, to, cones = 'cat16' } = relight;
    const relit = relighter(from, to, cones);
    now = now.map((c) => oklabToOklch(relit(oklchToOklab(c))));
  }
  if (match) now = matched(now, match.spread, match.percent);
  for (const what of EVEN) if (even?.[what]) now = evened(now, what, even[what]!);
  if (lightness !== 0 || chroma !== 1 || hue !== 0)
    now = now.map(([L, C, h]) => [L + lightness / 100, C * chroma, round(h + hue)]);
  if (warmth !== 0) {
    const [, a, b] = oklchToOklab([0, warmth / 100, WARM_HUE]);
    now = now.map((c) => {
      const [L, x, y] = oklchToOklab(c);
      return oklabToOklch([L, x + a, y + b]);
    });
  }
  if (blend) {
    const toward = oklchToOklab(convert(blend.toward, 'oklch', condition).components);
    now = now.map((c) => oklabToOklch(oklchToOklab(c).map((v, i) => mix(v, toward[i]!, blend.percent))));
  }
  return swatches.map((swatch, i) => {
    const [wanted, was] = [now[i]!, before[i]!];
    const of = (lch: Oklch, lost: number, isMoved: boolean) =>
      new Tuned(swatch, lch, lost > 1e-6 ? lost : 0, colors[i]!, isMoved, lab[i]!, condition);
    // what was typed is meant to the last digit
    if (!reverse && wanted.every((v, k) => Math.abs(v - was[k]!) <= SAME)) return of(was, 0, false);
    const plain = toGamut([Math.min(1, Math.max(0, wanted[0])), wanted[1], wanted[2]], gamut);
    const { lch, lost } = reverse ? reversed(wanted, luminanceOf(plain.lch), gamut) : plain;
    return of(lch, lost, true);
  });
}

export const tune = (
  swatches: readonly Swatch[],
  tuning: Tuning,
  gamut: Gamut,
  condition: Condition,
): Tuned[] => move(prepareTuning(swatches, condition, tuning.values), tuning, gamut);

/** The color in the space that a swatch was authored in. */
export function inSpaceOf({ space, profile }: Color, lch: Oklch, condition: Condition): Color {
  const color: Color = { space: 'oklch', components: lch };
  if (space === 'oklch') return color;
  if (space === 'gray' && lch[1] > MAX_GRAY_CHROMA) return convert(color, 'rgb', condition);
  // inks of a profile of their own are made for the press that the library is printed on
  return space === 'cmyk' || !profile ? convert(color, space, condition) : convert(color, 'rgb', condition);
}
