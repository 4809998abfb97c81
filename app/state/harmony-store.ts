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
import { NoteStore } from './saved-store';
import type { Shelf } from './shelf';
import { type Steps, StepsOf } from './steps';

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
export class HarmonyStore extends NoteStore<HarmonyState, KeptHarmony> {
  private readonly steps = new StepsOf<FamilyTake>();

  constructor(shelf: Shelf) {
    super(EMPTY, shelf, 'harmony', async () => (await import('./checks')).checkKeptHarmony);
  }

  /** Brings back what was there before a reload, and keeps in step with other pages of this browser. */
  async restore(): Promise<void> {
    this.follow((kept) => this.mirror(kept));
    const kept = await this.kept();
    if (kept && !this.unsaved) this.mirror(kept);
  }

  private mirror(kept: KeptHarmony): void {
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
    const { take } = this;
    if (take) this.stepsOf(take.id).note(take, performance.now());
    this.put({ takes: takes.map((t) => (t.id === current ? { ...t, ...part } : t)) });
  }

  /** Changes what the present take is asked for. */
  ask(part: Partial<Asked>): void {
    const { take } = this;
    if (take) this.change({ asked: { ...take.asked, ...part } });
  }

  /** The steps of a take; of the present one, when none is named. */
  stepsOf(id = this.take?.id ?? ''): Steps<FamilyTake> {
    return this.steps.of(id);
  }

  /** Goes one step back, or on, in the present take. Returns whether there was one. */
  step(way: 'back' | 'on'): boolean {
    const { take } = this;
    const other = take && this.stepsOf()[way](take, performance.now());
    if (!other) return false;
    const { takes } = this.snapshot();
    this.put({ takes: takes.map((t) => (t === take ? other : t)) });
    return true;
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

  protected note(): KeptHarmony {
    const { member: _, ...kept } = this.snapshot();
    return kept;
  }

  private put(part: Partial<HarmonyState>): void {
    this.set(part);
    this.save();
  }
}
