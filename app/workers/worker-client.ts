import { nanoid } from 'nanoid';

/** What a worker can be asked, and what comes back for each. */
export type Queries = Record<string, { ask: unknown; answer: unknown }>;

export type Request<Q extends Queries> =
  | { [N in keyof Q]: { id: number; name: N; ask: Q[N]['ask'] } }[keyof Q]
  | { stop: number }
  | { lock: string };
export type Reply =
  | { id: number; answer: unknown }
  | { id: number; error: string }
  | { id: number; stopped: true }
  | { id: number; stage: string };
/** The worker holds the lock it was asked to hold. */
export type Locked = { locked: string };

/** What a job can do beside its work. */
export interface JobContext {
  /** Tells the page what is being done. */
  stage(text: string): void;
  /** Lets a wish to stop come in; it ends the job by throwing. */
  breathe(): Promise<void>;
}

/** How a worker answers each query. */
export type Answers<Q extends Queries> = {
  [N in keyof Q]: (ask: Q[N]['ask'], job: JobContext) => Q[N]['answer'] | Promise<Q[N]['answer']>;
};

/** A job that was stopped, or whose worker was closed: whoever did it knows. */
export class StoppedError extends Error {
  override name = 'StoppedError';
}

/**
 * The worker's side: answers each request.
 *
 * @param answers may still be on their way
 * @param describe the errors meant for the user
 */
export function serve<Q extends Queries>(
  answers: Answers<Q> | Promise<Answers<Q>>,
  describe: (error: unknown) => string,
): void {
  const stopped = new Set<number>();
  const post = (reply: Reply | Locked) => self.postMessage(reply);
  self.onmessage = async ({ data }: MessageEvent<Request<Q>>) => {
    if ('lock' in data) {
      // held as long as this worker lives: the page sees it end by getting the lock
      void navigator.locks?.request(data.lock, () => {
        post({ locked: data.lock });
        return new Promise(() => undefined);
      });
      return;
    }
    if ('stop' in data) {
      stopped.add(data.stop);
      return;
    }
    const { id, name, ask } = data;
    const job: JobContext = {
      stage: (stage) => post({ id, stage }),
      async breathe() {
        await new Promise((resolve) => setTimeout(resolve));
        if (stopped.has(id)) throw new StoppedError();
      },
    };
    try {
      post({ id, answer: await (await answers)[name](ask, job) });
    } catch (error) {
      post(error instanceof StoppedError ? { id, stopped: true } : { id, error: describe(error) });
    }
    stopped.delete(id);
  };
}

/** An answer that is on its way, with what ends the work for it. */
export interface Job<T> extends Promise<T> {
  readonly id: number;
  stop(): void;
}

interface Waiting {
  name: PropertyKey;
  ask: unknown;
  resolve(answer: unknown): void;
  reject(error: Error): void;
  stage?: ((text: string) => void) | undefined;
  /** It has been repeated once already. */
  again: boolean;
}

/** What a worker has to be told again when it is replaced: the asks of one query, until another takes them back. */
export interface Memory {
  keep: string;
  forget: string;
  key(ask: unknown): string;
}

/** A job that does not end by itself so long after it was stopped is ended with its worker, ms. */
const GRACE_MS = 400;

/**
 * A worker as promises. One that dies is replaced, and what it was asked is asked again, once; then whoever waits is notified.
 */
export class WorkerClient<Q extends Queries> {
  private readonly waiting = new Map<number, Waiting>();
  private readonly kept = new Map<string, unknown>();
  private worker: Worker;
  private next = 0;
  private closed = false;

  /**
   * @param spawn makes the worker
   * @param whenItDies what to tell the user when it has died twice over the same request
   */
  constructor(
    private readonly spawn: () => Worker,
    private readonly whenItDies: string,
    private readonly memory?: Memory,
  ) {
    this.worker = this.start();
  }

  ask<N extends keyof Q>(name: N, ask: Q[N]['ask'], stage?: (text: string) => void): Job<Q[N]['answer']> {
    const id = this.next++;
    const answer = new Promise<Q[N]['answer']>((resolve, reject) => {
      if (this.closed) {
        reject(new StoppedError('The worker is closed.'));
        return;
      }
      this.waiting.set(id, { name, ask, resolve, reject, stage, again: false });
      if (name === this.memory?.keep) this.kept.set(this.memory.key(ask), ask);
      if (name === this.memory?.forget) this.kept.delete(this.memory.key(ask));
      this.post({ id, name, ask });
    });
    return Object.assign(answer, { id, stop: () => this.stop(id) });
  }

  /** Ends a job: by itself when it can, else with its worker. */
  private stop(id: number): void {
    const entry = this.waiting.get(id);
    if (!entry) return;
    this.waiting.delete(id);
    entry.reject(new StoppedError('Stopped.'));
    this.post({ stop: id });
    const { worker } = this;
    this.stopping.add(id);
    setTimeout(() => {
      // others' work is not lost: they are asked again by the new one
      if (this.stopping.delete(id) && worker === this.worker && !this.closed) this.replace();
    }, GRACE_MS);
  }

  private readonly stopping = new Set<number>();

  /** Ends every job. */
  stopAll(): void {
    for (const id of [...this.waiting.keys()]) this.stop(id);
  }

  /** Ends the worker, and tells those who wait why. */
  close(why = 'The work was ended.'): void {
    this.closed = true;
    this.worker.terminate();
    for (const { reject } of this.waiting.values()) reject(new StoppedError(why));
    this.waiting.clear();
  }

  private post(message: unknown): void {
    this.worker.postMessage(message);
  }

  private start(): Worker {
    const worker = this.spawn();
    const died = () => {
      if (worker === this.worker && !this.closed) this.died();
    };
    worker.onerror = died;
    worker.onmessageerror = died;
    const locks = typeof navigator === 'undefined' ? undefined : navigator.locks;
    worker.onmessage = ({ data }: MessageEvent<Reply | Locked>) => {
      // asked for behind the worker, so that it is had when the worker is gone, however silently
      if ('locked' in data) void locks?.request(data.locked, died).catch(() => undefined);
      else this.hear(data);
    };
    if (locks) worker.postMessage({ lock: `papillon-worker-${nanoid()}` });
    return worker;
  }

  private hear(data: Reply): void {
    if ('stopped' in data || !('stage' in data)) this.stopping.delete(data.id);
    const entry = this.waiting.get(data.id);
    if (!entry) return;
    if ('stage' in data) {
      entry.stage?.(data.stage);
      return;
    }
    this.waiting.delete(data.id);
    if ('error' in data) entry.reject(new Error(data.error));
    else if ('stopped' in data) entry.reject(new StoppedError('Stopped.'));
    else entry.resolve(data.answer);
  }

  private died(): void {
    for (const [id, entry] of this.waiting) {
      if (!entry.again) {
        entry.again = true;
        continue;
      }
      this.waiting.delete(id);
      entry.reject(new Error(this.whenItDies));
      // what it died of twice is not told to the next one
      if (entry.name === this.memory?.keep) this.kept.delete(this.memory.key(entry.ask));
    }
    this.replace();
  }

  /** Another worker in place of this one, which is given what it has to know and asked what this one was asked. */
  private replace(): void {
    this.worker.terminate();
    this.stopping.clear();
    this.worker = this.start();
    const asked = new Set([...this.waiting.values()].map((w) => w.ask));
    for (const ask of this.kept.values())
      if (!asked.has(ask)) this.post({ id: this.next++, name: this.memory?.keep, ask });
    for (const [id, { name, ask }] of this.waiting) this.post({ id, name, ask });
  }
}

/**
 * Runs only the newest of many requests: while one is under way, each new one takes the place of the one that
 * waits, so that what a hand drags never queues up.
 *
 * @param failed hears what went wrong; not of what was stopped on purpose
 */
export function latestOnly<A, R>(
  run: (ask: A) => Promise<R>,
  done: (answer: R, ask: A) => void,
  failed: (error: Error) => void,
): (ask: A) => void {
  let busy = false;
  let waiting: { ask: A } | null = null;
  const go = async (ask: A) => {
    busy = true;
    try {
      done(await run(ask), ask);
    } catch (error) {
      if (!(error instanceof StoppedError)) failed(error as Error);
    }
    busy = false;
    const next = waiting;
    waiting = null;
    if (next) void go(next.ask);
  };
  return (ask) => {
    if (busy) waiting = { ask };
    else void go(ask);
  };
}
