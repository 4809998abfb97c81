import { OPAQUE, type Picture, words } from './histogram.ts';
import { toPerceptual } from './perceptual.ts';

const BITS = 6;
const SHIFT = 8 - BITS;
const CELLS = 1 << (3 * BITS);

/**
 * The picture drawn with a palette: each pixel takes its nearest colour, without dithering. The nearest colour
 * is looked up once for each cell of 6 bits a channel; transparent pixels stay transparent.
 *
 * @param palette sRGB 0–255
 */
export function drawWith(
  picture: Picture,
  palette: readonly (readonly number[])[],
): Uint8ClampedArray<ArrayBuffer> {
  const out = new Uint8ClampedArray(picture.data.length);
  if (palette.length === 0) return out;
  const pixels = words(picture);
  const target = new Uint32Array(out.buffer);
  const centre = toPerceptual(palette.flat());
  const color = palette.map(([r, g, b]) => (0xff000000 | (b << 16) | (g << 8) | r) >>> 0);
  const cells = new Int16Array(CELLS).fill(-1);
  for (let i = 0; i < pixels.length; i++) {
    const p = pixels[i];
    if (p >>> 24 < OPAQUE) continue;
    const r = (p & 255) >> SHIFT;
    const g = ((p >>> 8) & 255) >> SHIFT;
    const b = ((p >>> 16) & 255) >> SHIFT;
    const cell = (r << (2 * BITS)) | (g << BITS) | b;
    if (cells[cell] < 0) cells[cell] = nearest(centre, p);
    target[i] = color[cells[cell]];
  }
  return out;
}

function nearest(centre: Float64Array, pixel: number): number {
  const [x, y, z] = toPerceptual([pixel & 255, (pixel >>> 8) & 255, (pixel >>> 16) & 255]);
  let best = Number.POSITIVE_INFINITY;
  let at = 0;
  for (let c = 0; 3 * c < centre.length; c++) {
    const d = (x - centre[3 * c]) ** 2 + (y - centre[3 * c + 1]) ** 2 + (z - centre[3 * c + 2]) ** 2;
    if (d < best) {
      best = d;
      at = c;
    }
  }
  return at;
}
