import { nanoid } from 'nanoid';
import { createContext, useContext, useEffect } from 'react';
import type { Library } from '#core/swatch/index';
import type { LibraryName } from '#server/libraries';
import { keepBook } from '~/api/books';
import { call, valueFrom } from '~/api/call';
import * as api from '~/api/libraries';
import { namePerson } from '~/api/people';
import { Colors } from '~/colors/colors';
import { ArtworkStore } from './artwork-store';
import { BooksStore } from './books-store';
import { CodesStore } from './codes-store';
import { HarmonyStore } from './harmony-store';
import { LibraryStore } from './library-store';
import { MeStore } from './me';
import { Outbox, type Surroundings } from './outbox';
import { PictureStore } from './picture-store';
import { ReadingsStore } from './readings-store';
import { Shelf } from './shelf';
import { useStore } from './store';
import { TuningsStore } from './tunings-store';

/** Libraries that are not looked at stay in memory for this many. */
const KEPT_OPEN = 3;
const AUTHOR = 'papillon-author';

/** Who works in this browser: a name of its own that it keeps, so that undo finds one's own changes. */
function author(): string {
  try {
    const known = localStorage.getItem(AUTHOR);
    if (known) return known;
    const made = nanoid(12);
    localStorage.setItem(AUTHOR, made);
    return made;
  } catch {
    // on the server, and where nothing may be kept
    return nanoid(12);
  }
}

/** All stores of a page. */
export class Stores {
  readonly outbox: Outbox;
  readonly shelf: Shelf;
  /** The colour engine with its profiles. */
  readonly colors: Colors;
  /** The open pictures and their takes. */
  readonly pictures: PictureStore;
  /** The typed and pasted codes. */
  readonly codes: CodesStore;
  /** The artwork that colours are put on. */
  readonly artworks: ArtworkStore;
  /** The books, and what is looked at in them. */
  readonly books: BooksStore;
  /** The families of harmony. */
  readonly harmony: HarmonyStore;
  /** Tunings that were given names. */
  readonly tunings: TuningsStore;
  /** Inks that were measured. */
  readonly readings: ReadingsStore;
  /** Who works here. */
  readonly me: MeStore;
  /** Everybody has a tray of their own; owners share one. */
  private readonly trayId: string;
  private readonly env: Surroundings;
  private readonly libraries = new Map<string, LibraryStore>();

  /** @param visitor what whoever came by a link is called; null for owners */
  constructor(env: Partial<Surroundings> = {}, visitor: string | null = null) {
    this.shelf = env.shelf ?? new Shelf();
    const get: typeof fetch = env.fetch ?? ((...args) => fetch(...args));
    this.colors = env.colors ?? new Colors(get);
    this.trayId = visitor === null ? TRAY : `${TRAY}-${env.by}`;
    this.env = { by: author(), ...env, fetch: get, shelf: this.shelf, colors: this.colors };
    this.me = new MeStore(this.env.by, visitor, async ({ id, name }) => {
      await valueFrom(call(namePerson, { params: { id }, body: { name } }, get));
    });
    this.outbox = new Outbox(this.env);
    this.pictures = new PictureStore(this.shelf, undefined, get, this.colors);
    this.codes = new CodesStore(this.shelf);
    this.artworks = new ArtworkStore(get);
    this.books = new BooksStore(this.shelf, get);
    this.harmony = new HarmonyStore(this.shelf);
    this.tunings = new TuningsStore(this.shelf);
    this.readings = new ReadingsStore(this.shelf);
  }

  /** Brings back what this browser has kept, and sends what earlier pages left unsent. */
  async restore(): Promise<void> {
    void this.outbox.load();
    const earlier = await this.shelf.earlier;
    await Promise.all([
      this.pictures.restore(earlier?.pictures),
      this.codes.restore(earlier?.codes),
      this.books.restore(),
      this.harmony.restore(),
      this.tunings.restore(),
      this.readings.restore(),
    ]);
  }

  /** Writes down what was changed in the last moment, which would go with the page. */
  leave(): void {
    this.pictures.saveNow(true);
    this.codes.saveNow();
    this.books.saveNow();
    this.harmony.saveNow();
    this.tunings.saveNow();
    this.readings.saveNow();
  }

  get by(): string {
    return this.env.by;
  }

  /** The store of a library; there is one for each in a page. */
  library(id: string, name = ''): LibraryStore {
    const known = this.libraries.get(id);
    const store = known ?? new LibraryStore(id, this.env, this.outbox, name, id === this.trayId);
    // the ones used last stand last
    this.libraries.delete(id);
    this.libraries.set(id, store);
    const idle = [...this.libraries.values()].filter((s) => !s.busy && s !== store && s.id !== this.trayId);
    for (const old of idle.slice(0, Math.max(0, idle.length - KEPT_OPEN))) {
      old.close();
      this.libraries.delete(old.id);
    }
    return store;
  }

  /** The tray's store. */
  get tray(): LibraryStore {
    return this.library(this.trayId, 'Tray');
  }

  /**
   * Keeps a new library on the server, never twice. Returns its id.
   * @throws Error that says why it was not kept
   */
  async createLibrary(library: Library): Promise<string> {
    const id = nanoid(12);
    await valueFrom(call(api.createLibrary, { query: { id }, body: library }, this.env.fetch));
    return id;
  }

  /**
   * Keeps what was read as a book, never twice. Returns its id.
   * @throws Error that says why it was not kept
   */
  async createBook(library: Library): Promise<string> {
    const asked = { params: { id: nanoid(12) }, body: library };
    const { ids } = await valueFrom(call(keepBook, asked, this.env.fetch));
    await this.books.load();
    return ids[0]!;
  }

  /** The libraries there are, newest change first; null when the server does not answer. */
  async listLibraries(): Promise<LibraryName[] | null> {
    const came = await call(api.listLibraries, {}, this.env.fetch);
    return came.ok ? came.value : null;
  }
}

/** The tray is a library of its own. */
export const TRAY = 'tray';

export const StoresContext = createContext<Stores | null>(null);

export function useStores(): Stores {
  const stores = useContext(StoresContext);
  if (!stores) throw new Error('The stores are used outside their provider.');
  return stores;
}

/** The tray's store; there is one for the whole application. */
export const useTray = (): LibraryStore => useStores().tray;

/** The open pictures and their takes, as they change. */
export const usePictures = () => useStore(useStores().pictures);

/** The codes, as they change. */
export const useCodes = () => useStore(useStores().codes);

/** A library's state, read and listened to while it is shown. */
export function useLibraryState(store: LibraryStore) {
  useEffect(() => store.open(), [store]);
  return useStore(store);
}
