/** A cloud of weighted points in a space where distance is Euclidean. */
export interface Cloud {
  /** Three numbers to a point. */
  points: Float64Array;
  weight: Float64Array;
}

/** Points shared out to the nearest of some centres. */
export interface Clusters {
  k: number;
  /** How many centres, the first ones, stay where they are. */
  held: number;
  /** Three numbers to a cluster. */
  centre: Float64Array;
  /** Which cluster each point belongs to. */
  owner: Uint16Array;
}

/**
 * Centres for a cloud: the held ones as they are, the others by cutting the cluster with the largest scatter across its
 * longest axis until there are enough.
 *
 * @param free how many centres there may be besides the held ones
 */
export function divide(cloud: Cloud, free: number, held: Float64Array = new Float64Array(0)): Clusters {
  const n = cloud.weight.length;
  const h = held.length / 3;
  const owner = new Uint16Array(n);
  const parts: Int32Array[] = free > 0 ? [Int32Array.from({ length: n }, (_, i) => i)] : [];
  const cuts = parts.map((all) => bestCut(cloud, all));
  while (parts.length < free) {
    let widest = 0;
    for (let c = 1; c < cuts.length; c++) if (cuts[c].gain > cuts[widest].gain) widest = c;
    if (cuts[widest].gain <= 0) break;
    const { left, right } = cuts[widest];
    parts[widest] = left;
    cuts[widest] = bestCut(cloud, left);
    parts.push(right);
    cuts.push(bestCut(cloud, right));
  }
  const centre = new Float64Array(3 * (h + parts.length));
  centre.set(held);
  parts.forEach((list, c) => {
    centre.set(mean(cloud, list), 3 * (h + c));
    for (const i of list) owner[i] = h + c;
  });
  return { k: h + parts.length, held: h, centre, owner };
}

function mean({ points, weight }: Cloud, list: Int32Array): [number, number, number] {
  let w = 0;
  let x = 0;
  let y = 0;
  let z = 0;
  for (let j = 0; j < list.length; j++) {
    const i = list[j];
    w += weight[i];
    x += weight[i] * points[3 * i];
    y += weight[i] * points[3 * i + 1];
    z += weight[i] * points[3 * i + 2];
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
function bestCut(cloud: Cloud, list: Int32Array): Cut {
  const { points, weight: weights } = cloud;
  const none = { gain: 0, left: list, right: list };
  if (list.length < 2) return none;
  const m = mean(cloud, list);
  const [ax, ay, az] = longestAxis(cloud, list, m);
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
    const w = weights[list[j]];
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
function longestAxis({ points, weight }: Cloud, list: Int32Array, m: number[]): number[] {
  let xx = 0;
  let xy = 0;
  let xz = 0;
  let yy = 0;
  let yz = 0;
  let zz = 0;
  for (let j = 0; j < list.length; j++) {
    const i = list[j];
    const w = weight[i];
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

export interface Rounds {
  /** How many rounds there are at most. */
  all: number;
  /** In how many of them, the first ones, centres that earn little move to where a cut earns more. */
  moving: number;
}

/** A palette whose colours all move less than this, in the unit of the space, has settled. */
const SETTLED = 0.02;

/**
 * Lets the centres settle: each point goes to its nearest, each centre that is not held to the geometric median of its
 * points (the mean distance is what counts, not its square), and centres that earn little move to where a cut earns more.
 *
 * @returns the summed weighted distance of all points to their centres
 */
export function settle(clusters: Clusters, { points, weight }: Cloud, rounds: Rounds): number {
  const { k, held, centre, owner } = clusters;
  const n = weight.length;
  const nearest = new Float64Array(n);
  const second = new Float64Array(n);
  const cost = new Float64Array(k);
  const loss = new Float64Array(k);
  const sums = new Float64Array(4 * k);
  const neighbours = new Neighbours(k);
  for (let round = 0; round < rounds.all; round++) {
    const moving = k - held > 1 && k > 2 && round < rounds.moving && round % 2 === 1;
    assign(points, centre, owner, nearest, moving ? second : null, neighbours);
    if (moving) {
      cost.fill(0);
      loss.fill(0);
      for (let i = 0; i < n; i++) {
        cost[owner[i]] += weight[i] * nearest[i];
        loss[owner[i]] += weight[i] * (second[i] - nearest[i]);
      }
      relocate(clusters, { points, weight }, cost, loss);
    }

    // one step of Weiszfeld's algorithm towards each geometric median
    sums.fill(0);
    for (let i = 0; i < n; i++) {
      const c = 4 * owner[i];
      // half a unit is below what can be seen; it keeps one point from holding the median fast
      const w = weight[i] / Math.max(nearest[i], 0.5);
      sums[c] += w;
      sums[c + 1] += w * points[3 * i];
      sums[c + 2] += w * points[3 * i + 1];
      sums[c + 3] += w * points[3 * i + 2];
    }
    let moved = 0;
    for (let c = held; c < k; c++) {
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
  let sum = 0;
  for (let i = 0; i < n; i++) sum += weight[i] * nearest[i];
  return sum;
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

/** Moves centres that would hardly be missed to where a cut takes away more. */
function relocate(clusters: Clusters, cloud: Cloud, cost: Float64Array, loss: Float64Array): void {
  const { k, held, owner } = clusters;
  const byLoss = Array.from({ length: k - held }, (_, c) => held + c).sort(
    (a, b) => loss[a] - loss[b] || a - b,
  );
  const byCost = Array.from({ length: k }, (_, c) => c).sort((a, b) => cost[b] - cost[a] || a - b);
  const tries = Math.max(1, k >> 3);
  const touched = new Set<number>();
  let from = 0;
  for (let t = 0; t < tries; t++) {
    const wide = byCost[t];
    while (from < byLoss.length && touched.has(byLoss[from])) from++;
    const spare = byLoss[from];
    if (spare === undefined || wide === spare || touched.has(wide)) break;
    const list = members(owner, wide);
    const { gain, left, right } = bestCut(cloud, list);
    if (gain <= 0) continue;
    const halves = [mean(cloud, left), mean(cloud, right)];
    const after = spread(cloud, left, halves[0]) + spread(cloud, right, halves[1]);
    if (cost[wide] - after <= loss[spare]) continue;
    move(clusters, wide, spare, halves, right);
    touched.add(wide).add(spare);
    from++;
  }
}

/** Gives half of what one centre owns to another; a held centre stays and lets the further half go. */
function move(
  { held, centre, owner }: Clusters,
  wide: number,
  spare: number,
  halves: number[][],
  right: Int32Array,
): void {
  if (wide >= held) {
    centre.set(halves[0], 3 * wide);
    centre.set(halves[1], 3 * spare);
    for (const i of right) owner[i] = spare;
    return;
  }
  const gap = (half: number[]) => Math.hypot(...half.map((v, a) => v - centre[3 * wide + a]));
  centre.set(gap(halves[0]) > gap(halves[1]) ? halves[0] : halves[1], 3 * spare);
}

/**
 * Looks for a better place for single centres: takes the least missed away, cuts one that costs much, lets all settle, and
 * keeps the outcome when the summed distance fell. Few centres can be caught in an outcome from which settling does not
 * lead out; this does.
 *
 * @param tries how many such moves to try
 * @returns the summed weighted distance
 */
export function search(
  clusters: Clusters,
  cloud: Cloud,
  cost: number,
  tries: number,
  rounds: Rounds,
): number {
  const { k, held } = clusters;
  if (k - held < 2 || k < 3) return cost;
  let best = cost;
  const failed = new Set<string>();
  for (let t = 0; t < tries; t++) {
    const { costs, losses } = shares(clusters, cloud);
    const pair = likely(costs, losses, held).find((p) => !failed.has(p.join()));
    if (!pair) break;
    const [wide, spare] = pair;
    const next: Clusters = { ...clusters, centre: clusters.centre.slice(), owner: clusters.owner.slice() };
    const { gain, left, right } = bestCut(cloud, members(next.owner, wide));
    if (gain > 0) {
      move(next, wide, spare, [mean(cloud, left), mean(cloud, right)], right);
      const after = settle(next, cloud, rounds);
      if (after < best * (1 - 1e-4)) {
        best = after;
        clusters.centre.set(next.centre);
        clusters.owner.set(next.owner);
        failed.clear();
        continue;
      }
    }
    failed.add(pair.join());
  }
  return best;
}

/** What each centre costs, and how much would be lost without it. */
function shares({ k, centre, owner }: Clusters, { points, weight }: Cloud) {
  const costs = new Float64Array(k);
  const losses = new Float64Array(k);
  for (let i = 0; i < weight.length; i++) {
    let first = Number.POSITIVE_INFINITY;
    let second = Number.POSITIVE_INFINITY;
    for (let c = 0; c < k; c++) {
      const d =
        (points[3 * i] - centre[3 * c]) ** 2 +
        (points[3 * i + 1] - centre[3 * c + 1]) ** 2 +
        (points[3 * i + 2] - centre[3 * c + 2]) ** 2;
      if (d < first) {
        second = first;
        first = d;
      } else if (d < second) second = d;
    }
    const near = Math.sqrt(first);
    costs[owner[i]] += weight[i] * near;
    losses[owner[i]] += weight[i] * (Math.sqrt(second) - near);
  }
  return { costs, losses };
}

/** Which centre to cut and which to take away for it, the most promising pairs first. */
function likely(costs: Float64Array, losses: Float64Array, held: number): [wide: number, spare: number][] {
  const pairs: { pair: [number, number]; gain: number }[] = [];
  for (let wide = 0; wide < costs.length; wide++)
    for (let spare = held; spare < costs.length; spare++)
      // a cut in two takes away about a quarter of what a cluster costs
      if (wide !== spare) pairs.push({ pair: [wide, spare], gain: costs[wide] / 4 - losses[spare] });
  return pairs.sort((a, b) => b.gain - a.gain).map((p) => p.pair);
}

function members(owner: Uint16Array, cluster: number): Int32Array {
  const list = new Int32Array(owner.length);
  let n = 0;
  for (let i = 0; i < owner.length; i++) if (owner[i] === cluster) list[n++] = i;
  return list.subarray(0, n);
}

function spread({ points, weight }: Cloud, list: Int32Array, c: number[]): number {
  let sum = 0;
  for (let j = 0; j < list.length; j++) {
    const i = list[j];
    const dx = points[3 * i] - c[0];
    const dy = points[3 * i + 1] - c[1];
    const dz = points[3 * i + 2] - c[2];
    sum += weight[i] * Math.sqrt(dx * dx + dy * dy + dz * dz);
  }
  return sum;
}
