/** Changes that follow each other within so much are one step, ms: a hand that drags. */
const TOGETHER_MS = 500;
/** More steps than anyone goes back. */
const MAX_STEPS = 200;

/** Earlier states of something that a hand works on, to go back and forth between one step at a time. */
export class Steps<T> {
  private past: T[] = [];
  private future: T[] = [];
  private notedAt = Number.NEGATIVE_INFINITY;
  private usedAt = Number.NEGATIVE_INFINITY;

  /** When it was last changed, or gone back or on in, ms. */
  get at(): number {
    return this.usedAt;
  }
  get canGoBack(): boolean {
    return this.past.length > 0;
  }
  get canGoOn(): boolean {
    return this.future.length > 0;
  }

  /** Remembers what was there before a change. @param now ms */
  note(before: T, now: number): void {
    this.future = [];
    if (now - this.notedAt >= TOGETHER_MS || this.past.length === 0) this.past.push(before);
    if (this.past.length > MAX_STEPS) this.past.shift();
    this.notedAt = now;
    this.usedAt = now;
  }

  /** What was there a step before; undefined when there is none. @param present what is there now */
  back(present: T, now: number): T | undefined {
    const before = this.past.pop();
    if (before !== undefined) this.future.push(present);
    this.leave(now);
    return before;
  }

  /** What was there before the last step back; undefined when there is none. */
  on(present: T, now: number): T | undefined {
    const after = this.future.pop();
    if (after !== undefined) this.past.push(present);
    this.leave(now);
    return after;
  }

  /** What is changed next is a step of its own. */
  private leave(now: number): void {
    this.notedAt = Number.NEGATIVE_INFINITY;
    this.usedAt = now;
  }
}

/** The steps of many things by their keys. */
export class StepsOf<T> {
  private readonly all = new Map<string, Steps<T>>();

  of(key: string): Steps<T> {
    let steps = this.all.get(key);
    if (!steps) {
      steps = new Steps();
      this.all.set(key, steps);
    }
    return steps;
  }
}
