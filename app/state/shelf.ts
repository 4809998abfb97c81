import { type DBSchema, deleteDB, type IDBPDatabase, openDB } from 'idb';
import type { Take } from '#core/picture/index';
import type { Change, Fields } from '#core/swatch/index';

/** A change that the server has not confirmed. */
export interface WaitingChange {
  /** Counts up, so that they are sent in their order. */
  n: number;
  library: string;
  /** What of the library was known when it was made. */
  seen: number;
  /** Of the database it was made for; earlier versions did not keep it. */
  epoch?: string;
  /** What the library was called. */
  name?: string;
  /** Rows it changes, as they are with it. */
  rows?: Record<string, Fields>;
  change: Change;
}

export interface KeptHere {
  id: string;
  name: string;
  keptIn: string | null;
  copy: { width: number; height: number } | null;
  /** When it was opened, so that they come back in their order. */
  at: number;
}
export interface KeptTake {
  key: string;
  picture: string;
  /** Its place among the picture's takes. */
  at: number;
  take: Take;
}
interface Shelves extends DBSchema {
  changes: { key: number; value: WaitingChange };
  files: { key: string; value: Blob };
  pictures: { key: string; value: KeptHere };
  takes: { key: string; value: KeptTake };
  notes: { key: string; value: unknown };
}
/** A thing that another page of this browser has put on a shelf, or taken from it. */
export interface ShelfNews {
  shelf: ShelfName;
  key: string;
  gone: boolean;
}
export type ShelfName = 'changes' | 'files' | 'pictures' | 'takes' | 'notes';

const VERSION = 1;
const PATIENCE_MS = 4000;

/**
 * What this browser keeps through a reload, each thing by itself and through one connection. A browser that keeps nothing
 * (in a private window, or with a full disk) works on without.
 */
export class Shelf {
  private db: Promise<IDBPDatabase<Shelves> | null> | null = null;

  private readonly channel: BroadcastChannel | null;

  constructor(private readonly name = 'papillon-shelf') {
    // on the server there is nothing to listen to, and a channel would keep it alive
    this.channel = typeof window === 'undefined' ? null : new BroadcastChannel(name);
  }

  /** Hears of what other pages of this browser do; gives back what ends it. */
  listen(listener: (news: ShelfNews) => void): () => void {
    const hear = ({ data }: MessageEvent<ShelfNews>) => listener(data);
    this.channel?.addEventListener('message', hear);
    return () => this.channel?.removeEventListener('message', hear);
  }

  private tell(shelf: ShelfName, key: unknown, gone: boolean): void {
    if (shelf !== 'changes' && typeof key === 'string') this.channel?.postMessage({ shelf, key, gone });
  }

  private open(): Promise<IDBPDatabase<Shelves> | null> {
    // a browser may refuse at once instead of by its answer
    const begin = async () =>
      openDB<Shelves>(this.name, VERSION, {
        upgrade(db) {
          db.createObjectStore('changes', { keyPath: 'n', autoIncrement: true });
          db.createObjectStore('files');
          db.createObjectStore('pictures', { keyPath: 'id' });
          db.createObjectStore('takes', { keyPath: 'key' });
          db.createObjectStore('notes');
        },
        // a newer page wants to change the shelves: this one lets go, and opens them again when it needs them
        blocking: (_, __, event) => {
          (event.target as IDBDatabase).close();
          this.db = null;
        },
        terminated: () => {
          this.db = null;
        },
      });
    this.db ??= begin().catch(() => null);
    // a browser that never answers is one that keeps nothing: nobody may wait for it
    return Promise.race([
      this.db,
      new Promise<null>((resolve) => setTimeout(() => resolve(null), PATIENCE_MS)),
    ]);
  }

  /** All that stands on a shelf. */
  async all<N extends ShelfName>(shelf: N): Promise<Shelves[N]['value'][]> {
    return this.tried(async (db) => db.getAll(shelf), []);
  }

  async get<N extends ShelfName>(shelf: N, key: Shelves[N]['key']): Promise<Shelves[N]['value'] | undefined> {
    return this.tried(async (db) => db.get(shelf, key), undefined);
  }

  /** Puts something on a shelf; true when it is safe there. */
  async put<N extends ShelfName>(
    shelf: N,
    value: Shelves[N]['value'],
    key?: Shelves[N]['key'],
  ): Promise<boolean> {
    return this.tried(async (db) => {
      const at = await db.put(shelf, value, key);
      this.tell(shelf, at, false);
      return true;
    }, false);
  }

  /** Puts a change behind those that wait; its number, or null when it is not safe there. */
  async queue(waiting: Omit<WaitingChange, 'n'>): Promise<number | null> {
    return this.tried(async (db) => db.add('changes', waiting as WaitingChange), null);
  }

  async drop<N extends ShelfName>(shelf: N, ...keys: Shelves[N]['key'][]): Promise<void> {
    await this.tried(async (db) => {
      const tx = db.transaction(shelf, 'readwrite');
      await Promise.all(keys.map((key) => tx.store.delete(key)));
      await tx.done;
      for (const key of keys) this.tell(shelf, key, true);
    }, undefined);
  }

  private async tried<T>(run: (db: IDBPDatabase<Shelves>) => Promise<T>, otherwise: T): Promise<T> {
    const db = await this.open();
    if (!db) return otherwise;
    try {
      return await run(db);
    } catch {
      return otherwise;
    }
  }

  private before: Promise<{ pictures?: unknown; codes?: unknown } | null> | null = null;

  /** What versions before this one kept in this browser; it is gone from there afterwards. */
  get earlier(): Promise<{ pictures?: unknown; codes?: unknown } | null> {
    this.before ??= readEarlier();
    return this.before;
  }
}

/** The database of the versions that kept all pictures as one. */
const EARLIER = 'papillon';

async function readEarlier() {
  try {
    if (!(await indexedDB.databases()).some((d) => d.name === EARLIER)) return null;
    const db = await openDB(EARLIER);
    const found = db.objectStoreNames.contains('picture')
      ? { pictures: await db.get('picture', 'pictures'), codes: await db.get('picture', 'codes') }
      : null;
    db.close();
    await deleteDB(EARLIER);
    return found;
  } catch {
    return null;
  }
}
