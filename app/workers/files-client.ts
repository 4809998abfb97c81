import type { FileQueries } from '~/messages/files-messages';
import { WorkerClient } from './worker-client';

export type FilesClient = WorkerClient<FileQueries>;

/** A worker that reads and writes swatch files. */
export const openFilesClient = (): FilesClient =>
  new WorkerClient(
    () => new Worker(new URL('./files.worker.ts', import.meta.url), { type: 'module' }),
    'This is too much for the browser’s memory. Work with fewer swatches at a time.',
  );
