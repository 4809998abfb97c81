import { useSyncExternalStore } from 'react';
import { applyEdit, type Edit, EditError, type Library } from '#core/swatch/index';

interface Saved {
  library: Library;
  revision: number;
  undo: string | null;
  redo: string | null;
}

export interface LibraryState extends Saved {
  /** Edits the server has not confirmed yet. */
  waiting: number;
  /** Why something did not go through; null when all is well. */
  problem: string | null;
}

type Change = { edit: Edit } | { step: 'undo' | 'redo' };

const RETRY_MS = 2000;

/** The stores of this page by library, for what stands above the screens of one library. */
export const openStores = new Map<string, LibraryStore>();

/**
 * A library as the page works on it: edits are applied at once with the same function the server uses, and
 * sent one after the other. What the server refuses is taken back and said; a lost connection is tried again.
 */
export class LibraryStore {
  private state: LibraryState;
  private readonly listeners = new Set<() => void>();
  private readonly queue: Change[] = [];
  private sending = false;
  private channel: BroadcastChannel | null = null;

  constructor(saved: Saved) {
    this.state = { ...saved, waiting: 0, problem: null };
  }

  get id(): string {
    return this.state.library.id;
  }

  /** Hears of changes in other tabs while someone looks. */
  readonly subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    this.channel ??= this.listen();
    return () => {
      this.listeners.delete(listener);
      if (this.listeners.size > 0) return;
      this.channel?.close();
      this.channel = null;
    };
  };

  readonly snapshot = (): LibraryState => this.state;

  /** Applies an edit. Returns false, and says why in `problem`, when it does not fit. */
  edit(edit: Edit): boolean {
    try {
      const { library } = applyEdit(this.state.library, edit);
      this.queue.push({ edit });
      this.set({ library, waiting: this.queue.length, problem: null });
    } catch (error) {
      if (!(error instanceof EditError)) throw error;
      this.set({ problem: error.message });
      return false;
    }
    void this.send();
    return true;
  }

  undo(): void {
    this.step('undo');
  }

  redo(): void {
    this.step('redo');
  }

  /** Resolves when everything is saved. */
  async saved(): Promise<void> {
    while (this.queue.length > 0) await new Promise((resolve) => setTimeout(resolve, 20));
  }

  dismiss(): void {
    this.set({ problem: null });
  }

  private step(step: 'undo' | 'redo'): void {
    this.queue.push({ step });
    this.set({ waiting: this.queue.length, problem: null });
    void this.send();
  }

  private async send(): Promise<void> {
    if (this.sending) return;
    this.sending = true;
    while (this.queue.length > 0) {
      const [change] = this.queue;
      let response: Response;
      try {
        const body = JSON.stringify({ change, revision: this.state.revision });
        response = await fetch(`/libraries/${this.id}/changes`, {
          method: 'POST',
          headers: { 'Content-Type': 'application/json' },
          body,
          // what is under way outlives a reload; browsers allow that up to 64 KB
          keepalive: body.length < 20_000,
        });
        if (response.status >= 500) throw new Error(`${response.status}`);
      } catch {
        this.set({ problem: 'Not saved yet: the server does not answer. Papillon keeps trying.' });
        await new Promise((resolve) => setTimeout(resolve, RETRY_MS));
        continue;
      }
      this.queue.shift();
      if (response.ok) {
        const { library, ...rest } = (await response.json()) as Omit<Saved, 'library'> & {
          library?: Library;
        };
        this.set({ ...rest, problem: null, waiting: this.queue.length });
        if (library) this.rebase(library);
        this.channel?.postMessage(rest.revision);
      } else {
        const reason = await response.text();
        await this.refresh();
        this.set({ problem: reason });
      }
    }
    this.sending = false;
  }

  /** Takes what the server has, with the edits it has not seen yet on top. */
  private rebase(library: Library): void {
    let next = library;
    for (const change of this.queue) {
      if (!('edit' in change)) continue;
      try {
        next = applyEdit(next, change.edit).library;
      } catch {
        // the server will refuse it too, and say why
      }
    }
    this.set({ library: next, waiting: this.queue.length });
  }

  async refresh(): Promise<void> {
    const response = await fetch(`/libraries/${this.id}/changes`).catch(() => null);
    if (!response?.ok) return;
    const { library, ...rest } = (await response.json()) as Saved;
    this.set(rest);
    this.rebase(library);
  }

  private listen(): BroadcastChannel | null {
    if (typeof BroadcastChannel === 'undefined') return null;
    const channel = new BroadcastChannel(`papillon-${this.id}`);
    channel.onmessage = ({ data }) => {
      if (typeof data === 'number' && data > this.state.revision && this.queue.length === 0)
        void this.refresh();
    };
    return channel;
  }

  private set(part: Partial<LibraryState>): void {
    this.state = { ...this.state, ...part };
    for (const listener of this.listeners) listener();
  }
}

/** The store's present state; renders again when it changes. */
export function useStore(store: LibraryStore): LibraryState {
  return useSyncExternalStore(store.subscribe, store.snapshot, store.snapshot);
}
