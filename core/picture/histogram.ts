import { colorOfPixel, type PixelSpace, pixelOfColor, SRGB } from './space.ts';

/** A decoded picture: 8 bits of red, green, blue and alpha a pixel, row by row from the top. */
export interface Picture {
  width: number;
  height: number;
  data: Uint8ClampedArray | Uint8Array;
  /** What the numbers mean; sRGB when not given. */
  space?: PixelSpace;
  /** A warning about how the file was read. */
  note?: string;
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
  space: PixelSpace;
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
 * mean is kept exactly. Of very large pictures every second, third… pixel is counted, shifted from row to row, so
 * that at least {@link ENOUGH} are: shares then differ by less than 0.1 %.
 */
export function histogram(picture: Picture): Histogram {
  const pixels = words(picture);
  return { ...(fewColors(pixels) ?? manyColors(pixels, picture.width)), space: picture.space ?? SRGB };
}

type Counted = Omit<Histogram, 'space'>;

/** Every colour for itself, or null as soon as there are more than {@link FEW}. */
function fewColors(pixels: Uint32Array): Counted | null {
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

function countFew(pixels: Uint32Array): Counted | null {
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

/** The low bits of a pixel's channels, a byte apart; above them a pixel counts one. */
const LOWS = 0x010101 * LOW_MASK;
const ONE = 1 << 24;
/** At most this many pixels of a cell are added up in one word before a byte could run over. */
const FULL = Math.floor(255 / LOW_MASK) * ONE;

/** Beyond this, pixels are counted on a grid with at least this many of them. */
const ENOUGH = 6_000_000;

function manyColors(pixels: Uint32Array, width: number): Counted {
  const cells = 1 << (3 * BITS);
  // count and the sums of the low bits stand side by side, so that a pixel touches one cache line;
  // the low bits of 40 million pixels fit 31 bits; signed words are what engines add fastest
  const sums = new Int32Array(4 * cells);
  const first = new Int32Array(cells);
  const signed = new Int32Array(pixels.buffer, pixels.byteOffset, pixels.length);
  const stride = Math.max(1, Math.floor(pixels.length / ENOUGH));
  // a pixel adds one word to its cell; now and then that word is emptied into the sums
  const waiting = new Int32Array(cells);
  const empty = (cell: number, word: number) => {
    const at = cell << 2;
    sums[at] = (sums[at] + (word >> 24)) | 0;
    sums[at + 1] = (sums[at + 1] + (word & 255)) | 0;
    sums[at + 2] = (sums[at + 2] + ((word >> 8) & 255)) | 0;
    sums[at + 3] = (sums[at + 3] + ((word >> 16) & 255)) | 0;
  };
  for (let row = 0, y = 0; row < signed.length; row += width, y++) {
    // each row begins one further on, so that no line of the picture is passed over
    for (let i = row + (y % stride), end = row + width; i < end; i += stride) {
      const p = signed[i];
      // an alpha of 128 and more is the sign of the word
      if (p >= 0) continue;
      const cell =
        ((p & (CELL_MASK << LOW)) << (2 * BITS - LOW)) |
        ((p & (CELL_MASK << (LOW + 8))) >> (LOW + 8 - BITS)) |
        ((p >> (LOW + 16)) & CELL_MASK);
      const before = waiting[cell];
      if (before === 0 && sums[cell << 2] === 0) first[cell] = i;
      const word = (before + (p & LOWS) + ONE) | 0;
      if (word < FULL) waiting[cell] = word;
      else {
        empty(cell, word);
        waiting[cell] = 0;
      }
    }
  }
  for (let cell = 0; cell < cells; cell++) if (waiting[cell]) empty(cell, waiting[cell]);
  let size = 0;
  for (let cell = 0; cell < cells; cell++) if (sums[4 * cell] > 0) size++;
  const result: Counted = {
    size,
    rgb: new Float64Array(3 * size),
    count: new Float64Array(size),
    first: new Uint32Array(size),
    total: 0,
    exact: false,
  };
  let at = 0;
  for (let cell = 0; cell < cells; cell++) {
    const count = sums[4 * cell];
    if (count === 0) continue;
    result.count[at] = count;
    result.first[at] = first[cell];
    result.total += count;
    for (let k = 0; k < 3; k++) {
      const high = ((cell >> (BITS * (2 - k))) & CELL_MASK) << LOW;
      result.rgb[3 * at + k] = high + sums[4 * cell + 1 + k] / count;
    }
    at++;
  }
  return result;
}

/**
 * Several pictures as one, each counting the same however large it is. `first` goes on from picture to picture: the second's
 * begins after `sizes[0]` pixels.
 *
 * @param sizes pixels of each picture
 */
export function together(all: Histogram[], sizes: number[]): Histogram {
  if (all.length === 1) return all[0];
  // a wide space holds what sRGB holds, but not the other way round
  const space = all.find((h) => h.space.name !== SRGB.name)?.space ?? SRGB;
  const size = all.reduce((n, h) => n + h.size, 0);
  const joined: Histogram = {
    size,
    rgb: new Float64Array(3 * size),
    count: new Float64Array(size),
    first: new Uint32Array(size),
    total: 0,
    exact: all.every((h) => h.exact),
    space,
  };
  const largest = Math.max(...all.map((h) => h.total));
  const seen = new Map<string, number>();
  let at = 0;
  let before = 0;
  all.forEach((h, n) => {
    const scale = h.total > 0 ? largest / h.total : 0;
    for (let i = 0; i < h.size; i++) {
      let rgb: ArrayLike<number> = h.rgb.subarray(3 * i, 3 * i + 3);
      if (h.space.name !== space.name) rgb = pixelOfColor(colorOfPixel(rgb, h.space).components, space);
      const key = joined.exact ? Array.from(rgb).join() : '';
      let to = joined.exact ? seen.get(key) : undefined;
      if (to === undefined) {
        to = at++;
        seen.set(key, to);
        joined.rgb.set(rgb, 3 * to);
        joined.first[to] = before + h.first[i];
      }
      joined.count[to] += h.count[i] * scale;
    }
    joined.total += h.total * scale;
    before += sizes[n];
  });
  return at === size
    ? joined
    : {
        ...joined,
        size: at,
        rgb: joined.rgb.slice(0, 3 * at),
        count: joined.count.slice(0, at),
        first: joined.first.slice(0, at),
      };
}
