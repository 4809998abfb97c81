import { converter } from '../color/culori.ts';
import { type Color, screenOnly, toCulori } from '../color/index.ts';
import { byHue, byLightness } from '../swatch/order.ts';
import type { PaletteColor } from './reduce.ts';

const compared = (compare: (a: PaletteColor, b: PaletteColor) => number) => (list: PaletteColor[]) =>
  [...list].sort(compare);

const [lighter, inHue] = [byLightness(screenOnly), byHue(screenOnly)];

/** The orders a palette can be shown in. */
export const paletteOrders = {
  share: { label: 'share', arrange: compared((a, b) => b.share - a.share) },
  lightness: { label: 'lightness', arrange: compared((a, b) => lighter(a.color, b.color)) },
  hue: { label: 'hue', arrange: compared((a, b) => inHue(a.color, b.color)) },
  appearance: { label: 'appearance', arrange: compared((a, b) => a.first - b.first) },
  smooth: {
    label: 'smooth steps',
    arrange: (list: PaletteColor[]) => smoothly(list.map((c) => c.color)).map((i) => list[i]),
  },
} as const;

export type PaletteOrder = keyof typeof paletteOrders;

const toOklab = converter('oklab');
/** Up to this many colours every order is weighed against every other; more are improved step by step. */
const MAX_EXACT_COLORS = 12;

/**
 * The order in which neighbours look related: the shortest path through all colours in OKLab, dark end first.
 * Exact for up to {@link MAX_EXACT_COLORS} colours (Held and Karp 1962), beyond that nearest neighbours improved by turning and
 * moving stretches of the path until nothing shortens it.
 *
 * @returns the places in `colors`, in the order of the path
 */
export function smoothly(colors: Color[]): number[] {
  const n = colors.length;
  if (n < 3) return shortestFirst(colors);
  const points = colors.map((color) => {
    const { l, a, b } = toOklab(toCulori(color, screenOnly));
    return [l, a, b];
  });
  const gap = points.map((p) => points.map((q) => Math.hypot(p[0] - q[0], p[1] - q[1], p[2] - q[2])));
  const path = n <= MAX_EXACT_COLORS ? shortestPath(gap) : improvedPath(gap);
  return points[path[0]][0] <= points[path[n - 1]][0] ? path : path.reverse();
}

const shortestFirst = (colors: Color[]) => [...colors.keys()].sort((a, b) => lighter(colors[b], colors[a]));

function shortestPath(gap: number[][]): number[] {
  const n = gap.length;
  const sets = 1 << n;
  // for each set of visited colours and each last one of them: the length of the best path, and what came before
  const length = new Float64Array(sets * n).fill(Number.POSITIVE_INFINITY);
  const before = new Int8Array(sets * n).fill(-1);
  for (let i = 0; i < n; i++) length[(1 << i) * n + i] = 0;
  for (let set = 1; set < sets; set++)
    for (let last = 0; last < n; last++) {
      const so = length[set * n + last];
      if (so === Number.POSITIVE_INFINITY) continue;
      for (let next = 0; next < n; next++) {
        if (set & (1 << next)) continue;
        const at = (set | (1 << next)) * n + next;
        if (so + gap[last][next] < length[at]) {
          length[at] = so + gap[last][next];
          before[at] = last;
        }
      }
    }
  let set = sets - 1;
  let last = 0;
  for (let i = 1; i < n; i++) if (length[set * n + i] < length[set * n + last]) last = i;
  const path: number[] = [];
  while (last >= 0) {
    path.push(last);
    const previous = before[set * n + last];
    set &= ~(1 << last);
    last = previous;
  }
  return path;
}

function improvedPath(gap: number[][]): number[] {
  const n = gap.length;
  // begins at the colour furthest from all others, which is most likely an end
  const far = gap.map((row) => row.reduce((sum, d) => sum + d, 0));
  const path = [far.indexOf(Math.max(...far))];
  const rest = new Set(gap.keys());
  rest.delete(path[0]);
  while (rest.size > 0) {
    const last = path[path.length - 1];
    const next = [...rest].reduce((best, i) => (gap[last][i] < gap[last][best] ? i : best));
    path.push(next);
    rest.delete(next);
  }
  // an end of the path has no neighbour beyond it, which costs nothing
  const step = (a: number | undefined, b: number | undefined) =>
    a === undefined || b === undefined ? 0 : gap[a][b];
  for (let round = 0, better = true; better && round < 60; round++) {
    better = false;
    for (let i = 0; i < n - 1; i++)
      for (let j = i + 1; j < n; j++) {
        // turn the stretch i…j round
        const [before, after] = [path[i - 1], path[j + 1]];
        const won =
          step(before, path[i]) + step(path[j], after) - step(before, path[j]) - step(path[i], after);
        if (won > 1e-12) {
          for (let a = i, b = j; a < b; a++, b--) [path[a], path[b]] = [path[b], path[a]];
          better = true;
        }
      }
    for (let i = 0; i < n; i++) {
      // take one colour out and put it between two others
      const one = path[i];
      const taken = step(path[i - 1], one) + step(one, path[i + 1]) - step(path[i - 1], path[i + 1]);
      for (let to = -1; to < n; to++) {
        if (to === i || to + 1 === i) continue;
        const [a, b] = [path[to], path[to + 1]];
        if (taken - (step(a, one) + step(one, b) - step(a, b)) <= 1e-12) continue;
        path.splice(i, 1);
        path.splice(to < i ? to + 1 : to, 0, one);
        better = true;
        break;
      }
    }
  }
  return path;
}
