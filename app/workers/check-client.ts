import type { CheckQueries } from '~/messages/check-messages';
import { WorkerClient } from './worker-client';

export type CheckClient = WorkerClient<CheckQueries>;

/** A worker that checks a library; one that takes the place of a dead one gets the library again. */
export const openCheckClient = (): CheckClient =>
  new WorkerClient(
    () => new Worker(new URL('./check.worker.ts', import.meta.url), { type: 'module' }),
    'The library is too much for this browser’s memory. Check a part of it.',
    { keep: 'hold', forget: 'release', key: (ask) => String((ask as { at: number }).at) },
  );
