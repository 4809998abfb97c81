import type { MatchQueries } from '~/messages/match-messages';
import { WorkerClient } from './worker-client';

export type MatchClient = WorkerClient<MatchQueries>;

/** A worker that finds the nearest colours in books and libraries. */
export const openMatchClient = (): MatchClient =>
  new WorkerClient(
    () => new Worker(new URL('./match.worker.ts', import.meta.url), { type: 'module' }),
    'The search ended before its time. Check the connection to the server, or look in fewer books at once.',
  );
