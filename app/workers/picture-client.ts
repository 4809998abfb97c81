import type { PictureQueries } from '~/messages/picture-messages';
import { WorkerClient } from './worker-client';

export type PictureClient = WorkerClient<PictureQueries>;

/** A worker for the open pictures; one that takes the place of a dead one opens them again. */
export const openPictureClient = (): PictureClient =>
  new WorkerClient(
    () => new Worker(new URL('./picture.worker.ts', import.meta.url), { type: 'module' }),
    'The picture is too much for this browser’s memory. Make a smaller copy first.',
    { keep: 'open', forget: 'shut', key: (ask) => (ask as { id: string }).id },
  );
