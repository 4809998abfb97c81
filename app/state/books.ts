import { allLeaves, folded, type Leaves, leavesOf, type Named } from '#core/books/index';
import type { Lab } from '#core/color/index';
import type { Swatch } from '#core/swatch/index';
import type { Columns, Use } from '#server/books';
import { readUses } from '~/api/books';
import { call } from '~/api/call';
import { readSwatches } from '~/api/libraries';

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

/** An address has room for this many ids. */
const AT_ONCE = 100;

interface Waiting {
  resolve(entry: Swatch | null): void;
  reject(error: Error): void;
}

/** Fetches from books and libraries what their columns leave out. */
export class BookFetcher {
  /** What is asked for in one breath, by library and swatch. */
  private wanted = new Map<string, Map<string, Waiting[]>>();

  constructor(private readonly get: typeof fetch) {}

  /** A whole swatch; null when it is not there. Those asked for in one breath are fetched together. */
  entry(library: string, id: string): Promise<Swatch | null> {
    return new Promise((resolve, reject) => {
      if (this.wanted.size === 0) setTimeout(() => void this.fetchWanted());
      const own = this.wanted.get(library) ?? new Map<string, Waiting[]>();
      this.wanted.set(library, own);
      own.set(id, [...(own.get(id) ?? []), { resolve, reject }]);
    });
  }

  private async fetchWanted(): Promise<void> {
    const { wanted } = this;
    this.wanted = new Map();
    for (const [library, waiting] of wanted) {
      const ids = [...waiting.keys()];
      for (let at = 0; at < ids.length; at += AT_ONCE) {
        const some = ids.slice(at, at + AT_ONCE);
        const asked = { params: { id: library }, query: { ids: some.join(',') } };
        const came = await call(readSwatches, asked, this.get);
        const found = new Map(came.ok ? came.value.map((s) => [s.id, s]) : []);
        for (const id of some)
          for (const { resolve, reject } of waiting.get(id) ?? [])
            if (came.ok) resolve(found.get(id) ?? null);
            else reject(new Error(came.why));
      }
    }
  }

  /** Where an ink is used, or a whole book. */
  async uses(book: string, code?: string): Promise<Use[]> {
    const came = await call(readUses, { params: { id: book }, query: { code } }, this.get);
    return came.ok ? came.value : [];
  }
}
