import { createStore, get, set } from 'idb-keyval';
import { nanoid } from 'nanoid';
import { type CodeLine, codeLines, type Question, readCodes } from '#core/color/index';
import { checker } from '#core/swatch/index';

/** A line as it was typed or pasted, and what was read in it; null while it waits for its turn. */
export interface Line {
  id: string;
  text: string;
  read: CodeLine | null;
  /** Answers for this line alone, by the place of the code in it. */
  own: Record<number, string>;
}

export interface CodesState {
  lines: Line[];
  /** Answers that hold for all codes that leave the same thing open. */
  answers: Partial<Record<Question, string>>;
  suggest: boolean;
  /** Colours that are there already are left out. */
  once: boolean;
}

type Kept = Omit<CodesState, 'lines'> & { lines: Omit<Line, 'read'>[] };

const text = { type: 'string', maxLength: 1_000_000 };
const checkKept = checker<Kept>({
  type: 'object',
  required: ['lines', 'answers', 'suggest', 'once'],
  properties: {
    lines: {
      type: 'array',
      items: {
        type: 'object',
        required: ['id', 'text', 'own'],
        properties: { id: text, text, own: { type: 'object', additionalProperties: text } },
      },
    },
    answers: { type: 'object', additionalProperties: text },
    suggest: { type: 'boolean' },
    once: { type: 'boolean' },
  },
});

/** So many lines are read at once; the rest follow in pieces, so that a long paste holds nothing up. */
const AT_ONCE = 150;
const SAVE_MS = 300;
const KEY = 'codes';
const place = () => createStore('papillon', 'picture');
const EMPTY: CodesState = { lines: [], answers: {}, suggest: true, once: false };

/** The lines of Gather › Codes. They survive a reload on this machine. */
export class CodesStore {
  private state: CodesState = EMPTY;
  private readonly listeners = new Set<() => void>();
  private timer: ReturnType<typeof setTimeout> | null = null;

  readonly subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => void this.listeners.delete(listener);
  };
  readonly snapshot = (): CodesState => this.state;

  async restore(): Promise<void> {
    try {
      const kept = checkKept(await get(KEY, place()));
      // what came while this was being read comes after it
      const lines = [...kept.lines.map((line) => ({ ...line, read: null })), ...this.state.lines];
      this.set({ ...kept, lines });
      this.readWaiting();
    } catch {
      // nothing was kept, or by another version
    }
  }

  /** Adds the lines of a text at the end. Gives back how many there were. */
  add(given: string): number {
    const lines = codeLines(given).map(fresh);
    if (lines.length > 0) this.lines([...this.state.lines, ...lines]);
    return lines.length;
  }

  /** Another text in place of a line's; several lines of it become several. */
  change(id: string, given: string): void {
    this.lines(
      this.state.lines.flatMap((line) => {
        if (line.id !== id) return [line];
        if (!/[\r\n]/.test(given)) return [{ ...line, text: given, read: readCodes(given), own: {} }];
        return codeLines(given).map((text, i) => ({ ...fresh(text), ...(i === 0 ? { id } : {}) }));
      }),
    );
  }

  /** Takes lines away; all of them when none is named. Gives back what brings them back. */
  remove(id?: string): () => void {
    const before = this.state.lines;
    this.lines(id ? before.filter((line) => line.id !== id) : []);
    return () => this.lines(before);
  }

  /** Answers the question of one code. */
  answer(id: string, at: number, answer: string): void {
    this.lines(
      this.state.lines.map((line) =>
        line.id === id ? { ...line, own: { ...line.own, [at]: answer } } : line,
      ),
    );
  }

  /** Answers a question for all codes that leave it open. */
  answerAll(question: Question, answer: string): void {
    this.put({ answers: { ...this.state.answers, [question]: answer } });
  }

  put(part: Partial<Omit<CodesState, 'lines'>>): void {
    this.set(part);
    this.save();
  }

  saveNow(): void {
    if (!this.timer) return;
    clearTimeout(this.timer);
    this.timer = null;
    const lines = this.state.lines.map(({ read: _, ...line }) => line);
    void set(KEY, { ...this.state, lines } satisfies Kept, place()).catch(() => undefined);
  }

  private lines(lines: Line[]): void {
    this.set({ lines: lines.length === 0 ? [] : lines, ...(lines.length === 0 ? { answers: {} } : {}) });
    this.readWaiting();
    this.save();
  }

  private readWaiting(): void {
    let left = AT_ONCE;
    const lines = this.state.lines.map((line) =>
      line.read || left-- <= 0 ? line : { ...line, read: readCodes(line.text) },
    );
    this.set({ lines });
    if (left < 0) setTimeout(() => this.readWaiting());
  }

  private set(part: Partial<CodesState>): void {
    this.state = { ...this.state, ...part };
    for (const listener of this.listeners) listener();
  }

  private save(): void {
    if (this.timer) clearTimeout(this.timer);
    this.timer = setTimeout(() => this.saveNow(), SAVE_MS);
  }
}

const fresh = (text: string): Line => ({ id: nanoid(8), text, read: null, own: {} });
