import type { ArtworkFacts } from '#core/artwork/index';
import { type ArtworkClient, openArtworkClient } from '~/workers/clients';
import { whyNot } from './post';
import { Store } from './store';

/** A piece of artwork that has been looked through. */
export interface Work {
  facts: ArtworkFacts;
  /** What was taken out of it or passed over. */
  warnings: string[];
}

export interface ArtworkState {
  /** By the SHA-256 of their bytes. */
  works: Readonly<Record<string, Work>>;
  /** Why one is not available. */
  problems: Readonly<Record<string, string>>;
}

const TRIES = 3;
const PAUSE_MS = 700;

/** The artwork of the open libraries: its bytes are with the server, and looked through in a worker. */
export class ArtworkStore extends Store<ArtworkState> {
  private worker: ArtworkClient | null = null;
  private readonly opening = new Map<string, Promise<void>>();

  constructor(
    private readonly get: typeof fetch,
    private readonly spawn: () => ArtworkClient = openArtworkClient,
  ) {
    super({ works: {}, problems: {} });
  }

  /** Started when the first artwork is needed. */
  get client(): ArtworkClient {
    this.worker ??= this.spawn();
    return this.worker;
  }

  /** Looks through a file without keeping it. @throws Error that says what is wrong with it */
  async look(file: Blob): Promise<{ hash: string; bytes: Blob } & Work> {
    const { hash, bytes, facts, warnings } = await this.client.ask('read', { file });
    // a worker that takes this one's place is informed again
    await this.client.ask('open', { hash, bytes });
    this.put(hash, { facts, warnings });
    return { hash, bytes, facts, warnings };
  }

  /**
   * Looks through a file and keeps it on the server.
   * @throws Error that says what is wrong with it, or why it was not kept
   */
  async keep(file: Blob): Promise<{ hash: string } & Work> {
    const { hash, bytes, facts, warnings } = await this.look(file);
    let response: Response | null = null;
    for (let left = TRIES; left > 0; left--) {
      response = await this.get(`/artworks/${hash}`, {
        method: 'PUT',
        headers: { 'Content-Type': 'application/octet-stream' },
        body: bytes,
      }).catch(() => null);
      if (response && response.status < 500) break;
      if (left > 1) await new Promise((resolve) => setTimeout(resolve, PAUSE_MS));
    }
    if (!response?.ok) throw new Error(`it could not be kept. ${await whyNot(response)}`);
    return { hash, facts, warnings };
  }

  /** Sees to it that an artwork is open; why it is not stands in `problems`. */
  open(hash: string): Promise<void> {
    if (this.snapshot().works[hash]) return Promise.resolve();
    const opening =
      this.opening.get(hash) ??
      this.fetched(hash)
        .catch((error: Error) =>
          this.set({ problems: { ...this.snapshot().problems, [hash]: error.message } }),
        )
        .finally(() => this.opening.delete(hash));
    this.opening.set(hash, opening);
    return opening;
  }

  private async fetched(hash: string): Promise<void> {
    const response = await this.get(`/artworks/${hash}`).catch(() => null);
    if (!response?.ok) throw new Error(`The artwork cannot be opened. ${await whyNot(response)}`);
    const bytes = await response.blob();
    this.put(hash, await this.client.ask('open', { hash, bytes }));
  }

  private put(hash: string, work: Work): void {
    const { [hash]: _, ...problems } = this.snapshot().problems;
    this.set({ works: { ...this.snapshot().works, [hash]: work }, problems });
  }
}
