import { Store } from './store';

const NAME = 'papillon-name';

/** Who works in this browser, as others see it. */
export interface Me {
  /** As changes name their author. */
  id: string;
  /** Null before one has been given. */
  name: string | null;
}

/** The name of whoever works here: an owner's, kept in this browser and on the server, or a visitor's. */
export class MeStore extends Store<Me> {
  /**
   * @param visitor what whoever came by a link has said
   * @param tell makes a name known to the server
   */
  constructor(
    id: string,
    visitor: string | null,
    private readonly tell: (me: { id: string; name: string }) => Promise<void>,
  ) {
    super({ id, name: visitor ?? kept() });
  }

  /** @throws Error that says why it was not kept */
  async rename(name: string): Promise<void> {
    await this.tell({ id: this.snapshot().id, name });
    this.set({ name });
    try {
      localStorage.setItem(NAME, name);
    } catch {
      // it holds until the page is left
    }
  }
}

function kept(): string | null {
  try {
    return localStorage.getItem(NAME);
  } catch {
    return null;
  }
}
