import type { Answer, Ask, QueryName, Reply } from './picture-messages';

interface Waiting {
  resolve(answer: unknown): void;
  reject(error: Error): void;
  stage?(text: string): void;
}

/** The picture worker as promises. Closing it stops whatever it is doing. */
export class PictureClient {
  private readonly worker = new Worker(new URL('./picture.worker.ts', import.meta.url), { type: 'module' });
  private readonly waiting = new Map<number, Waiting>();
  private next = 0;

  constructor() {
    this.worker.onmessage = ({ data }: MessageEvent<Reply>) => {
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
    this.worker.onerror = () => {
      for (const { reject } of this.waiting.values())
        reject(new Error('The picture is too much for this browser’s memory. Make a smaller copy first.'));
      this.waiting.clear();
    };
  }

  ask<N extends QueryName>(name: N, ask: Ask<N>, stage?: (text: string) => void): Promise<Answer<N>> {
    const id = this.next++;
    return new Promise((resolve, reject) => {
      this.waiting.set(id, { resolve: resolve as (answer: unknown) => void, reject, stage });
      this.worker.postMessage({ id, name, ask });
    });
  }

  close(): void {
    this.worker.terminate();
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
  return async function go(ask: A) {
    if (busy) {
      waiting = { ask };
      return;
    }
    busy = true;
    try {
      done(await run(ask), ask);
    } catch {
      // the picture was closed, or another opened; its own message has been shown
    }
    busy = false;
    const next = waiting;
    waiting = null;
    if (next) go(next.ask);
  };
}
