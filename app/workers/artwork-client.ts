import type { ArtworkQueries } from '~/messages/artwork-messages';
import { WorkerClient } from './worker-client';

export type ArtworkClient = WorkerClient<ArtworkQueries>;

/** A worker for the open artworks; one that takes the place of a dead one opens them again. */
export const openArtworkClient = (): ArtworkClient =>
  new WorkerClient(
    () => new Worker(new URL('./artwork.worker.ts', import.meta.url), { type: 'module' }),
    'The artwork is too much for this browser’s memory. Divide it first.',
    { keep: 'open', forget: 'shut', key: (ask) => (ask as { hash: string }).hash },
  );
