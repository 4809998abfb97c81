import { OPAQUE, type Picture } from './histogram.ts';
import { lookBack, SRGB } from './space.ts';

/** The largest cell a picture can be averaged into: a quarter of its longer side, px. */
export const largestCell = ({ width, height }: { width: number; height: number }) =>
  Math.max(1, Math.floor(Math.max(width, height) / 4));

/**
 * The picture in square cells, one pixel for each: the mean of what the cell covers, taken in linear light, as if seen
 * through ground glass. Transparent pixels do not count; a cell with none but those is transparent. Cells begin at the
 * upper left corner; the last of a row or column may be cut.
 *
 * @param side px, whole
 */
export function inCells(picture: Picture, side: number): Picture {
  const { width, height, data, space = SRGB } = picture;
  const columns = Math.ceil(width / side);
  const rows = Math.ceil(height / side);
  const out = new Uint8ClampedArray(4 * columns * rows);
  const [red, green, blue] = space.curves;
  const sums = new Float64Array(4 * columns);
  for (let row = 0; row < rows; row++) {
    sums.fill(0);
    for (let y = row * side; y < Math.min(height, (row + 1) * side); y++) {
      let at = 4 * y * width;
      for (let column = 0, to = 0; column < columns; column++, to += 4) {
        const end = 4 * (y * width + Math.min(width, (column + 1) * side));
        let n = 0;
        let r = 0;
        let g = 0;
        let b = 0;
        for (; at < end; at += 4) {
          if (data[at + 3] < OPAQUE) continue;
          n++;
          r += red[data[at]];
          g += green[data[at + 1]];
          b += blue[data[at + 2]];
        }
        sums[to] += n;
        sums[to + 1] += r;
        sums[to + 2] += g;
        sums[to + 3] += b;
      }
    }
    for (let column = 0; column < columns; column++) {
      const n = sums[4 * column];
      if (n === 0) continue;
      const to = 4 * (row * columns + column);
      for (let c = 0; c < 3; c++)
        out[to + c] = Math.round(lookBack(space.curves[c], sums[4 * column + 1 + c] / n));
      out[to + 3] = 255;
    }
  }
  return { width: columns, height: rows, data: out, space };
}
