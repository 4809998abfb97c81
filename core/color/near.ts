import { deltaE00 } from './difference.ts';
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

const SIDE = 12;
const OFFSET = 512;
const SPAN = 1024;
const part = (v: number) => Math.min(SPAN / SIDE, Math.max(0, Math.floor((v + OFFSET) / SIDE)));

/** Finds colours close to one among many, by cubes of Lab. */
export class NearIndex {
  private readonly cells = new Map<number, number[]>();

  /** @param labs in an order that stays; colours are told by their places in it */
  constructor(private readonly labs: readonly Lab[]) {
    labs.forEach(([L, a, b], i) => {
      const key = this.key(part(L), part(a), part(b));
      const list = this.cells.get(key);
      if (list) list.push(i);
      else this.cells.set(key, [i]);
    });
  }

  private key(l: number, a: number, b: number): number {
    return (l * 256 + a) * 256 + b;
  }

  /** Calls for every colour within ΔE00, with the difference; those before `from` are passed over. */
  within(lab: Lab, most: number, take: (place: number, deltaE00: number) => void, from = 0): void {
    const reach = reachOf(lab, most);
    const [dl, da, db] = boxOf(reach);
    const [u, v] = reach.toGrey;
    const [L, a, b] = lab;
    for (let l = part(L - dl); l <= part(L + dl); l++)
      for (let i = part(a - da); i <= part(a + da); i++)
        for (let j = part(b - db); j <= part(b + db); j++)
          for (const place of this.cells.get(this.key(l, i, j)) ?? []) {
            if (place < from) continue;
            const other = this.labs[place]!;
            const [x, y] = [other[1] - a, other[2] - b];
            // most of a cube is out of reach
            if (
              Math.abs(other[0] - L) > dl ||
              Math.abs(x * u + y * v) > reach.chroma ||
              Math.abs(y * u - x * v) > reach.hue
            )
              continue;
            const difference = deltaE00(lab, other);
            if (difference <= most) take(place, difference);
          }
  }
}
