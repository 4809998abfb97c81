import type { Lab } from '../color/index.ts';

/** A page of a book: a run of hues, laid out by lightness and chroma. Colours are identified by their places in the book. */
export interface Leaf {
  /** Hues, degrees; the end can lie beyond 360. */
  from: number;
  to: number;
  /** What its hues are called. */
  word: string;
  /** How many colours it holds. */
  size: number;
  /** The lightest first; in each the greyest first. Laid out when it is first looked at. */
  readonly rows: { lightness: number; places: number[] }[];
  /** A few of its colours from light to dark, to know it by. */
  face: number[];
}

export interface Leaves {
  leaves: Leaf[];
  greys: Leaf;
  specials: Leaf;
  /** The leaf of each colour; {@link GREYS} and {@link SPECIALS} for those that stand apart. */
  leafOf: Int32Array;
}

export const GREYS = -1;
export const SPECIALS_LEAF = -2;

/** Under this chroma a colour is a grey (common practice, no source). */
const GREY_CHROMA = 5;
/** This many colours fill a leaf; a book has this many leaves at most, which hold more then. */
const PER_LEAF = 36;
const MAX_LEAVES = 256;
const FACE = 5;
/** A leaf has this many rows as long as they are no longer than this. */
const ROWS = 9;
const MAX_ROW_COLORS = 10;

const WORDS: [upTo: number, word: string][] = [
  [12, 'pinks'],
  [42, 'reds'],
  [68, 'oranges'],
  [98, 'yellows'],
  [128, 'yellow greens'],
  [168, 'greens'],
  [210, 'teals'],
  [282, 'blues'],
  [318, 'violets'],
  [345, 'purples'],
  [360, 'pinks'],
];

/** What colours of a CIELAB hue are called, degrees (common practice, no source). */
export const hueWord = (hue: number): string => WORDS.find(([upTo]) => hue % 360 < upTo)![1];

/** Lightness, chroma and hue of many colours: a book has tens of thousands, and opens while somebody waits. */
interface Lch {
  lightness: Float64Array;
  chroma: Float64Array;
  hue: Float64Array;
}

/** Divides the colours of a book among leaves. */
export function leavesOf(labs: readonly Lab[], isSpecial: (place: number) => boolean): Leaves {
  const n = labs.length;
  const lch: Lch = {
    lightness: new Float64Array(n),
    chroma: new Float64Array(n),
    hue: new Float64Array(n),
  };
  const { lightness, chroma, hue } = lch;
  const leafOf = new Int32Array(n);
  const keys: number[] = [];
  const greys: number[] = [];
  const specials: number[] = [];
  for (let place = 0; place < n; place++) {
    const [L, a, b] = labs[place]!;
    lightness[place] = L;
    chroma[place] = Math.sqrt(a * a + b * b);
    const angle = (Math.atan2(b, a) * 180) / Math.PI;
    hue[place] = angle < 0 ? angle + 360 : angle;
    if (isSpecial(place)) specials.push(place);
    else if (chroma[place]! < GREY_CHROMA) greys.push(place);
    // one number holds hue and place, so that the engine's own sort of numbers does it
    else keys.push(Math.round(hue[place]! * 1e6) * MAX_PLACES + place);
  }
  const colored = Float64Array.from(keys).sort();
  const count = Math.min(MAX_LEAVES, Math.max(1, Math.round(colored.length / PER_LEAF)));
  for (const place of greys) leafOf[place] = GREYS;
  for (const place of specials) leafOf[place] = SPECIALS_LEAF;
  const leaves: Leaf[] = [];
  for (let i = 0; i < count && colored.length > 0; i++) {
    const places = Array.from(
      colored.subarray(
        Math.round((i * colored.length) / count),
        Math.round(((i + 1) * colored.length) / count),
      ),
      (key) => key % MAX_PLACES,
    );
    for (const place of places) leafOf[place] = i;
    leaves.push(leafFrom(places, lch, hue[places[0]!]!, hue[places.at(-1)!]!));
  }
  return { leaves, greys: leafFrom(greys, lch, 0, 360), specials: leafFrom(specials, lch, 0, 360), leafOf };
}

const MAX_PLACES = 2 ** 22;

/** Numbers sorted by a measure, the least first, equals as they are; by the engine's own sort of numbers. */
function sortedBy(places: readonly number[], measure: (place: number) => number): number[] {
  const keys = Float64Array.from(places, (p) => Math.round((measure(p) + 1000) * 1e5) * MAX_PLACES + p);
  return Array.from(keys.sort(), (key) => key % MAX_PLACES);
}

function leafFrom(places: number[], lch: Lch, from: number, to: number): Leaf {
  const { lightness, chroma } = lch;
  const sorted = sortedBy(places, (p) => -lightness[p]!);
  const strongest = (some: number[]) => some.reduce((a, b) => (chroma[a]! >= chroma[b]! ? a : b));
  const tones = Math.min(FACE, sorted.length);
  const face = Array.from({ length: tones }, (_, i) =>
    strongest(
      sorted.slice(Math.floor((i * sorted.length) / tones), Math.floor(((i + 1) * sorted.length) / tones)),
    ),
  );
  let rows: Leaf['rows'] | null = null;
  return {
    from,
    to,
    word: hueWord((from + to) / 2),
    size: sorted.length,
    face,
    get rows() {
      rows ??= rowsOf(sorted, lch);
      return rows;
    },
  };
}

/** @param sorted the lightest first */
function rowsOf(sorted: readonly number[], { lightness, chroma }: Lch): Leaf['rows'] {
  if (sorted.length === 0) return [];
  const [high, low] = [lightness[sorted[0]!]!, lightness[sorted.at(-1)!]!];
  const bands = Math.max(1, Math.min(ROWS, sorted.length), Math.ceil(sorted.length / MAX_ROW_COLORS));
  const rows: Leaf['rows'] = [];
  const band = (place: number) =>
    Math.min(bands - 1, Math.floor(((high - lightness[place]!) / Math.max(1e-9, high - low)) * bands));
  for (let b = 0, at = 0; b < bands; b++) {
    const start = at;
    // of two that are alike to a hundred-thousandth the darker may stand first
    while (at < sorted.length && band(sorted[at]!) <= b) at++;
    const own = sorted.slice(start, at);
    // as many rows as it takes, each as long as the others
    const parts = Math.ceil(own.length / MAX_ROW_COLORS);
    for (let p = 0; p < parts; p++) {
      const some = own.slice(
        Math.round((p * own.length) / parts),
        Math.round(((p + 1) * own.length) / parts),
      );
      const mean = some.reduce((sum, place) => sum + lightness[place]!, 0) / some.length;
      rows.push({ lightness: mean, places: sortedBy(some, (p) => chroma[p]!) });
    }
  }
  return rows;
}

export type Way = 'left' | 'right' | 'up' | 'down';

/** All leaves in the order they are walked through: the hues, then greys and specials. */
export const allLeaves = ({ leaves, greys, specials }: Leaves): Leaf[] =>
  [...leaves, greys, specials].filter((leaf) => leaf.size > 0);

/**
 * The next colour on the way from one: along its row, and past the row's end on the neighbouring leaf, in the row of the same
 * lightness; up and down from row to row. The same where it goes no further.
 */
export function walk(book: Leaves, place: number, way: Way): number {
  const all = allLeaves(book);
  const leaf = book.leafOf[place];
  if (leaf === undefined) return all[0]?.rows[0]?.places[0] ?? place;
  const at = all.indexOf(
    leaf === GREYS ? book.greys : leaf === SPECIALS_LEAF ? book.specials : book.leaves[leaf]!,
  );
  const { rows } = all[at]!;
  const r = rows.findIndex((row) => row.places.includes(place));
  const row = rows[r]!;
  const c = row.places.indexOf(place);
  if (way === 'up' || way === 'down') {
    const next = rows[r + (way === 'up' ? -1 : 1)];
    return next ? next.places[Math.min(c, next.places.length - 1)]! : place;
  }
  const beside = row.places[c + (way === 'left' ? -1 : 1)];
  if (beside !== undefined) return beside;
  const other = all[at + (way === 'left' ? -1 : 1)];
  if (!other) return place;
  const near = other.rows.reduce((a, b) =>
    Math.abs(b.lightness - row.lightness) < Math.abs(a.lightness - row.lightness) ? b : a,
  );
  return way === 'left' ? near.places.at(-1)! : near.places[0]!;
}
