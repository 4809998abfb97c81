/** What a worker can be asked, and what comes back for each. */
export type Queries = Record<string, { ask: unknown; answer: unknown }>;

export type Request<Q extends Queries> = {
  [N in keyof Q]: { id: number; name: N; ask: Q[N]['ask'] };
}[keyof Q];
export type Reply =
  | { id: number; answer: unknown }
  | { id: number; error: string }
  | { id: number; stage: string };

/** How a worker answers each query; `stage` tells the page what is being done meanwhile. */
export type Answers<Q extends Queries> = {
  [N in keyof Q]: (
    ask: Q[N]['ask'],
    stage: (text: string) => void,
  ) => Q[N]['answer'] | Promise<Q[N]['answer']>;
};

/** The worker's side: answers each request, in the order they come. `told` gives the errors meant for the user. */
export function serve<Q extends Queries>(answers: Answers<Q>, told: (error: unknown) => string): void {
  self.onmessage = async ({ data: { id, name, ask } }: MessageEvent<Request<Q>>) => {
    const post = (reply: Reply) => self.postMessage(reply);
    try {
      post({ id, answer: await answers[name](ask, (stage) => post({ id, stage })) });
    } catch (error) {
      post({ id, error: told(error) });
    }
  };
}

interface Waiting {
  resolve(answer: unknown): void;
  reject(error: Error): void;
  stage?(text: string): void;
}

/** A worker as promises. Closing it stops whatever it is doing. */
export class WorkerClient<Q extends Queries> {
  private readonly waiting = new Map<number, Waiting>();
  private next = 0;

  /** @param whenItDies what to tell the user when the worker runs out of memory */
  constructor(
    private readonly worker: Worker,
    whenItDies: string,
  ) {
    worker.onmessage = ({ data }: MessageEvent<Reply>) => {
      const entry = this.waiting.get(data.id);
      if (!entry) return;
      if ('stage' in data) {
        entry.stage?.(data.stage);
        return;
      }
      this.waiting.delete(data.id);
      if ('error' in data) entry.reject(new Error(data.error));
      else entry.resolve(data.answer);
    };
    worker.onerror = () => {
      for (const { reject } of this.waiting.values()) reject(new Error(whenItDies));
      this.waiting.clear();
    };
  }

  ask<N extends keyof Q>(name: N, ask: Q[N]['ask'], stage?: (text: string) => void): Promise<Q[N]['answer']> {
    const id = this.next++;
    return new Promise((resolve, reject) => {
      this.waiting.set(id, { resolve: resolve as (answer: unknown) => void, reject, stage });
      this.worker.postMessage({ id, name, ask });
    });
  }

  /** @param why is told to those who wait; without it they never hear again */
  close(why?: string): void {
    this.worker.terminate();
    if (why) for (const { reject } of this.waiting.values()) reject(new Error(why));
    this.waiting.clear();
  }
}

/**
 * Runs only the newest of many requests: while one is under way, each new one takes the place of the one that
 * waits, so that what a hand drags never queues up.
 */
export function latestOnly<A, R>(
  run: (ask: A) => Promise<R>,
  done: (answer: R, ask: A) => void,
): (ask: A) => void {
  let busy = false;
  let waiting: { ask: A } | null = null;
  const go = async (ask: A) => {
    busy = true;
    try {
      done(await run(ask), ask);
    } catch {
      // the picture was closed, or another opened; its own message has been shown
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
