import { Store } from '~/state/store';

/** What the hand is over: a line of the list, and the part of the artwork where it is one. */
interface Over {
  entry: string | null;
  part: string | null;
}

/** Kept apart from the screen, so that a moving pointer redraws only what shows it. */
export class Pointed extends Store<Over> {
  constructor() {
    super({ entry: null, part: null });
  }

  at(entry: string | null, part: string | null = null): void {
    const was = this.snapshot();
    if (was.entry !== entry || was.part !== part) this.set({ entry, part });
  }
}
