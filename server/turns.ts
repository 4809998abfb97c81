/** Limits how many run at once; the others wait in the order they came. */
export class Turns {
  private readonly waiting: (() => void)[] = [];
  private free: number;

  constructor(most: number) {
    this.free = most;
  }

  /** Resolves when it is one's turn, with what ends it; ending it twice is ending it once. */
  async take(): Promise<() => void> {
    if (this.free > 0) this.free--;
    else await new Promise<void>((resolve) => this.waiting.push(resolve));
    let ended = false;
    return () => {
      if (ended) return;
      ended = true;
      const next = this.waiting.shift();
      if (next) next();
      else this.free++;
    };
  }
}
