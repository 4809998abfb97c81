import type { Swatch } from '#core/swatch/index';
import type { Use } from '#server/books';
import { whyNot } from './post';

/** An address has room for so many ids. */
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
        const response = await this.get(
          `/libraries/${library}/entries?ids=${some.map(encodeURIComponent).join(',')}`,
        ).catch(() => null);
        const found = response?.ok
          ? new Map(((await response.json()) as Swatch[]).map((s) => [s.id, s]))
          : null;
        const why = found ? '' : await whyNot(response);
        for (const id of some)
          for (const { resolve, reject } of waiting.get(id) ?? [])
            if (found) resolve(found.get(id) ?? null);
            else reject(new Error(why));
      }
    }
  }

  /** Where an ink is used, or a whole book. */
  async uses(book: string, code?: string): Promise<Use[]> {
    const response = await this.get(
      `/books/${book}/uses${code === undefined ? '' : `?code=${encodeURIComponent(code)}`}`,
    ).catch(() => null);
    return response?.ok ? ((await response.json()) as Use[]) : [];
  }
}
