import { nanoid } from 'nanoid';
import type { Facts, MeasuredInk } from '#core/reading/model';
import { type KeptReading, MAX_READINGS, type Readings } from './readings';
import { NoteStore } from './saved-store';
import type { Shelf } from './shelf';

/** The measured inks of Gather › Reading. They survive a reload on this machine. */
export class ReadingsStore extends NoteStore<Readings, Readings> {
  constructor(shelf: Shelf) {
    super(
      { inks: [], current: null },
      shelf,
      'readings',
      async () => (await import('./checks')).checkReadings,
    );
  }

  async restore(): Promise<void> {
    this.follow((kept) => this.set(kept));
    const kept = await this.kept();
    if (kept && !this.unsaved) this.set(kept);
  }

  protected note(): Readings {
    return this.snapshot();
  }

  private put(part: Partial<Readings>): void {
    this.set(part);
    this.save();
  }

  /** Adds inks behind those there are, and looks at the first of them. Gives back their ids. */
  add(inks: readonly MeasuredInk[], from: string): string[] {
    const made = inks.map(
      (ink): KeptReading => ({ id: nanoid(12), ink, facts: { ...ink.conditions }, from }),
    );
    const { inks: before } = this.snapshot();
    this.put({ inks: [...before, ...made].slice(-MAX_READINGS), current: made[0]?.id ?? null });
    return made.map((r) => r.id);
  }

  look(id: string): void {
    this.put({ current: id });
  }

  rename(id: string, name: string): void {
    this.change(id, (r) => ({ ...r, ink: { ...r.ink, name } }));
  }

  describe(id: string, facts: Facts): void {
    this.change(id, (r) => ({ ...r, facts }));
  }

  private change(id: string, to: (reading: KeptReading) => KeptReading): void {
    this.put({ inks: this.snapshot().inks.map((r) => (r.id === id ? to(r) : r)) });
  }

  /** Takes one away; gives back what brings it back where it was. */
  remove(id: string): () => void {
    const { inks } = this.snapshot();
    const at = inks.findIndex((r) => r.id === id);
    const rest = inks.filter((r) => r.id !== id);
    this.put({ inks: rest, current: (rest[at] ?? rest.at(-1))?.id ?? null });
    return () => {
      const now = this.snapshot().inks.filter((r) => r.id !== id);
      if (at >= 0) this.put({ inks: now.toSpliced(at, 0, inks[at]!), current: id });
    };
  }
}
