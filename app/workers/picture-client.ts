import type { PictureQueries } from './picture-messages';
import { WorkerClient } from './worker-client';

export type PictureClient = WorkerClient<PictureQueries>;

/** A worker for one picture. */
export const openPictureClient = (): PictureClient =>
  new WorkerClient(
    new Worker(new URL('./picture.worker.ts', import.meta.url), { type: 'module' }),
    'The picture is too much for this browser’s memory. Make a smaller copy first.',
  );
