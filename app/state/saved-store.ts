import type { Shelf } from './shelf';
import { Store } from './store';

/** So long the hand has to rest before what it did is written down. */
const SAVE_MS = 300;

/** A store that writes down what has changed, a moment after the hand has rested. */
export abstract class SavedStore<S extends object> extends Store<S> {
  private timer: ReturnType<typeof setTimeout> | null = null;

  /** @param leaving the page is going away, and what is sent must not hang on it */
  protected abstract write(leaving: boolean): void;

  /** Whether something has changed that is not written down. */
  protected get unsaved(): boolean {
    return this.timer !== null;
  }

  protected save(): void {
    this.stopWaiting();
    this.timer = setTimeout(() => this.saveNow(), SAVE_MS);
  }

  /** Writes down at once what waits; see {@link SavedStore.write}. */
  saveNow(leaving = false): void {
    if (!this.unsaved) return;
    this.stopWaiting();
    this.write(leaving);
  }

  protected stopWaiting(): void {
    if (this.timer) clearTimeout(this.timer);
    this.timer = null;
  }
}

/** A store of which something survives a reload on this machine, as one note. */
export abstract class NoteStore<S extends object, Note> extends SavedStore<S> {
  /** @param loadCheck what throws for a note that is not one of this version */
  constructor(
    initial: S,
    private readonly shelf: Shelf,
    private readonly key: string,
    private readonly loadCheck: () => Promise<(note: unknown) => Note>,
  ) {
    super(initial);
  }

  /** What of the state survives. */
  protected abstract note(): Note;

  protected write(): void {
    void this.shelf.put('notes', this.note(), this.key);
  }

  /** What was written down; null when nothing was, or by another version. */
  protected async kept(earlier?: unknown): Promise<Note | null> {
    const kept = (await this.shelf.get('notes', this.key)) ?? earlier;
    if (kept === undefined) return null;
    const check = await this.loadCheck();
    try {
      return check(kept);
    } catch {
      return null;
    }
  }

  /** Takes what other pages of this browser write down; what is done here goes before it. */
  protected follow(take: (note: Note) => void): void {
    const mirror = async () => {
      const note = await this.kept();
      if (note && !this.unsaved) take(note);
    };
    this.shelf.listen(({ shelf, key }) => {
      if (shelf === 'notes' && key === this.key && !this.unsaved) void mirror();
    });
  }
}
