/** A decoded picture: 8-bit sRGB with alpha, row by row from the top. */
export interface Picture {
  width: number;
  height: number;
  data: Uint8ClampedArray | Uint8Array;
}

/** The colours of a picture, near ones counted together. */
export interface Histogram {
  /** How many colours there are. */
  size: number;
  /** Mean colour of each, 0–255, three to a colour. */
  rgb: Float64Array;
  /** Pixels of each. */
  count: Float64Array;
  /** The first pixel of each, counted row by row from the top. */
  first: Uint32Array;
  /** Opaque pixels in all. */
  total: number;
  /** Whether every entry is one colour of the picture, rather than the mean of near ones. */
  exact: boolean;
}

/** Pixels less opaque than this do not count. */
export const OPAQUE = 128;

/** Pictures with no more colours than this are counted colour by colour. */
const FEW = 4096;
/** How many pixels are looked at first, to tell a photograph from a flat picture. */
const SCATTER = 16_384;

const BITS = 5;
const LOW = 8 - BITS;
const LOW_MASK = (1 << LOW) - 1;
const CELL_MASK = (1 << BITS) - 1;

/** The pixels as whole words; needs a copy only when the bytes do not start on a word. */
export function words(picture: Picture): Uint32Array {
  const { data } = picture;
  return data.byteOffset % 4 === 0
    ? new Uint32Array(data.buffer, data.byteOffset, data.length >> 2)
    : new Uint32Array(data.slice().buffer);
}

/**
 * Counts the colours of a picture: each for itself when there are few, else in cells of 5 bits a channel whose
 * mean is kept exactly. One pass, a few nanoseconds a pixel.
 */
export function histogram(picture: Picture): Histogram {
  const pixels = words(picture);
  return fewColors(pixels) ?? manyColors(pixels);
}

/** Every colour for itself, or null as soon as there are more than {@link FEW}. */
function fewColors(pixels: Uint32Array): Histogram | null {
  // a photograph shows by a scatter of its pixels, long before they have all been read
  const stride = Math.floor(pixels.length / SCATTER);
  if (stride > 1 && !countFew(scattered(pixels, stride))) return null;
  return countFew(pixels);
}

function scattered(pixels: Uint32Array, stride: number): Uint32Array {
  const some = new Uint32Array(Math.ceil(pixels.length / stride));
  for (let i = 0; i < some.length; i++) some[i] = pixels[i * stride];
  return some;
}

function countFew(pixels: Uint32Array): Histogram | null {
  const slots = new Int32Array(4 * FEW).fill(-1);
  const color: number[] = [];
  const count: number[] = [];
  const first: number[] = [];
  let total = 0;
  let last = -1;
  let slot = 0;
  for (let i = 0; i < pixels.length; i++) {
    const pixel = pixels[i];
    if (pixel >>> 24 < OPAQUE) continue;
    const rgb = pixel & 0xffffff;
    total++;
    if (rgb !== last) {
      last = rgb;
      let s = (Math.imul(rgb, 0x9e3779b1) >>> 18) & (4 * FEW - 1);
      while (slots[s] >= 0 && color[slots[s]] !== rgb) s = (s + 1) & (4 * FEW - 1);
      if (slots[s] < 0) {
        if (color.length === FEW) return null;
        slots[s] = color.length;
        color.push(rgb);
        count.push(0);
        first.push(i);
      }
      slot = slots[s];
    }
    count[slot]++;
  }
  const rgb = new Float64Array(3 * color.length);
  color.forEach((c, i) => {
    rgb[3 * i] = c & 255;
    rgb[3 * i + 1] = (c >> 8) & 255;
    rgb[3 * i + 2] = c >> 16;
  });
  return {
    size: color.length,
    rgb,
    count: Float64Array.from(count),
    first: Uint32Array.from(first),
    total,
    exact: true,
  };
}

function manyColors(pixels: Uint32Array): Histogram {
  const cells = 1 << (3 * BITS);
  // count and the sums of the low bits stand side by side, so that a pixel touches one cache line;
  // the low bits of 40 million pixels fit 31 bits; signed words are what engines add fastest
  const sums = new Int32Array(4 * cells);
  const first = new Int32Array(cells);
  const signed = new Int32Array(pixels.buffer, pixels.byteOffset, pixels.length);
  for (let i = 0; i < signed.length; i++) {
    const p = signed[i];
    // an alpha of 128 and more is the sign of the word
    if (p >= 0) continue;
    const cell =
      (((p >> LOW) & CELL_MASK) << (2 * BITS)) |
      (((p >> (8 + LOW)) & CELL_MASK) << BITS) |
      ((p >> (16 + LOW)) & CELL_MASK);
    const at = cell << 2;
    if (sums[at] === 0) first[cell] = i;
    sums[at] = (sums[at] + 1) | 0;
    sums[at + 1] = (sums[at + 1] + (p & LOW_MASK)) | 0;
    sums[at + 2] = (sums[at + 2] + ((p >> 8) & LOW_MASK)) | 0;
    sums[at + 3] = (sums[at + 3] + ((p >> 16) & LOW_MASK)) | 0;
  }
  let size = 0;
  for (let cell = 0; cell < cells; cell++) if (sums[4 * cell] > 0) size++;
  const result: Histogram = {
    size,
    rgb: new Float64Array(3 * size),
    count: new Float64Array(size),
    first: new Uint32Array(size),
    total: 0,
    exact: false,
  };
  let n = 0;
  for (let cell = 0; cell < cells; cell++) {
    const count = sums[4 * cell];
    if (count === 0) continue;
    result.count[n] = count;
    result.first[n] = first[cell];
    result.total += count;
    for (let k = 0; k < 3; k++) {
      const high = ((cell >> (BITS * (2 - k))) & CELL_MASK) << LOW;
      result.rgb[3 * n + k] = high + sums[4 * cell + 1 + k] / count;
    }
    n++;
  }
  return result;
}
