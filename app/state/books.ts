import { allLeaves, folded, type Leaves, leavesOf, type Named } from '#core/books/index';
import type { Lab } from '#core/color/index';
import type { Columns } from '#server/books';

/** A book as it is browsed: its columns, and what is made of them once. */
export interface OpenBook extends Columns {
  labs: Lab[];
  named: Named[];
  leaves: Leaves;
  /** The place of each swatch by its id. */
  placeOf: ReadonlyMap<string, number>;
  /** What is seen first: the first colour of the first leaf; −1 in an empty book. */
  first: number;
}

/** Lets others in between two pieces of work. */
const breath = () => new Promise<void>((resolve) => setTimeout(resolve));

/** Makes a book out of its columns, in pieces that hold nothing up. */
export async function openBook(columns: Columns): Promise<OpenBook> {
  const { id, code, name, l, a, b, special } = columns.swatches;
  await breath();
  const labs = id.map((_, i): Lab => [l[i]!, a[i]!, b[i]!]);
  await breath();
  const placeOf = new Map(id.map((one, i) => [one, i]));
  await breath();
  const named = name.map((one, i) => folded(code[i] ?? undefined, one));
  await breath();
  const leaves = leavesOf(labs, (i) => special[i] !== null);
  const first = allLeaves(leaves)[0]?.rows[0]?.places[0] ?? -1;
  return { ...columns, labs, named, leaves, placeOf, first };
}

export const BOOK_VIEWS = ['leaf', 'list', 'greys', 'specials', 'sets'] as const;
export type BookView = (typeof BOOK_VIEWS)[number];

/** What this browser keeps of the browsing. */
export interface KeptBooks {
  book: string | null;
  view: BookView;
  /** The swatch that was looked at last in each book. */
  at: Record<string, string>;
}
