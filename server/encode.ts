import { existsSync } from 'node:fs';
import { resolve } from 'node:path';
import { Worker } from 'node:worker_threads';
import { conditionOf, profilesOf } from '../core/color/index.ts';
import type { Options } from '../core/options.ts';
import { allSwatches, type Library } from '../core/swatch/index.ts';
import type { Db } from './db.ts';
import type { EncodeAnswer, EncodeJob } from './encode-file.ts';
import { readProfile } from './profiles.ts';

/** The reason why a file cannot be written, as the page shows it. */
export class EncodeError extends Error {
  override name = 'EncodeError';
  constructor(
    readonly status: 409 | 500 | 503,
    message: string,
  ) {
    super(message);
  }
}

/** As many may wait; whoever comes then is asked to come again. */
const MAX_WAITING = 40;
/** No file takes longer, ms. */
const MAX_MS = 90_000;
/** The thread ends when nothing was asked of it for so long, ms. */
const IDLE_MS = 60_000;

type Waiting = { done(made: EncodeAnswer['made']): void; timer: NodeJS.Timeout };

/** The thread as it was built; tests and the development server have none, and write where they are. */
const BUILT = resolve('build/encoder/main.mjs');
const hasThread = () => import.meta.url.includes('/build/server/') && existsSync(BUILT);

/** The thread that writes files, started when one is asked for. */
class Encoder {
  private worker: Worker | null = null;
  private readonly waiting = new Map<number, Waiting>();
  private idle: NodeJS.Timeout | undefined;
  private next = 0;

  make(job: EncodeJob): Promise<EncodeAnswer['made']> {
    if (this.waiting.size >= MAX_WAITING)
      throw new EncodeError(503, 'Many files are being written. Try again in a moment.');
    clearTimeout(this.idle);
    const worker = this.started();
    const id = this.next++;
    return new Promise((done) => {
      const timer = setTimeout(() => void this.end('it took too long'), MAX_MS);
      this.waiting.set(id, { done, timer });
      worker.postMessage({ id, job });
    });
  }

  private started(): Worker {
    if (this.worker) return this.worker;
    const worker = new Worker(BUILT);
    // it keeps no server from ending
    worker.unref();
    worker.on('message', ({ id, made }: EncodeAnswer) => this.answered(id, made));
    worker.on('error', () => {
      if (this.worker === worker) void this.end('it ran out of room');
    });
    this.worker = worker;
    return worker;
  }

  private answered(id: number, made: EncodeAnswer['made']): void {
    const one = this.waiting.get(id);
    if (!one) return;
    clearTimeout(one.timer);
    this.waiting.delete(id);
    one.done(made);
    if (this.waiting.size === 0) {
      this.idle = setTimeout(() => void this.end(''), IDLE_MS);
      this.idle.unref();
    }
  }

  /** Ends the thread, with a reason for whoever waits. */
  private async end(why: string): Promise<void> {
    const { worker } = this;
    this.worker = null;
    // what is asked for from here on is of the next thread
    const ended = [...this.waiting.keys()];
    await worker?.terminate();
    for (const id of ended) this.answered(id, { failed: why });
  }
}

const encoder = new Encoder();

/**
 * A library as a file.
 * @param at the library's last change: files say that they are of then
 * @throws EncodeError with what stands in the way
 */
export async function encoded(
  db: Db,
  library: Library,
  format: string,
  options: Options,
  at: Date,
): Promise<Uint8Array<ArrayBuffer>> {
  const hashes = profilesOf(
    conditionOf(library),
    allSwatches(library).map((s) => s.color),
  );
  const found = await Promise.all([...hashes].map((hash) => readProfile(db, hash)));
  const profiles = found.filter((p) => p !== null);
  const job: EncodeJob = { library, profiles, format, options, now: at.toISOString() };
  const made = hasThread()
    ? await encoder.make(job)
    : await (await import('./encode-file.ts')).encodeFile(job);
  if ('bytes' in made) return made.bytes;
  if ('why' in made) throw new EncodeError(409, made.why);
  throw new EncodeError(500, `The file could not be written: ${made.failed}.`);
}
