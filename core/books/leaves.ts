import { type Lab, labToLch } from '../color/index.ts';

/** A page of a book: a run of hues, laid out by lightness and chroma. Colours are told by their places in the book. */
export interface Leaf {
  /** Hues, degrees; the end can lie beyond 360. */
  from: number;
  to: number;
  /** What its hues are called. */
  word: string;
  /** The lightest first; in each the greyest first. */
  rows: { lightness: number; places: number[] }[];
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
/** So many colours fill a leaf; a book has so many leaves at most, which hold more then. */
const PER_LEAF = 36;
const MOST_LEAVES = 48;
const FACE = 5;
/** A leaf has so many rows as long as they are no longer than this. */
const ROWS = 9;
const LONGEST_ROW = 10;

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

/** Divides the colours of a book among leaves. */
export function leavesOf(labs: readonly Lab[], isSpecial: (place: number) => boolean): Leaves {
  const lch = labs.map((lab) => labToLch(lab));
  const colored: number[] = [];
  const greys: number[] = [];
  const specials: number[] = [];
  lch.forEach(([, chroma], place) => {
    (isSpecial(place) ? specials : chroma < GREY_CHROMA ? greys : colored).push(place);
  });
  const hue = (place: number) => lch[place]![2];
  colored.sort((a, b) => hue(a) - hue(b) || a - b);
  const count = Math.min(MOST_LEAVES, Math.max(1, Math.round(colored.length / PER_LEAF)));
  const leafOf = new Int32Array(labs.length);
  for (const place of greys) leafOf[place] = GREYS;
  for (const place of specials) leafOf[place] = SPECIALS_LEAF;
  const leaves: Leaf[] = [];
  for (let i = 0; i < count && colored.length > 0; i++) {
    const places = colored.slice(
      Math.round((i * colored.length) / count),
      Math.round(((i + 1) * colored.length) / count),
    );
    for (const place of places) leafOf[place] = i;
    leaves.push(leafFrom(places, lch, hue(places[0]!), hue(places.at(-1)!)));
  }
  return { leaves, greys: leafFrom(greys, lch, 0, 360), specials: leafFrom(specials, lch, 0, 360), leafOf };
}

function leafFrom(places: number[], lch: readonly Lab[], from: number, to: number): Leaf {
  const light = (place: number) => lch[place]![0];
  const sorted = [...places].sort((a, b) => light(b) - light(a) || a - b);
  if (sorted.length === 0) return { from, to, word: '', rows: [], face: [] };
  const [high, low] = [light(sorted[0]!), light(sorted.at(-1)!)];
  const bands = Math.max(1, Math.min(ROWS, sorted.length), Math.ceil(sorted.length / LONGEST_ROW));
  const rows: Leaf['rows'] = [];
  const band = (place: number) =>
    Math.min(bands - 1, Math.floor(((high - light(place)) / Math.max(1e-9, high - low)) * bands));
  for (let b = 0, at = 0; b < bands; b++) {
    const start = at;
    while (at < sorted.length && band(sorted[at]!) === b) at++;
    const own = sorted.slice(start, at);
    // as many rows as it takes, each as long as the others
    const parts = Math.ceil(own.length / LONGEST_ROW);
    for (let p = 0; p < parts; p++) {
      const some = own.slice(
        Math.round((p * own.length) / parts),
        Math.round(((p + 1) * own.length) / parts),
      );
      const mean = some.reduce((sum, place) => sum + light(place), 0) / some.length;
      rows.push({
        lightness: mean,
        places: some.sort((x, y) => lch[x]![1] - lch[y]![1] || x - y),
      });
    }
  }
  const strongest = (some: number[]) => some.reduce((a, b) => (lch[a]![1] >= lch[b]![1] ? a : b));
  const face = Array.from({ length: Math.min(FACE, sorted.length) }, (_, i) => {
    const n = Math.min(FACE, sorted.length);
    return strongest(
      sorted.slice(Math.floor((i * sorted.length) / n), Math.floor(((i + 1) * sorted.length) / n)),
    );
  });
  return { from, to, word: hueWord((from + to) / 2), rows, face };
}

export type Way = 'left' | 'right' | 'up' | 'down';

/** All leaves in the order they are walked through: the hues, then greys and specials. */
export const allLeaves = ({ leaves, greys, specials }: Leaves): Leaf[] =>
  [...leaves, greys, specials].filter((leaf) => leaf.rows.length > 0);

/**
 * The next colour on the way from one: along its row, and past the row's end on the neighbouring leaf, in the row of the same
 * lightness; up and down from row to row. The same where it goes no further.
 */
export function walk(book: Leaves, place: number, way: Way): number {
  const all = allLeaves(book);
  const at = all.findIndex((leaf) => leaf.rows.some((row) => row.places.includes(place)));
  if (at < 0) return all[0]?.rows[0]?.places[0] ?? place;
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
