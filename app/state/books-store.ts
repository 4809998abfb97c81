import type { Lab } from '#core/color/index';
import type { Swatch } from '#core/swatch/index';
import type { ListedBook, Use } from '#server/books';
import type { BookMade } from '~/api/bodies';
import { listBooks, makeBook } from '~/api/books';
import { call, type Outcome, valueFrom } from '~/api/call';
import { readColumns } from '~/api/libraries';
import type { BookFetcher, BookView, KeptBooks, OpenBook } from './books';
import { NoteStore } from './saved-store';
import type { Shelf } from './shelf';

export interface BooksState extends KeptBooks {
  /** Null until it is known which there are. */
  list: ListedBook[] | null;
  books: Readonly<Record<string, OpenBook>>;
  /** Why a book or the list of them is not available. */
  problem: string | null;
  /** Swatches marked to be taken together, by their ids, in the order they were marked. */
  marked: readonly string[];
  /** Where the nearest is looked for; null until something has been chosen. */
  lookIn: readonly string[] | null;
}

/** This many whole swatches stay in memory. */
const MAX_ENTRIES = 2000;
const EMPTY: BooksState = {
  list: null,
  books: {},
  problem: null,
  marked: [],
  lookIn: null,
  book: null,
  view: 'leaf',
  at: {},
};

/** The books, what is looked at in them, and what has been fetched of them. */
export class BooksStore extends NoteStore<BooksState, KeptBooks> {
  private readonly entries = new Map<string, Promise<Swatch | null>>();
  private readonly opening = new Map<string, Promise<OpenBook>>();
  private fetching: BookFetcher | null = null;
  /** Where to go in a book that has not come yet. */
  private way: { book: string; code: string } | null = null;

  constructor(
    shelf: Shelf,
    private readonly get: typeof fetch,
  ) {
    super(EMPTY, shelf, 'book', async () => (await import('./checks')).checkKeptBooks);
  }

  /** Brings back where one was before a reload, unless one is somewhere by now. */
  async restore(): Promise<void> {
    const kept = await this.kept();
    if (kept && !this.snapshot().book) this.set(kept);
  }

  protected note(): KeptBooks {
    const { book, view, at } = this.snapshot();
    return { book, view, at };
  }

  /** Fetches the list of books each time. */
  async load(): Promise<ListedBook[]> {
    const list = await this.fetched(call(listBooks, {}, this.get));
    if (!list) return this.snapshot().list ?? [];
    const books = Object.fromEntries(
      Object.entries(this.snapshot().books).filter(([id, b]) =>
        list.some((l) => l.id === id && l.seq === b.seq),
      ),
    );
    const { book } = this.snapshot();
    const open = list.some((b) => b.id === book) ? book : (list.find((b) => !b.shipped)?.id ?? null);
    this.set({ list, books, problem: null, book: open });
    return list;
  }

  /** Tries once more what was not available. */
  async again(): Promise<void> {
    await this.load();
    const { book } = this.snapshot();
    const open = book && (await this.open(book));
    if (open) this.goOn(open);
  }

  /** What the server answers; null, and the reason in `problem`, when it does not. */
  private async fetched<A>(asked: Promise<Outcome<A>>): Promise<A | null> {
    const came = await asked;
    if (came.ok) return came.value;
    this.set({ problem: came.why });
    return null;
  }

  /** A book with all that is browsed; fetched once. Null, and the reason in `problem`, when it is not available. */
  async open(id: string): Promise<OpenBook | null> {
    const known = this.snapshot().books[id];
    if (known) return known;
    const opening =
      this.opening.get(id) ??
      (async () => {
        const columns = await this.fetched(call(readColumns, { params: { id } }, this.get));
        if (!columns) throw new Error('not available');
        // fetched with the first book: pages without one do without it
        const { openBook } = await import('./books');
        const book = await openBook(columns);
        this.set({ books: { ...this.snapshot().books, [id]: book }, problem: null });
        return book;
      })().finally(() => this.opening.delete(id));
    this.opening.set(id, opening);
    return opening.catch(() => null);
  }

  /** What has just this number or name in another book; null where nothing has. */
  async findElsewhere(
    typed: string,
    without: string,
  ): Promise<{ name: string; book: string; lab: Lab } | null> {
    const wanted = typed.trim().toLowerCase();
    for (const { id, name } of this.snapshot().list ?? []) {
      const book = id === without ? null : await this.open(id);
      const place = book?.named.findIndex((n) => n.code === wanted || n.name === wanted) ?? -1;
      if (book && place >= 0) {
        const { code, name: names } = book.swatches;
        return { name: code[place] || names[place]!, book: name, lab: book.labs[place]! };
      }
    }
    return null;
  }

  /** Looks at another book; at an ink of it told by its number, when one is given. */
  async look(id: string, code?: string): Promise<void> {
    if (this.snapshot().book !== id) this.set({ book: id, marked: [] });
    this.save();
    this.way = code === undefined ? null : { book: id, code };
    const book = await this.open(id);
    if (book) this.goOn(book);
  }

  /** Goes to where one wanted to, once the book is here. */
  private goOn(book: OpenBook): void {
    if (this.way?.book !== book.id) return;
    const { code } = this.way;
    this.way = null;
    const place = book.swatches.code.indexOf(code);
    const other = place < 0 ? book.swatches.name.indexOf(code) : place;
    if (other >= 0) this.choose(book, other);
  }

  show(view: BookView): void {
    this.set({ view });
    this.save();
  }

  /** Looks at a colour of a book; what does not lie where one is looking brings its own view. */
  choose(book: OpenBook, place: number): void {
    const id = book.swatches.id[place];
    if (id === undefined) return;
    const leaf = book.leaves.leafOf[place]!;
    const { view } = this.snapshot();
    const there: BookView = leaf === -1 ? 'greys' : leaf === -2 ? 'specials' : 'leaf';
    this.set({
      at: { ...this.snapshot().at, [book.id]: id },
      ...(view === 'list' ? {} : { view: there }),
    });
    this.save();
  }

  /** The place of the colour that is looked at in a book. */
  placeIn(book: OpenBook): number {
    return book.placeOf.get(this.snapshot().at[book.id] ?? '') ?? book.first;
  }

  mark(id: string): void {
    const { marked } = this.snapshot();
    this.set({ marked: marked.includes(id) ? marked.filter((m) => m !== id) : [...marked, id] });
  }

  lookIn(ids: readonly string[]): void {
    this.set({ lookIn: ids });
  }

  unmark(): void {
    this.set({ marked: [] });
  }

  /** A whole swatch of a book or library. */
  entry(library: string, id: string): Promise<Swatch | null> {
    const key = `${library} ${this.snapshot().books[library]?.seq ?? ''} ${id}`;
    const known = this.entries.get(key);
    if (known !== undefined) return known;
    if (this.entries.size > MAX_ENTRIES) this.entries.clear();
    const entry = this.fetcher().then((f) => f.entry(library, id));
    // what could not be fetched is asked for again the next time
    entry.catch(() => this.entries.delete(key));
    this.entries.set(key, entry);
    return entry;
  }

  /** Where an ink is used. */
  async uses(book: string, code?: string): Promise<Use[]> {
    return (await this.fetcher()).uses(book, code);
  }

  /** Comes with the first book: pages without one do without it. */
  private async fetcher(): Promise<BookFetcher> {
    const { BookFetcher } = await import('./books').catch(() => {
      throw new Error('The server does not answer.');
    });
    this.fetching ??= new BookFetcher(this.get);
    return this.fetching;
  }

  /** Does something with books as wholes; gives the ids of what was made. @throws Error that says why not */
  async make(asked: BookMade): Promise<string[]> {
    const { ids } = await valueFrom(call(makeBook, { body: asked }, this.get));
    await this.load();
    return ids;
  }

  /** Adds the sample books, and looks at the first. @throws Error that says why not */
  async addSamples(): Promise<void> {
    const [first] = await this.make({ intent: 'samples' });
    if (first) await this.look(first);
  }
}
