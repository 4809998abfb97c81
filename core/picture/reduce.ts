import type { Histogram } from './histogram.ts';
import { fromPerceptual, toPerceptual } from './perceptual.ts';

/** One colour of a palette taken from a picture. */
export interface PaletteColor {
  /** sRGB, whole numbers 0–255. */
  rgb: [number, number, number];
  /** Part of the picture's opaque pixels, 0–1. */
  share: number;
  /** Its first pixel, counted row by row from the top. */
  first: number;
}

/** A histogram with its colours in the space the quantiser works in; kept so that a new count starts here. */
export interface Prepared {
  histogram: Histogram;
  points: Float64Array;
}

export const prepare = (histogram: Histogram): Prepared => ({
  histogram,
  points: toPerceptual(histogram.rgb),
});

export const FEWEST = 2;
export const MOST = 256;

/**
 * Rounds of settling; the last ones change less than 8 bits can show. Palette colours move to better places only in
 * the first, so that the rest can settle. A large palette begins closer to where it ends.
 */
const roundsFor = (k: number) => (k > 32 ? { all: 10, moving: 5 } : { all: 12, moving: 7 });
/** A palette whose colours all move less than this, in DIN99o units, has settled. */
const SETTLED = 0.02;

/**
 * Reduces a picture to at most `count` colours with the least mean perceived difference.
 *
 * Cuts the colours in two, again and again where that helps most; then lets the palette settle: each colour
 * goes to its nearest palette colour, each palette colour to the geometric median of its own (the mean
 * distance is what counts, not its square), and palette colours that earn little move to where a cut earns
 * more. No randomness: the same picture and count always give the same palette. A picture with no more than
 * `count` colours gives exactly those.
 *
 * @param count {@link FEWEST}–{@link MOST}
 * @returns the colours, largest share first
 */
export function reduce(prepared: Prepared, count: number): PaletteColor[] {
  const { histogram, points } = prepared;
  const k = Math.min(Math.max(FEWEST, Math.round(count)), MOST, histogram.size);
  if (histogram.exact && histogram.size <= k) {
    return palette(histogram, histogram.rgb, (i) => i, histogram.size);
  }
  const clusters = divide(points, histogram.count, k);
  settle(clusters, points, histogram.count);
  return palette(histogram, fromPerceptual(clusters.centre), (i) => clusters.owner[i], clusters.k);
}

interface Clusters {
  k: number;
  /** Three numbers to a cluster. */
  centre: Float64Array;
  /** Which cluster each point belongs to. */
  owner: Uint16Array;
}

/** Cuts the cluster with the largest scatter across its longest axis until there are `k`. */
function divide(points: Float64Array, count: Float64Array, k: number): Clusters {
  const n = count.length;
  const owner = new Uint16Array(n);
  const members: Int32Array[] = [Int32Array.from({ length: n }, (_, i) => i)];
  const cuts = [bestCut(points, count, members[0])];
  while (members.length < k) {
    let widest = 0;
    for (let c = 1; c < cuts.length; c++) if (cuts[c].gain > cuts[widest].gain) widest = c;
    if (cuts[widest].gain <= 0) break;
    const { left, right } = cuts[widest];
    members[widest] = left;
    cuts[widest] = bestCut(points, count, left);
    for (const i of right) owner[i] = members.length;
    members.push(right);
    cuts.push(bestCut(points, count, right));
  }
  const centre = new Float64Array(3 * members.length);
  members.forEach((list, c) => {
    centre.set(mean(points, count, list), 3 * c);
  });
  return { k: members.length, centre, owner };
}

function mean(points: Float64Array, count: Float64Array, list: Int32Array): [number, number, number] {
  let w = 0;
  let x = 0;
  let y = 0;
  let z = 0;
  for (let j = 0; j < list.length; j++) {
    const i = list[j];
    w += count[i];
    x += count[i] * points[3 * i];
    y += count[i] * points[3 * i + 1];
    z += count[i] * points[3 * i + 2];
  }
  return [x / w, y / w, z / w];
}

interface Cut {
  /** How much the summed squared distance falls; 0 when there is nothing to cut. */
  gain: number;
  left: Int32Array;
  right: Int32Array;
}

const STEPS = 128;

/** The cut across the longest axis that takes away most of the scatter. */
function bestCut(points: Float64Array, count: Float64Array, list: Int32Array): Cut {
  const none = { gain: 0, left: list, right: list };
  if (list.length < 2) return none;
  const m = mean(points, count, list);
  const [ax, ay, az] = longestAxis(points, count, list, m);
  const along = new Float64Array(list.length);
  let min = Number.POSITIVE_INFINITY;
  let max = Number.NEGATIVE_INFINITY;
  for (let j = 0; j < list.length; j++) {
    const i = 3 * list[j];
    const t = (points[i] - m[0]) * ax + (points[i + 1] - m[1]) * ay + (points[i + 2] - m[2]) * az;
    along[j] = t;
    if (t < min) min = t;
    if (t > max) max = t;
  }
  if (max - min < 1e-9) return none;
  const weight = new Float64Array(STEPS);
  const sum = new Float64Array(STEPS);
  const scale = (STEPS - 1e-6) / (max - min);
  let total = 0;
  for (let j = 0; j < list.length; j++) {
    const step = ((along[j] - min) * scale) | 0;
    const w = count[list[j]];
    weight[step] += w;
    sum[step] += w * along[j];
    total += w;
  }
  // the mean lies at 0, so a side with weight w and sum s takes s²/w + s²/(total − w) away
  let gain = 0;
  let at = 0;
  let w = 0;
  let s = 0;
  for (let step = 0; step < STEPS - 1; step++) {
    w += weight[step];
    s += sum[step];
    if (w <= 0 || w >= total) continue;
    const g = (s * s) / w + (s * s) / (total - w);
    if (g > gain) {
      gain = g;
      at = step;
    }
  }
  if (gain <= 0) return none;
  const left = new Int32Array(list.length);
  const right = new Int32Array(list.length);
  let l = 0;
  let r = 0;
  for (let j = 0; j < list.length; j++) {
    if ((((along[j] - min) * scale) | 0) <= at) left[l++] = list[j];
    else right[r++] = list[j];
  }
  return { gain, left: left.subarray(0, l), right: right.subarray(0, r) };
}

/** The direction of largest scatter, by power iteration on the covariance. */
function longestAxis(points: Float64Array, count: Float64Array, list: Int32Array, m: number[]): number[] {
  let xx = 0;
  let xy = 0;
  let xz = 0;
  let yy = 0;
  let yz = 0;
  let zz = 0;
  for (let j = 0; j < list.length; j++) {
    const i = list[j];
    const w = count[i];
    const x = points[3 * i] - m[0];
    const y = points[3 * i + 1] - m[1];
    const z = points[3 * i + 2] - m[2];
    xx += w * x * x;
    xy += w * x * y;
    xz += w * x * z;
    yy += w * y * y;
    yz += w * y * z;
    zz += w * z * z;
  }
  let v = xx >= yy && xx >= zz ? [1, 0.1, 0.1] : yy >= zz ? [0.1, 1, 0.1] : [0.1, 0.1, 1];
  for (let round = 0; round < 8; round++) {
    const next = [
      xx * v[0] + xy * v[1] + xz * v[2],
      xy * v[0] + yy * v[1] + yz * v[2],
      xz * v[0] + yz * v[1] + zz * v[2],
    ];
    const length = Math.sqrt(next[0] ** 2 + next[1] ** 2 + next[2] ** 2);
    if (length === 0) break;
    v = [next[0] / length, next[1] / length, next[2] / length];
  }
  return v;
}

/** Lets the palette settle; see {@link reduce}. */
function settle({ k, centre, owner }: Clusters, points: Float64Array, count: Float64Array): void {
  const n = count.length;
  const nearest = new Float64Array(n);
  const second = new Float64Array(n);
  const cost = new Float64Array(k);
  const loss = new Float64Array(k);
  const sums = new Float64Array(4 * k);
  const neighbours = new Neighbours(k);
  const rounds = roundsFor(k);
  for (let round = 0; round < rounds.all; round++) {
    const moving = k > 2 && round < rounds.moving && round % 2 === 1;
    assign(points, centre, owner, nearest, moving ? second : null, neighbours);
    if (moving) {
      cost.fill(0);
      loss.fill(0);
      for (let i = 0; i < n; i++) {
        cost[owner[i]] += count[i] * nearest[i];
        loss[owner[i]] += count[i] * (second[i] - nearest[i]);
      }
      relocate(points, count, k, centre, owner, cost, loss);
    }

    // one step of Weiszfeld's algorithm towards each geometric median
    sums.fill(0);
    for (let i = 0; i < n; i++) {
      const c = 4 * owner[i];
      // half a unit is below what can be seen; it keeps one point from holding the median fast
      const w = count[i] / Math.max(nearest[i], 0.5);
      sums[c] += w;
      sums[c + 1] += w * points[3 * i];
      sums[c + 2] += w * points[3 * i + 1];
      sums[c + 3] += w * points[3 * i + 2];
    }
    let moved = 0;
    for (let c = 0; c < k; c++) {
      const w = sums[4 * c];
      if (w === 0) continue;
      for (let a = 0; a < 3; a++) {
        const to = sums[4 * c + 1 + a] / w;
        moved = Math.max(moved, Math.abs(to - centre[3 * c + a]));
        centre[3 * c + a] = to;
      }
    }
    if (moved < SETTLED && round >= rounds.moving) break;
  }
  assign(points, centre, owner, nearest, null, neighbours);
}

/** For each palette colour all others, nearest first; kept between rounds, where the order hardly changes. */
class Neighbours {
  readonly order: Uint16Array;
  readonly gap: Float64Array;

  constructor(readonly k: number) {
    this.order = new Uint16Array(k * (k - 1));
    for (let c = 0, at = 0; c < k; c++)
      for (let other = 0; other < k; other++) if (other !== c) this.order[at++] = other;
    this.gap = new Float64Array(k * (k - 1));
  }

  update(centre: Float64Array): void {
    const { k, order, gap } = this;
    for (let c = 0; c < k; c++) {
      const row = c * (k - 1);
      for (let j = row; j < row + k - 1; j++) {
        const other = order[j];
        const dx = centre[3 * c] - centre[3 * other];
        const dy = centre[3 * c + 1] - centre[3 * other + 1];
        const dz = centre[3 * c + 2] - centre[3 * other + 2];
        const d = Math.sqrt(dx * dx + dy * dy + dz * dz);
        let at = j;
        for (; at > row && gap[at - 1] > d; at--) {
          gap[at] = gap[at - 1];
          order[at] = order[at - 1];
        }
        gap[at] = d;
        order[at] = other;
      }
    }
  }
}

/**
 * Finds the nearest palette colour of each point, how far it is, and on demand how far the second is. Starts
 * from the last owner and looks at its neighbours only as long as the triangle inequality lets one be nearer.
 */
function assign(
  points: Float64Array,
  centre: Float64Array,
  owner: Uint16Array,
  nearest: Float64Array,
  second: Float64Array | null,
  neighbours: Neighbours,
): void {
  neighbours.update(centre);
  const { k, order, gap } = neighbours;
  for (let i = 0; i < owner.length; i++) {
    const x = points[3 * i];
    const y = points[3 * i + 1];
    const z = points[3 * i + 2];
    const o = owner[i];
    const ox = x - centre[3 * o];
    const oy = y - centre[3 * o + 1];
    const oz = z - centre[3 * o + 2];
    let best2 = ox * ox + oy * oy + oz * oz;
    const own = Math.sqrt(best2);
    let next2 = Number.POSITIVE_INFINITY;
    let at = o;
    // a neighbour further from the owner than this cannot be nearer to the point
    let reach = second ? Number.POSITIVE_INFINITY : 2 * own;
    const end = (o + 1) * (k - 1);
    for (let j = o * (k - 1); j < end && gap[j] < reach; j++) {
      const c = 3 * order[j];
      const dx = x - centre[c];
      const dy = y - centre[c + 1];
      const dz = z - centre[c + 2];
      const d2 = dx * dx + dy * dy + dz * dz;
      if (d2 < best2) {
        next2 = best2;
        best2 = d2;
        at = order[j];
        reach = own + Math.sqrt(second ? next2 : best2);
      } else if (second && d2 < next2) {
        next2 = d2;
        reach = own + Math.sqrt(next2);
      }
    }
    owner[i] = at;
    nearest[i] = at === o ? own : Math.sqrt(best2);
    if (second) second[i] = Math.sqrt(next2);
  }
}

/** Moves palette colours that would hardly be missed to where a cut takes away more. */
function relocate(
  points: Float64Array,
  count: Float64Array,
  k: number,
  centre: Float64Array,
  owner: Uint16Array,
  cost: Float64Array,
  loss: Float64Array,
): void {
  const byLoss = Array.from({ length: k }, (_, c) => c).sort((a, b) => loss[a] - loss[b] || a - b);
  const byCost = Array.from({ length: k }, (_, c) => c).sort((a, b) => cost[b] - cost[a] || a - b);
  const tries = Math.max(1, k >> 3);
  const touched = new Set<number>();
  let from = 0;
  for (let t = 0; t < tries; t++) {
    const wide = byCost[t];
    while (from < k && touched.has(byLoss[from])) from++;
    const spare = byLoss[from];
    if (spare === undefined || wide === spare || touched.has(wide)) break;
    const list = members(owner, wide);
    const { gain, left, right } = bestCut(points, count, list);
    if (gain <= 0) continue;
    const halves = [mean(points, count, left), mean(points, count, right)];
    const after = spread(points, count, left, halves[0]) + spread(points, count, right, halves[1]);
    if (cost[wide] - after <= loss[spare]) continue;
    centre.set(halves[0], 3 * wide);
    centre.set(halves[1], 3 * spare);
    for (const i of right) owner[i] = spare;
    touched.add(wide).add(spare);
    from++;
  }
}

function members(owner: Uint16Array, cluster: number): Int32Array {
  const list = new Int32Array(owner.length);
  let n = 0;
  for (let i = 0; i < owner.length; i++) if (owner[i] === cluster) list[n++] = i;
  return list.subarray(0, n);
}

function spread(points: Float64Array, count: Float64Array, list: Int32Array, c: number[]): number {
  let sum = 0;
  for (let j = 0; j < list.length; j++) {
    const i = list[j];
    const dx = points[3 * i] - c[0];
    const dy = points[3 * i + 1] - c[1];
    const dz = points[3 * i + 2] - c[2];
    sum += count[i] * Math.sqrt(dx * dx + dy * dy + dz * dz);
  }
  return sum;
}

function palette(
  histogram: Histogram,
  rgb: ArrayLike<number>,
  ownerOf: (i: number) => number,
  k: number,
): PaletteColor[] {
  const colors: PaletteColor[] = Array.from({ length: k }, (_, c) => ({
    rgb: [0, 1, 2].map((a) => Math.round(Math.min(255, Math.max(0, rgb[3 * c + a])))) as PaletteColor['rgb'],
    share: 0,
    first: Number.POSITIVE_INFINITY,
  }));
  for (let i = 0; i < histogram.size; i++) {
    const color = colors[ownerOf(i)];
    color.share += histogram.count[i] / histogram.total;
    color.first = Math.min(color.first, histogram.first[i]);
  }
  // two that round to the same eight bits are one colour
  const merged = new Map<string, PaletteColor>();
  for (const color of colors) {
    if (color.share === 0) continue;
    const same = merged.get(color.rgb.join());
    if (same) {
      same.share += color.share;
      same.first = Math.min(same.first, color.first);
    } else merged.set(color.rgb.join(), color);
  }
  return [...merged.values()].sort((a, b) => b.share - a.share || a.first - b.first);
}
