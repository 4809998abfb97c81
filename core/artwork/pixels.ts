import { fromRgb8 } from '../color/index.ts';
import type { Picture } from '../picture/index.ts';
import { FormatError } from '../text/error.ts';
import type { PaintedColor } from './parts.ts';

/** More flat colours than any drawing has. */
const MAX_COLORS = 256;
/** How far a pixel may be from a mixture of what lies around it, in 8-bit steps of all three channels together. */
const MIXED = 24;
/** How far around a pixel the colours lie that it is mixed of, in pixels: smooth edges are two wide. */
const REACH = 2;
/** At most this many pixels of a colour that is not a mixture make it one of the picture's own: thin lines have no middle. */
const MIN_PIXELS = 3;

/** From this opacity on, 0–255, a colour is flat. */
const FAINT = 64;
/** So much of a flat drawing is flat, unless it is so small that it is mostly edges, pixels. */
const MIN_FLAT_SHARE = 0.5;
const SMALL = 4096;
/** Colours of thin lines that are looked for one after the other. */
const MAX_ROUNDS = 40;
/** Colours in squares of four, before any is distinguished from an edge. */
const MAX_SQUARES = 1000;
/** Squares of four pixels that an edge alone may have by chance. */
const MAX_EDGE_SQUARES = 12;

/** Colours so near are one where there is little of the one: in 8-bit steps of all three channels together. */
const ALIKE = 6;
const distance = (a: number, b: number) =>
  Math.hypot((a >> 16) - (b >> 16), ((a >> 8) & 255) - ((b >> 8) & 255), (a & 255) - (b & 255));
/** So much that is neither flat nor a mixture no flat drawing has, and this many pixels. */
const MAX_UNSOLVED_SHARE = 0.02;

interface Mixture {
  /** Of the colours given; -1 where there are none. */
  first: number;
  second: number;
  /** How much of the second, 0–1. */
  amount: number;
  /** How far it is from what was wanted, in 8-bit steps of all three channels together. */
  error: number;
}

/** The nearest colour to a value, or mixture of two, among some. @param all colours as 24 bits, `some` the places of those looked at */
function mixtureOf(value: number, all: readonly number[], some: readonly number[]): Mixture {
  const best: Mixture = { first: -1, second: -1, amount: 0, error: Number.POSITIVE_INFINITY };
  const [r, g, b] = [value >> 16, (value >> 8) & 255, value & 255];
  for (let k = 0; k < some.length; k++) {
    const A = all[some[k]!]!;
    const [ar, ag, ab] = [A >> 16, (A >> 8) & 255, A & 255];
    const alone = Math.hypot(r - ar, g - ag, b - ab);
    if (alone < best.error) Object.assign(best, { first: some[k], second: -1, amount: 0, error: alone });
    for (let m = k + 1; m < some.length; m++) {
      const C = all[some[m]!]!;
      const [dr, dg, db] = [(C >> 16) - ar, ((C >> 8) & 255) - ag, (C & 255) - ab];
      const along = ((r - ar) * dr + (g - ag) * dg + (b - ab) * db) / (dr * dr + dg * dg + db * db);
      const t = Math.min(1, Math.max(0, along));
      const error = Math.hypot(r - ar - t * dr, g - ag - t * dg, b - ab - t * db);
      // one colour alone is likelier than two that come no nearer
      if (error < best.error - 1e-9)
        Object.assign(best, { first: some[k], second: some[m], amount: t, error });
    }
  }
  return best;
}

const tooMany = () =>
  new FormatError(
    `it has more than ${MAX_COLORS} flat colours, so it is not a flat drawing. Gather a palette from it instead.`,
  );

/** A picture of few flat colours, whose smooth edges are mixtures of those beside them. */
export interface FlatPicture {
  width: number;
  height: number;
  colors: PaintedColor[];
  data: Uint8ClampedArray | Uint8Array;
  channels: 3 | 4;
  /** For each pixel the flat colour it is of, and the one it is mixed with; -1 where nothing is. */
  first: Int16Array;
  second: Int16Array;
  /** How much of the second there is, 0–255. */
  amount: Uint8Array;
}

/**
 * Reads a picture as flat colours. What lies between two of them is taken for a mixture of encoded sRGB values, as drawing programs
 * smooth their edges.
 * @throws FormatError when it has more flat colours than any drawing
 */
export function readFlat({ width, height, data }: Picture): FlatPicture {
  const pixels = width * height;
  const channels = (data.length / pixels) as 3 | 4;
  const at = (i: number) =>
    (data[i * channels]! << 16) | (data[i * channels + 1]! << 8) | data[i * channels + 2]!;
  const isSeen = (i: number) => channels === 3 || data[i * channels + 3]! > 0;
  const values = new Int32Array(pixels);
  for (let i = 0; i < pixels; i++) values[i] = isSeen(i) ? at(i) : -1;

  const index = new Map<number, number>();
  const own = (value: number) => {
    let n = index.get(value);
    if (n === undefined) {
      n = index.size;
      index.set(value, n);
      if (n >= MAX_COLORS) throw tooMany();
    }
    return n;
  };
  const first = new Int16Array(pixels).fill(-1);
  const second = new Int16Array(pixels).fill(-1);
  const amount = new Uint8Array(pixels);
  const alphaAt = (i: number) => (channels === 3 ? 255 : data[i * channels + 3]!);
  const squares = new Map<number, number>();
  for (let y = 0; y + 1 < height; y++)
    for (let x = 0; x + 1 < width; x++) {
      const i = y * width + x;
      const v = values[i]!;
      if (v < 0 || alphaAt(i) < FAINT) continue;
      if ([i + 1, i + width, i + width + 1].every((j) => values[j] === v && alphaAt(j) === alphaAt(i)))
        squares.set(v, (squares.get(v) ?? 0) + 1);
    }
  if (squares.size > MAX_SQUARES) throw tooMany();
  // those of which there is most first: what is little and lies between two of them is an edge that happens to be wide
  const enough = Math.max(MAX_EDGE_SQUARES, pixels * 0.0002);
  for (const [value, n] of [...squares].sort((p, q) => q[1] - p[1])) {
    const alike = [...index.keys()].find((v) => distance(v, value) < ALIKE);
    // what is off by a level or two is the same, painted over an edge
    if (alike !== undefined && n * 20 < squares.get(alike)!) continue;
    if (n >= enough || mixtureOf(value, [...index.keys()], [...index.values()]).error > MIXED / 2) own(value);
  }
  if (index.size === 0) for (let i = 0; i < pixels; i++) if (values[i]! >= 0) own(values[i]!);

  let [seen, plain] = [0, 0];
  for (let i = 0; i < pixels; i++) {
    if (values[i]! < 0) continue;
    seen++;
    if (index.has(values[i]!)) plain++;
  }
  if (seen > SMALL && plain < MIN_FLAT_SHARE * seen)
    throw new FormatError(
      `only ${Math.round((100 * plain) / seen)} % of it is flat colour, so it is not a flat drawing. Gather a palette from it instead.`,
    );

  const flat = [...index.keys()];
  const settle = () => {
    for (let i = 0; i < pixels; i++)
      if (first[i]! < 0 && values[i]! >= 0) first[i] = index.get(values[i]!) ?? -1;
  };
  settle();
  /** The best mixture for a pixel of what lies around it. */
  const around = (i: number): Mixture => {
    const [x, y] = [i % width, Math.floor(i / width)];
    const near = new Set<number>();
    for (let dy = -REACH; dy <= REACH; dy++)
      for (let dx = -REACH; dx <= REACH; dx++) {
        const [px, py] = [x + dx, y + dy];
        if (px < 0 || py < 0 || px >= width || py >= height) continue;
        const j = py * width + px;
        if (first[j]! >= 0 && second[j]! < 0) near.add(first[j]!);
      }
    return mixtureOf(values[i]!, flat, [...near]);
  };
  const put = (i: number, { first: a, second: b, amount: t }: Mixture) => {
    if (a < 0) return;
    mixed.push([i, a, b, t]);
  };
  const mixed: [number, number, number, number][] = [];
  let left = [...first.keys()].filter((i) => first[i]! < 0 && values[i]! >= 0);
  // what is not a mixture is a colour of its own, where there is some of it: the furthest from all others first, as its edges are then mixtures
  for (let round = 0; round < MAX_ROUNDS; round++) {
    const counts = new Map<number, { n: number; error: number }>();
    const rest: number[] = [];
    for (const i of left) {
      const found = around(i);
      // few levels are left of what is hardly seen
      if (found.first >= 0 && found.error <= (MIXED * 255) / Math.max(1, alphaAt(i))) {
        put(i, found);
        continue;
      }
      rest.push(i);
      const known = counts.get(values[i]!) ?? { n: 0, error: 0 };
      counts.set(values[i]!, { n: known.n + 1, error: Math.max(known.error, Math.min(found.error, 1000)) });
    }
    left = rest;
    if (left.length > Math.max(SMALL, MAX_UNSOLVED_SHARE * seen)) throw tooMany();
    const [next] = [...counts].filter(([, c]) => c.n >= MIN_PIXELS).sort((p, q) => q[1].error - p[1].error);
    if (!next) break;
    flat[own(next[0])] = next[0];
    settle();
    left = left.filter((i) => first[i]! < 0);
  }
  for (const i of left) put(i, mixtureOf(values[i]!, flat, [...flat.keys()]));
  for (const [i, a, b, t] of mixed) {
    first[i] = a;
    second[i] = b;
    amount[i] = Math.round(t * 255);
  }

  const sums = new Float64Array(flat.length);
  for (let i = 0; i < pixels; i++) {
    if (first[i]! < 0) continue;
    const t = second[i]! < 0 ? 0 : amount[i]! / 255;
    sums[first[i]!] = sums[first[i]!]! + 1 - t;
    if (second[i]! >= 0) sums[second[i]!] = sums[second[i]!]! + t;
  }
  const colors = flat.map(
    (value, id): PaintedColor => ({
      hex: `#${value.toString(16).padStart(6, '0')}`,
      color: fromRgb8(value >> 16, (value >> 8) & 255, value & 255),
      parts: [{ id }],
      share: seen > 0 ? sums[id]! / seen : 0,
      names: [],
    }),
  );
  return { width, height, data, channels, colors, first, second, amount };
}

/**
 * A picture with other colours; mixtures are mixed again, opacity stays.
 * @param changes new colours `#rrggbb` by the ids of the colours' parts
 * @returns pixels as they came, three or four bytes each
 */
export function recoloredPixels(
  picture: FlatPicture,
  changes: ReadonlyMap<number, string>,
): Uint8Array<ArrayBuffer> {
  const { colors, data, channels, first, second, amount } = picture;
  const before = colors.map((c) => Number.parseInt(c.hex.slice(1), 16));
  const after = colors.map((c, id) => Number.parseInt((changes.get(id) ?? c.hex).slice(1), 16));
  const out = new Uint8Array(data);
  for (let i = 0; i < first.length; i++) {
    const a = first[i]!;
    if (a < 0) continue;
    const b = second[i]!;
    if (after[a] === before[a] && (b < 0 || after[b] === before[b])) continue;
    const t = b < 0 ? 0 : amount[i]! / 255;
    for (let c = 0; c < 3; c++) {
      const shift = 16 - 8 * c;
      const one = (after[a]! >> shift) & 255;
      const other = b < 0 ? one : (after[b]! >> shift) & 255;
      out[i * channels + c] = Math.round(one + t * (other - one));
    }
  }
  return out;
}
