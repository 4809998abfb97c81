import type { Tuning } from '#core/tune/index';
import { NoteStore } from './saved-store';
import type { Shelf } from './shelf';
import { MAX_NAMED, type Tunings } from './tunings';

/** Values are of one swatch alone, and not to be repeated on another. */
const withoutValues = ({ values: _, ...rest }: Tuning): Tuning => rest;
const hasAny = (tuning: Tuning) => Object.keys(tuning).length > 0;

/** Tunings by their names, and the last one. They survive a reload on this machine. */
export class TuningsStore extends NoteStore<Tunings, Tunings> {
  constructor(shelf: Shelf) {
    super({ named: [], last: null }, shelf, 'tunings', async () => (await import('./checks')).checkTunings);
  }

  async restore(): Promise<void> {
    this.follow((kept) => this.set(kept));
    const kept = await this.kept();
    // what was named meanwhile stays
    if (kept && !this.unsaved) this.set(kept);
  }

  protected note(): Tunings {
    return this.snapshot();
  }

  /** Remembers what was saved, to be repeated. */
  used(tuning: Tuning): void {
    const last = withoutValues(tuning);
    if (!hasAny(last)) return;
    this.set({ last });
    this.save();
  }

  /** Keeps a tuning by a name; one of the same name is replaced. */
  keep(name: string, tuning: Tuning): void {
    const others = this.snapshot().named.filter((t) => t.name !== name);
    this.set({ named: [...others, { name, tuning: withoutValues(tuning) }].slice(-MAX_NAMED) });
    this.save();
  }

  /** Forgets one; gives back what brings it back where it was. */
  forget(name: string): () => void {
    const { named } = this.snapshot();
    const at = named.findIndex((t) => t.name === name);
    this.set({ named: named.filter((t) => t.name !== name) });
    this.save();
    return () => {
      const now = this.snapshot().named.filter((t) => t.name !== name);
      if (at >= 0) this.set({ named: now.toSpliced(at, 0, named[at]!) });
      this.save();
    };
  }
}
