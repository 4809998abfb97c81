import { DE00, type Metric } from './metrics.ts';
import type { Lab } from './model.ts';

/** How far away in Lab a colour can lie that is within a ΔE00 of another. */
export interface Reach {
  lightness: number;
  /** Along the line to the grey axis, and across it; {@link toGrey} is that line's direction. */
  chroma: number;
  hue: number;
  toGrey: [number, number];
}

/**
 * ΔE00 counts strong colours' distances less (CIE 142-2001): a difference of chroma by 1 + 0.045 C, one of hue by up to
 * 1 + 0.0225 C, one of lightness by up to 1.75. It stretches a* near grey, which only brings nearer what is reached, but turns
 * the direction to grey; and in the blues its last term, as strong as −1.73, lets chroma and hue go twice as far together.
 */
export function reachOf([, a, b]: Lab, within: number): Reach {
  const chroma = Math.hypot(a, b);
  const strong = chroma + 8 * within;
  const hue = ((Math.atan2(b, a) * 180) / Math.PI + 360) % 360;
  const turned = chroma > 8 && hue > 205 && hue < 345 ? 2 : 1.05;
  const [c, h] = [within * (1 + 0.045 * strong) * turned, within * (1 + 0.0225 * strong) * turned];
  const lightness = within * 1.75;
  return chroma < 40
    ? { lightness, chroma: c, hue: c, toGrey: [1, 0] }
    : { lightness, chroma: c, hue: h, toGrey: [a / chroma, b / chroma] };
}

/** Half the sides of the box in Lab that the reach fits in. */
export const boxOf = ({ lightness, chroma, hue, toGrey: [u, v] }: Reach): Lab => [
  lightness,
  Math.abs(u) * chroma + Math.abs(v) * hue,
  Math.abs(v) * chroma + Math.abs(u) * hue,
];

const FEW = 16;

/** A colour that was found: its place among those searched, and how far it is from what was looked for. */
export interface Near {
  place: number;
  difference: number;
}

/**
 * Finds the colours nearest to one among many, exactly: they stand sorted by L*, and of those that can be near enough by
 * lightness most are identified by a lower bound that takes a few operations.
 */
export class NearIndex {
  /** Sorted by L*: lightness, a*, b*, chroma and hue, and the place each had. */
  private readonly L: Float64Array;
  private readonly a: Float64Array;
  private readonly b: Float64Array;
  private readonly chroma: Float64Array;
  private readonly hue: Float64Array;
  private readonly places: Uint32Array;
  private readonly query: Lab = [0, 0, 0];
  private readonly other: Lab = [0, 0, 0];

  /** @param labs in an order that stays; colours are identified by their places in it */
  constructor(
    labs: readonly Lab[],
    readonly metric: Metric = DE00,
  ) {
    const n = labs.length;
    // one number holds lightness and place, so that the engine's own sort of numbers does it
    const keys = new Float64Array(n);
    for (let i = 0; i < n; i++) keys[i] = Math.round((labs[i]![0] + 1000) * 1e5) * 0x400000 + i;
    keys.sort();
    const [L, a, b] = [new Float64Array(n), new Float64Array(n), new Float64Array(n)];
    const [chroma, hue] = [new Float64Array(n), new Float64Array(n)];
    const places = new Uint32Array(n);
    for (let i = 0; i < n; i++) {
      const place = keys[i]! % 0x400000;
      const lab = labs[place]!;
      places[i] = place;
      L[i] = lab[0];
      a[i] = lab[1];
      b[i] = lab[2];
      chroma[i] = Math.sqrt(lab[1] * lab[1] + lab[2] * lab[2]);
      hue[i] = hueOf(lab[1], lab[2]);
    }
    [this.L, this.a, this.b, this.chroma, this.hue, this.places] = [L, a, b, chroma, hue, places];
  }

  get size(): number {
    return this.L.length;
  }

  /** The one nearest; of several the first. Null among none. */
  closest(lab: Lab): Near | null {
    return this.nearest(lab, 1)[0] ?? null;
  }

  /**
   * The nearest, in their order; equals in the order they were given.
   *
   * @param n how many at most
   * @param within none that differ by more
   * @param wanted which may be taken, told by their places
   */
  nearest(
    lab: Lab,
    n: number,
    within = Number.POSITIVE_INFINITY,
    wanted?: (place: number) => boolean,
  ): Near[] {
    if (n < 1) return [];
    let found: Near[] = [];
    let limit = Number.NaN;
    // few are kept in order at every step, many are sorted and cut when twice as many have come together
    const cut = () => {
      found.sort(nearer);
      found = found.slice(0, n);
      if (found.length === n) limit = found[n - 1]!.difference;
    };
    const most = n > FEW ? 2 * n : n + 1;
    this.sweep(lab, within, (place, difference) => {
      if (wanted && !wanted(place)) return limit;
      found.push({ place, difference });
      if (found.length >= most || (found.length === n && Number.isNaN(limit))) cut();
      return limit;
    });
    cut();
    return found;
  }

  /** Calls for every colour within a difference; those before `from` are passed over. */
  within(lab: Lab, most: number, take: (place: number, difference: number) => void, from = 0): void {
    this.sweep(lab, most, (place, difference) => {
      if (place >= from) take(place, difference);
      return Number.NaN;
    });
  }

  /**
   * Goes outwards from the colour's own lightness, as far as colours can be within the limit.
   *
   * @param take hears of every colour within it, and may draw it in; not a number leaves it
   */
  private sweep(lab: Lab, most: number, take: (place: number, difference: number) => number): void {
    const { L, a, b, chroma, hue, places, metric, query, other } = this;
    const { lightness, difference } = metric;
    const [l, qa, qb] = lab;
    [query[0], query[1], query[2]] = lab;
    const c = Math.sqrt(qa * qa + qb * qb);
    const h = hueOf(qa, qb);
    let limit = most;
    // rounding must not leave out what lies on the very edge
    let reach = limit * lightness * (1 + 1e-9) + 1e-5;
    let up = this.firstFrom(l);
    let down = up - 1;
    const inverse = 1 / (lightness * lightness);
    for (;;) {
      const [above, below] = [
        up < L.length ? L[up]! - l : Number.POSITIVE_INFINITY,
        down >= 0 ? l - L[down]! : Number.POSITIVE_INFINITY,
      ];
      const i = above <= below ? up++ : down--;
      const dl = Math.min(above, below);
      if (!(dl <= reach) || dl === Number.POSITIVE_INFINITY) return;
      const [x, y] = [a[i]! - qa, b[i]! - qb];
      const each = metric.perUnit(c, chroma[i]!, h, hue[i]!);
      const least = dl * dl * inverse + (x * x + y * y) * each * each;
      if (least > limit * limit * (1 + 1e-9) + 1e-12) continue;
      other[0] = L[i]!;
      other[1] = a[i]!;
      other[2] = b[i]!;
      const d = difference(query, other);
      if (d > limit) continue;
      const next = take(places[i]!, d);
      if (next < limit) {
        limit = next;
        reach = limit * lightness * (1 + 1e-9) + 1e-5;
      }
    }
  }

  /** The first place from which on nothing is darker. */
  private firstFrom(l: number): number {
    let [low, high] = [0, this.L.length];
    while (low < high) {
      const middle = (low + high) >> 1;
      if (this.L[middle]! < l) low = middle + 1;
      else high = middle;
    }
    return low;
  }
}

const nearer = (a: Near, b: Near) => a.difference - b.difference || a.place - b.place;

function hueOf(a: number, b: number): number {
  if (a === 0 && b === 0) return 0;
  const h = (Math.atan2(b, a) * 180) / Math.PI;
  return h < 0 ? h + 360 : h;
}
