import { nanoid } from 'nanoid';
import type { Asked, Drag } from '#core/harmony/index';
import {
  type FamilyTake,
  type HarmonyState,
  type HarmonyView,
  type KeptHarmony,
  type KeptScale,
  PLAIN_SCALE,
} from './harmony';
import type { Shelf } from './shelf';
import { Store } from './store';

const KEY = 'harmony';
const SAVE_MS = 300;
const MAX_TAKES = 200;
const EMPTY: HarmonyState = {
  view: 'family',
  scale: PLAIN_SCALE,
  takes: [],
  current: null,
  drag: 'turn',
  member: '0',
};

/** The families of Gather › Harmony. They survive a reload on this machine. */
export class HarmonyStore extends Store<HarmonyState> {
  private timer: ReturnType<typeof setTimeout> | null = null;

  constructor(private readonly shelf: Shelf) {
    super(EMPTY);
  }

  /** Brings back what was there before a reload, and keeps in step with other pages of this browser. */
  async restore(): Promise<void> {
    this.shelf.listen(({ shelf, key }) => {
      // what is made here goes before what comes from there
      if (shelf === 'notes' && key === KEY && !this.timer) void this.mirror();
    });
    await this.mirror();
  }

  private async mirror(): Promise<void> {
    const kept = await sound(await this.shelf.get('notes', KEY));
    if (!kept || this.timer) return;
    // two pages may each look at another take
    const { current } = this.snapshot();
    const own = kept.takes.some((t) => t.id === current) ? current : kept.current;
    this.set({ ...kept, current: own });
  }

  /** The take that is worked on. */
  get take(): FamilyTake | null {
    const { takes, current } = this.snapshot();
    return takes.find((t) => t.id === current) ?? null;
  }

  /** Begins a take of its own; those of before stay. */
  begin(asked: Asked, inside: FamilyTake['inside'] = 'rgb', member = '0'): void {
    const take: FamilyTake = { id: nanoid(8), asked, inside, areas: {} };
    const { takes } = this.snapshot();
    this.put({ takes: [...takes, take].slice(-MAX_TAKES), current: take.id, member });
  }

  /** Another take that begins as the present one stands. */
  again(): void {
    const { take } = this;
    if (!take) return;
    const { name: _, ...rest } = take;
    const copy = { ...rest, id: nanoid(8) };
    const { takes } = this.snapshot();
    const at = takes.findIndex((t) => t.id === take.id);
    this.put({ takes: takes.toSpliced(at + 1, 0, copy).slice(-MAX_TAKES), current: copy.id });
  }

  /** Changes the present take. */
  change(part: Partial<Omit<FamilyTake, 'id'>>): void {
    const { takes, current } = this.snapshot();
    this.put({ takes: takes.map((t) => (t.id === current ? { ...t, ...part } : t)) });
  }

  /** Changes what the present take is asked for. */
  ask(part: Partial<Asked>): void {
    const { take } = this;
    if (take) this.change({ asked: { ...take.asked, ...part } });
  }

  choose(id: string): void {
    this.put({ current: id, member: '0' });
  }

  show(view: HarmonyView): void {
    this.put({ view });
  }

  /** Changes what a scale is asked for. */
  scale(part: Partial<KeptScale>): void {
    this.put({ scale: { ...this.snapshot().scale, ...part } });
  }

  look(member: string): void {
    this.set({ member });
  }

  dragging(drag: Drag): void {
    this.put({ drag });
  }

  rename(id: string, name: string): void {
    this.put({
      takes: this.snapshot().takes.map((take) => {
        if (take.id !== id) return take;
        const { name: _, ...rest } = take;
        return name ? { ...rest, name } : rest;
      }),
    });
  }

  /** Takes a take away. Gives back what brings it back. */
  remove(id: string): () => void {
    const { takes, current } = this.snapshot();
    const at = takes.findIndex((t) => t.id === id);
    const gone = takes[at];
    if (!gone) return () => undefined;
    const rest = takes.filter((t) => t !== gone);
    const next = current === id ? (rest[at] ?? rest[at - 1])?.id : current;
    this.put({ takes: rest, current: next ?? null, member: '0' });
    return () => {
      const now = this.snapshot().takes;
      if (!now.some((t) => t.id === id)) this.put({ takes: now.toSpliced(at, 0, gone), current: id });
    };
  }

  saveNow(): void {
    if (!this.timer) return;
    clearTimeout(this.timer);
    this.timer = null;
    const { member: _, ...kept } = this.snapshot();
    void this.shelf.put('notes', kept satisfies KeptHarmony, KEY);
  }

  private put(part: Partial<HarmonyState>): void {
    this.set(part);
    if (this.timer) clearTimeout(this.timer);
    this.timer = setTimeout(() => this.saveNow(), SAVE_MS);
  }
}

/** What was kept, unless it was by another version. */
async function sound(kept: unknown): Promise<KeptHarmony | null> {
  if (kept === undefined) return null;
  const { checkKeptHarmony } = await import('./checks');
  try {
    return checkKeptHarmony(kept);
  } catch {
    return null;
  }
}
