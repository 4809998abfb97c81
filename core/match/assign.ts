import { type Lab, type Metric, type Near, NearIndex } from '../color/index.ts';

/**
 * Pairs each of some colours with one of others, none of those used twice, so that all differences together are as small as can
 * be. Exact: shortest augmenting paths (Jonker and Volgenant, Computing 38 (1987) 325) over the nearest few of each, of which
 * more are looked at wherever the prices found so far do not prove that they cannot matter.
 *
 * @param breathe called from time to time with how many are paired; a wish to stop comes in by its throwing
 * @returns for each its partner; null for those that are left over where there are fewer others
 */
export async function assign(
  from: readonly Lab[],
  to: readonly Lab[],
  metric: Metric,
  breathe: (done: number, of: number) => Promise<void> = async () => undefined,
): Promise<(Near | null)[]> {
  // the shorter side is paired whole
  if (from.length > to.length) {
    const turned: Metric = {
      ...metric,
      difference: (a, b) => metric.difference(b, a),
      perUnit: (c, o, h, k) => metric.perUnit(o, c, k, h),
    };
    const back = await assign(to, from, turned, breathe);
    const result: (Near | null)[] = from.map(() => null);
    back.forEach((pair, place) => {
      if (pair) result[pair.place] = { place, difference: pair.difference };
    });
    return result;
  }
  const index = new NearIndex(to, metric);
  const n = from.length;
  const columns = to.length;
  /** The nearest of each row, as many as have been looked at; all further ones differ at least as much as the last. */
  const near: Looked[] = from.map(() => ({ places: new Int32Array(), differences: new Float64Array() }));
  const grow = (row: number): number => {
    const before = near[row]!.places.length;
    const found = index.nearest(from[row]!, Math.min(columns, Math.max(8, before * 4)));
    near[row] = {
      places: Int32Array.from(found, (f) => f.place),
      differences: Float64Array.from(found, (f) => f.difference),
    };
    return before;
  };
  for (let row = 0; row < n; row++) grow(row);

  const price = new Float64Array(columns);
  const rowOf = new Int32Array(columns).fill(-1);
  const columnOf = new Int32Array(n).fill(-1);
  /** What each row's partner differs from it. */
  const costOf = new Float64Array(n);
  const distance = new Float64Array(columns);
  const before = new Int32Array(columns);
  const fromRow = new Int32Array(columns);
  const stepCost = new Float64Array(columns);
  const settled = new Uint8Array(columns);
  const reached = new Float64Array(n);

  for (let start = 0; start < n; start++) {
    if (start % 20 === 0) await breathe(start, n);
    distance.fill(Number.POSITIVE_INFINITY);
    settled.fill(0);
    const heap = new Heap();
    const order: number[] = [];
    /** Goes on from a row over the columns it has looked at from some place on; the rest waits until it can matter. */
    const visit = (row: number, from: number, column: number) => {
      const { places, differences } = near[row]!;
      // what the row pays above its own partner's reduced cost
      const base = columnOf[row]! >= 0 ? costOf[row]! - price[columnOf[row]!]! : 0;
      const cost = reached[row]!;
      for (let i = from; i < places.length; i++) {
        const place = places[i]!;
        if (settled[place]) continue;
        const way = cost + differences[i]! - price[place]! - base;
        if (way >= distance[place]!) continue;
        distance[place] = way;
        before[place] = column;
        fromRow[place] = row;
        stepCost[place] = differences[i]!;
        heap.push(way, place);
      }
      // prices are never above 0, so that a column further away costs at least this
      if (places.length < columns) heap.push(cost + differences.at(-1)! - base, columns + row);
    };
    reached[start] = 0;
    visit(start, 0, -1);
    let end = -1;
    while (end < 0) {
      const { key, item } = heap.pop()!;
      if (item >= columns) {
        const row = item - columns;
        visit(row, grow(row), row === start ? -1 : columnOf[row]!);
        continue;
      }
      if (settled[item] || key > distance[item]!) continue;
      settled[item] = 1;
      order.push(item);
      const row = rowOf[item]!;
      if (row < 0) end = item;
      else {
        reached[row] = key;
        visit(row, 0, item);
      }
    }
    const length = distance[end]!;
    for (const column of order) price[column]! += distance[column]! - length;
    for (let column = end; column >= 0; ) {
      const row = fromRow[column]!;
      rowOf[column] = row;
      columnOf[row] = column;
      costOf[row] = stepCost[column]!;
      column = before[column]!;
    }
  }
  await breathe(n, n);
  return from.map((lab, row) => ({
    place: columnOf[row]!,
    difference: metric.difference(lab, to[columnOf[row]!]!),
  }));
}

interface Looked {
  places: Int32Array;
  differences: Float64Array;
}

/** What costs least comes first. */
class Heap {
  private readonly keys: number[] = [];
  private readonly items: number[] = [];

  push(key: number, item: number): void {
    let at = this.keys.length;
    while (at > 0) {
      const up = (at - 1) >> 1;
      if (this.keys[up]! <= key) break;
      this.keys[at] = this.keys[up]!;
      this.items[at] = this.items[up]!;
      at = up;
    }
    this.keys[at] = key;
    this.items[at] = item;
  }

  pop(): { key: number; item: number } | null {
    if (this.keys.length === 0) return null;
    const top = { key: this.keys[0]!, item: this.items[0]! };
    const key = this.keys.pop()!;
    const item = this.items.pop()!;
    const size = this.keys.length;
    if (size === 0) return top;
    let at = 0;
    for (;;) {
      let down = 2 * at + 1;
      if (down >= size) break;
      if (down + 1 < size && this.keys[down + 1]! < this.keys[down]!) down++;
      if (this.keys[down]! >= key) break;
      this.keys[at] = this.keys[down]!;
      this.items[at] = this.items[down]!;
      at = down;
    }
    this.keys[at] = key;
    this.items[at] = item;
    return top;
  }
}
