import type { ArtworkFacts } from '#core/artwork/index';
import { keepArtwork, readArtwork } from '~/api/assets';
import { call } from '~/api/call';
import { type ArtworkClient, openArtworkClient } from '~/workers/clients';
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
    const came = await call(keepArtwork, { params: { hash }, body: bytes }, this.get);
    if (!came.ok) throw new Error(`it could not be kept. ${came.why}`);
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

  /** Lets go of one that is not looked at any more; it can be opened again. */
  close(hash: string): void {
    const { [hash]: closed, ...works } = this.snapshot().works;
    if (!closed) return;
    this.set({ works });
    this.client.ask('shut', { hash }).catch(() => undefined);
  }

  private async fetched(hash: string): Promise<void> {
    const came = await call(readArtwork, { params: { hash } }, this.get);
    if (!came.ok) throw new Error(`The artwork cannot be opened. ${came.why}`);
    this.put(hash, await this.client.ask('open', { hash, bytes: came.value }));
  }

  private put(hash: string, work: Work): void {
    const { [hash]: _, ...problems } = this.snapshot().problems;
    this.set({ works: { ...this.snapshot().works, [hash]: work }, problems });
  }
}
