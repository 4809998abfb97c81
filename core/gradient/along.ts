import {
  type Color,
  type Condition,
  convert,
  deltaE00,
  mixing,
  type Oklab,
  oklabToLab,
} from '../color/index.ts';
import type { Stop } from '../swatch/gradient.ts';

/** What lies between two stops may be off by so much, ΔE00. */
const OFF = 2;
const MAX_STOPS = 16;

/**
 * Colors at equal distances as a gradient of few stops: divided where it is furthest off until nothing is off by more than an eye
 * sees at a glance (Ramer, Douglas and Peucker's way, in ΔE00).
 */
export function stopsAlong(colors: readonly Color[], condition: Condition): Stop[] {
  const points = colors.map((c) => convert(c, 'oklab', condition).components as Oklab);
  const labs = points.map((p) => oklabToLab(p));
  const last = points.length - 1;
  const kept = new Set([0, last]);
  const worst = (from: number, to: number): { at: number; off: number } => {
    const mix = mixing('oklab', points[from]!, points[to]!);
    let [at, off] = [-1, 0];
    for (let i = from + 1; i < to; i++) {
      const here = deltaE00(labs[i]!, oklabToLab(mix((i - from) / (to - from))));
      if (here > off) [at, off] = [i, here];
    }
    return { at, off };
  };
  while (kept.size < MAX_STOPS) {
    const order = [...kept].sort((a, b) => a - b);
    const gaps = order.slice(1).map((to, i) => worst(order[i]!, to));
    const next = gaps.reduce((a, b) => (b.off > a.off ? b : a), { at: -1, off: 0 });
    if (next.off <= OFF) break;
    kept.add(next.at);
  }
  return [...kept].sort((a, b) => a - b).map((i) => ({ color: colors[i]!, at: last > 0 ? i / last : 0 }));
}
