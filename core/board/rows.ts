// Areas in rows (as a squarified treemap keeps order: rows are chosen as a whole, after Bruls, Huizing and van Wijk, 2000).
import type { Box } from './marks.ts';

/** Wider than high, as swatches are looked at. */
const RATIO = 1.35;
const MAX_IN_ROW = 60;

/**
 * Boxes of given areas in order, in rows that are as wide as their room and whose boxes are of shapes that are easy to see.
 * @param areas square mm; their sum is what is filled
 */
export function inRows(areas: readonly number[], { x, y, width }: Omit<Box, 'height'>): Box[] {
  const n = areas.length;
  // sums of the areas, their logarithms, and those squared, up to each place
  const [sum, logs, squares] = [new Float64Array(n + 1), new Float64Array(n + 1), new Float64Array(n + 1)];
  areas.forEach((area, i) => {
    const log = Math.log(area);
    sum[i + 1] = sum[i]! + area;
    logs[i + 1] = logs[i]! + log;
    squares[i + 1] = squares[i]! + log * log;
  });
  // how far from well shaped the boxes of a row are: the squares of the logarithms of their shapes
  const odd = (from: number, to: number) => {
    const whole = sum[to]! - sum[from]!;
    const c = 2 * Math.log(width / whole) - Math.log(RATIO);
    return squares[to]! - squares[from]! + 2 * c * (logs[to]! - logs[from]!) + (to - from) * c * c;
  };
  const best = new Float64Array(n + 1).fill(Number.POSITIVE_INFINITY);
  const start = new Int32Array(n + 1);
  best[0] = 0;
  for (let to = 1; to <= n; to++)
    for (let from = Math.max(0, to - MAX_IN_ROW); from < to; from++) {
      const cost = best[from]! + odd(from, to);
      if (cost < best[to]!) {
        best[to] = cost;
        start[to] = from;
      }
    }
  const rows: [number, number][] = [];
  for (let to = n; to > 0; to = start[to]!) rows.unshift([start[to]!, to]);
  const boxes: Box[] = [];
  let top = y;
  for (const [from, to] of rows) {
    const height = (sum[to]! - sum[from]!) / width;
    let left = x;
    for (let i = from; i < to; i++) {
      const wide = areas[i]! / height;
      boxes.push({ x: left, y: top, width: wide, height });
      left += wide;
    }
    top += height;
  }
  return boxes;
}
