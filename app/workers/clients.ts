import type { ArtworkQueries } from '~/messages/artwork-messages';
import type { CheckQueries } from '~/messages/check-messages';
import type { FileQueries } from '~/messages/files-messages';
import type { MatchQueries } from '~/messages/match-messages';
import type { PictureQueries } from '~/messages/picture-messages';
import { type Memory, type Queries, WorkerClient } from './worker-client';

export type WorkerName = 'artwork' | 'check' | 'files' | 'match' | 'picture';

export type ArtworkClient = WorkerClient<ArtworkQueries>;
export type PictureClient = WorkerClient<PictureQueries>;

/** @param whenItDies what to tell the user when it has died twice over the same request */
const opens =
  <Q extends Queries>(name: WorkerName, whenItDies: string, memory?: Memory) =>
  (): WorkerClient<Q> =>
    new WorkerClient<Q>(
      () => new Worker(new URL('./worker.ts', import.meta.url), { type: 'module', name }),
      whenItDies,
      memory,
    );

/** A library that a worker holds comes in pieces. */
const PIECES: Memory = {
  keep: 'hold',
  forget: 'release',
  key: (ask) => String((ask as { at: number }).at),
};

/** A worker for the open artworks; one that takes the place of a dead one opens them again. */
export const openArtworkClient = opens<ArtworkQueries>(
  'artwork',
  'The artwork is too much for this browser’s memory. Divide it first.',
  { keep: 'open', forget: 'shut', key: (ask) => (ask as { hash: string }).hash },
);

/** A worker that checks a library; one that takes the place of a dead one gets the library again. */
export const openCheckClient = opens<CheckQueries>(
  'check',
  'The library is too much for this browser’s memory. Check a part of it.',
  PIECES,
);

/** A worker that reads and writes swatch files. */
export const openFilesClient = opens<FileQueries>(
  'files',
  'This is too much for the browser’s memory. Work with fewer swatches at a time.',
  PIECES,
);

/** A worker that finds the nearest colours in books and libraries. */
export const openMatchClient = opens<MatchQueries>(
  'match',
  'The search ended before its time. Check the connection to the server, or look in fewer books at once.',
);

/** A worker for the open pictures; one that takes the place of a dead one opens them again. */
export const openPictureClient = opens<PictureQueries>(
  'picture',
  'The picture is too much for this browser’s memory. Make a smaller copy first.',
  { keep: 'open', forget: 'shut', key: (ask) => (ask as { id: string }).id },
);
