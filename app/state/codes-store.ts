import { nanoid } from 'nanoid';
import { codeLines, type Question, readCodes } from '#core/color/index';
import type { CodesState, Kept, Line } from './codes';
import { NoteStore } from './saved-store';
import type { Shelf } from './shelf';

/** What was taken away, the way back, and whether it is still away. */
export interface Removal {
  back(): void;
  matter: { subscribe(listener: () => void): () => void; stands(): boolean };
}

/** At most this many lines are read at once; the rest follow in pieces, so that a long paste holds nothing up. */
const AT_ONCE = 150;
const EMPTY: CodesState = { lines: [], answers: {}, suggest: true, once: false };

/** The lines of Gather › Codes. They survive a reload on this machine. */
export class CodesStore extends NoteStore<CodesState, Kept> {
  constructor(shelf: Shelf) {
    super(EMPTY, shelf, 'codes', async () => (await import('./checks')).checkKept);
  }

  /** Brings back what was there before a reload, and keeps in step with other pages of this browser. */
  async restore(earlier?: unknown): Promise<void> {
    this.follow((kept) => this.take(kept, []));
    const kept = await this.kept(earlier);
    if (!kept) return;
    // what came while this was being read comes after it
    this.take(kept, this.snapshot().lines);
  }

  private take(kept: Kept, behind: Line[]): void {
    const known = new Map(this.snapshot().lines.map((l) => [l.id, l]));
    const lines = kept.lines.map((line): Line => {
      const { text, read } = known.get(line.id) ?? { text: null, read: null };
      return { ...line, read: text === line.text ? read : null };
    });
    this.set({ ...kept, lines: [...lines, ...behind] });
    this.readWaiting();
  }

  /** Adds the lines of a text at the end. Gives back how many there were. */
  add(given: string): number {
    const lines = codeLines(given).map(fresh);
    if (lines.length > 0) this.lines([...this.snapshot().lines, ...lines]);
    return lines.length;
  }

  /** Another text in place of a line's; several lines of it become several. */
  change(id: string, given: string): void {
    this.lines(
      this.snapshot().lines.flatMap((line) => {
        if (line.id !== id) return [line];
        if (!/[\r\n]/.test(given)) return [{ ...line, text: given, read: readCodes(given), own: {} }];
        return codeLines(given).map((text, i) => ({ ...fresh(text), ...(i === 0 ? { id } : {}) }));
      }),
    );
  }

  /** Takes lines away; all of them when none is named. Gives back what brings them back, and leaves what came since. */
  remove(id?: string): Removal {
    const gone = [...this.snapshot().lines.entries()].filter(([, line]) => !id || line.id === id);
    const ids = new Set(gone.map(([, line]) => line.id));
    this.lines(this.snapshot().lines.filter((line) => !ids.has(line.id)));
    const stands = () => !this.snapshot().lines.some((line) => ids.has(line.id));
    return {
      back: () => {
        if (!stands()) return;
        const lines = [...this.snapshot().lines];
        for (const [at, line] of gone) lines.splice(at, 0, line);
        this.lines(lines);
      },
      matter: { subscribe: this.subscribe, stands },
    };
  }

  /** Answers the question of one code. */
  answer(id: string, at: number, answer: string): void {
    this.lines(
      this.snapshot().lines.map((line) =>
        line.id === id ? { ...line, own: { ...line.own, [at]: answer } } : line,
      ),
    );
  }

  /** Answers a question for all codes that leave it open. */
  answerAll(question: Question, answer: string): void {
    this.put({ answers: { ...this.snapshot().answers, [question]: answer } });
  }

  put(part: Partial<Omit<CodesState, 'lines'>>): void {
    this.set(part);
    this.save();
  }

  protected note(): Kept {
    return { ...this.snapshot(), lines: this.snapshot().lines.map(({ read: _, ...line }) => line) };
  }

  private lines(lines: Line[]): void {
    this.set({ lines: lines.length === 0 ? [] : lines, ...(lines.length === 0 ? { answers: {} } : {}) });
    this.readWaiting();
    this.save();
  }

  private readWaiting(): void {
    let left = AT_ONCE;
    const lines = this.snapshot().lines.map((line) =>
      line.read || left-- <= 0 ? line : { ...line, read: readCodes(line.text) },
    );
    this.set({ lines });
    if (left < 0) setTimeout(() => this.readWaiting());
  }
}

const fresh = (text: string): Line => ({ id: nanoid(8), text, read: null, own: {} });
