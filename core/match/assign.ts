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
  /** The nearest of each, as many as have been looked at; all further ones differ at least as much as the last. */
  const near = from.map(() => [] as Near[]);
  const grow = (row: number) => {
    const wanted = Math.min(columns, Math.max(8, near[row]!.length * 4));
    near[row] = index.nearest(from[row]!, wanted);
  };
  for (let row = 0; row < n; row++) grow(row);

  const price = new Float64Array(columns);
  const rowOf = new Int32Array(columns).fill(-1);
  const columnOf = new Int32Array(n).fill(-1);
  const distance = new Float64Array(columns);
  const before = new Int32Array(columns);
  const settled = new Uint8Array(columns);

  for (let start = 0; start < n; start++) {
    if (start % 50 === 0) await breathe(start, n);
    for (;;) {
      distance.fill(Number.POSITIVE_INFINITY);
      settled.fill(0);
      const heap = new Heap();
      const touched: number[] = [];
      /** The least that a way over a column not looked at yet can cost, and the row that would have to look. */
      let unseen = Number.POSITIVE_INFINITY;
      let unseenRow = -1;
      const visit = (row: number, cost: number, column: number) => {
        const list = near[row]!;
        // what the row pays above its own partner's reduced cost
        const base = columnOf[row]! >= 0 ? reduced(row, columnOf[row]!) : 0;
        for (const { place, difference } of list) {
          if (settled[place]) continue;
          const way = cost + difference - price[place]! - base;
          if (way < distance[place]!) {
            if (distance[place] === Number.POSITIVE_INFINITY) touched.push(place);
            distance[place] = way;
            before[place] = column;
            heap.push(way, place);
          }
        }
        if (list.length < columns) {
          // prices are never above 0, so that a column further away costs at least this
          const least = cost + list.at(-1)!.difference - base;
          if (least < unseen) {
            unseen = least;
            unseenRow = row;
          }
        }
      };
      const reduced = (row: number, column: number) => {
        const found = near[row]!.find((f) => f.place === column)!;
        return found.difference - price[column]!;
      };
      visit(start, 0, -1);
      let end = -1;
      let length = 0;
      const order: number[] = [];
      for (let next = heap.pop(); ; next = heap.pop()) {
        if (next && (settled[next.item] || next.key > distance[next.item]!)) continue;
        if (!next || next.key > unseen) break;
        const column = next.item;
        settled[column] = 1;
        order.push(column);
        if (rowOf[column]! < 0) {
          end = column;
          length = next.key;
          break;
        }
        visit(rowOf[column]!, next.key, column);
      }
      if (end < 0) {
        // the way may lead over a column nobody has looked at
        grow(unseenRow);
        continue;
      }
      for (const column of order) price[column]! += distance[column]! - length;
      for (let column = end; column >= 0; ) {
        const previous = before[column]!;
        const row = previous < 0 ? start : rowOf[previous]!;
        rowOf[column] = row;
        columnOf[row] = column;
        column = previous;
      }
      break;
    }
  }
  await breathe(n, n);
  return from.map((lab, row) => ({
    place: columnOf[row]!,
    difference: metric.difference(lab, to[columnOf[row]!]!),
  }));
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
