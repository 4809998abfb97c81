import { nanoid } from 'nanoid';
import { type Change, checkReply, type Reply } from '#core/swatch/index';
import type { Colors } from './colors';
import { whyNot } from './post';
import type { Shelf } from './shelf';
import { Store } from './store';

/** What a store's surroundings lend it, so that a test can stand in for them. */
export interface Surroundings {
  fetch: typeof fetch;
  shelf: Shelf;
  /** Who works here. */
  by: string;
  colors: Colors;
}

export interface OutboxState {
  /** Changes that are not confirmed, of all libraries. */
  waiting: number;
  /** Why nothing can be saved just now; it is tried again by itself. */
  away: string | null;
  /** What has to be told of libraries that no one looks at. */
  said: readonly { key: string; text: string }[];
}

/** Whoever shows a library hears what became of its changes. */
export interface Recipient {
  readonly id: string;
  /** The last change that is known here. */
  seen(): number;
  confirmed(reply: Reply): void;
  /** Changes that will never be done, and why. */
  refused(ids: string[], why: string): void;
  /** The library is deleted: its changes wait until it is brought back. */
  deleted(why: string): void;
}

interface Waiting {
  n: Promise<number | null>;
  seen: number;
  change: Change;
}

interface Queue {
  waiting: Waiting[];
  sending: boolean;
  /** Wakes it from a pause. */
  wake: (() => void) | null;
  tries: number;
}

/** What is wrong with the change itself; all else, such as a full disk or a session that has ended, passes. */
const REFUSALS = new Set([400, 404, 409, 413, 415, 422]);
const MOST_AT_ONCE = 50;
const MOST_CHARACTERS = 400_000;
const FIRST_PAUSE_MS = 500;
const LONGEST_PAUSE_MS = 15_000;
const REPLY_MS = 20_000;
/** A body so small may outlive the page; browsers allow it up to 64 KB in all. */
const KEEPALIVE_CHARACTERS = 20_000;

/**
 * Changes on their way to the server: each is kept in this browser until it is confirmed, sent in its order, and sent again
 * under the same id when no reply comes, so that it is done once. It goes on where an earlier page was stopped.
 */
export class Outbox extends Store<OutboxState> {
  private readonly queues = new Map<string, Queue>();
  private readonly recipients = new Map<string, Recipient>();
  private loaded: Promise<void> | null = null;

  constructor(private readonly env: Surroundings) {
    super({ waiting: 0, away: null, said: [] });
  }

  /** Takes up what earlier pages could not send. */
  load(): Promise<void> {
    this.loaded ??= this.env.shelf.all('changes').then((left) => {
      const known = new Set([...this.queues.values()].flatMap((q) => q.waiting.map((w) => w.change.id)));
      for (const { n, library, seen, change } of left) {
        if (known.has(change.id)) continue;
        const { waiting } = this.queue(library);
        // before what has been made since the page was opened
        const at = waiting.findIndex((w) => !left.some((l) => l.change.id === w.change.id));
        waiting.splice(at < 0 ? waiting.length : at, 0, { n: Promise.resolve(n), seen, change });
      }
      this.tell();
      for (const library of this.queues.keys()) void this.send(library);
    });
    return this.loaded;
  }

  /** Changes of a library that wait, in their order. */
  waitingFor(library: string): Change[] {
    return this.queues.get(library)?.waiting.map((w) => w.change) ?? [];
  }

  /** Says who is to hear of a library; gives back what ends it. */
  register(recipient: Recipient): () => void {
    this.recipients.set(recipient.id, recipient);
    return () => {
      if (this.recipients.get(recipient.id) === recipient) this.recipients.delete(recipient.id);
    };
  }

  /** Puts a change on its way. */
  add(library: string, seen: number, change: Change): void {
    this.queue(library).waiting.push({ n: this.env.shelf.queue({ library, seen, change }), seen, change });
    this.tell();
    void this.send(library);
  }

  /** Tries at once what waits for the server. */
  readonly wake = (): void => {
    for (const queue of this.queues.values()) queue.wake?.();
  };

  private queue(library: string): Queue {
    let queue = this.queues.get(library);
    if (!queue) {
      queue = { waiting: [], sending: false, wake: null, tries: 0 };
      this.queues.set(library, queue);
    }
    return queue;
  }

  private tell(): void {
    let waiting = 0;
    for (const queue of this.queues.values()) waiting += queue.waiting.length;
    this.set({ waiting });
  }

  private async send(library: string): Promise<void> {
    const queue = this.queue(library);
    if (queue.sending) return;
    queue.sending = true;
    try {
      while (queue.waiting.length > 0) await this.sendSome(library, queue);
    } finally {
      queue.sending = false;
    }
  }

  private async sendSome(library: string, queue: Queue): Promise<void> {
    const batch = this.batch(queue);
    const body = JSON.stringify({
      by: this.env.by,
      seen: this.recipients.get(library)?.seen() ?? batch[0]!.seen,
      changes: batch.map((w) => w.change),
    });
    const signal = AbortSignal.timeout(Math.round(REPLY_MS + body.length / 100));
    let response: Response;
    let reply: Reply;
    let why = 'The server does not answer.';
    try {
      response = await this.env.fetch(`/libraries/${library}/changes`, {
        method: 'POST',
        headers: { 'Content-Type': 'application/json' },
        body,
        keepalive: body.length < KEEPALIVE_CHARACTERS,
        signal,
      });
      if (response.status === 410) {
        this.recipients.get(library)?.deleted(await response.text());
        await this.pause(queue, LONGEST_PAUSE_MS);
        return;
      }
      if (REFUSALS.has(response.status)) {
        this.refuse(library, queue, batch, await response.text());
        return;
      }
      if (!response.ok) {
        why = await whyNot(response);
        throw new Error(why);
      }
      reply = checkReply(await response.json());
    } catch {
      // whether it was done is not known: the same ids again will tell
      queue.tries = Math.max(0, queue.tries) + 1;
      this.set({ away: why });
      await this.pause(queue, FIRST_PAUSE_MS * 2 ** (queue.tries - 1));
      return;
    }
    queue.tries = 0;
    this.set({ away: null });
    const answered = new Set(reply.outcomes.map((o) => o.id));
    this.settle(
      queue,
      batch.filter((w) => answered.has(w.change.id)),
    );
    const recipient = this.recipients.get(library);
    if (recipient) recipient.confirmed(reply);
    else for (const { said } of reply.outcomes) this.say(...said);
  }

  /** As many as go well into one request; a single one after a refusal, to know which it was. */
  private batch(queue: Queue): Waiting[] {
    let characters = 0;
    let many = 0;
    for (const { change } of queue.waiting) {
      // an estimate, since writing thousands of rows down only to count them would take its time
      characters += 200 + change.ops.length * 300;
      if (many > 0 && (characters > MOST_CHARACTERS || many >= MOST_AT_ONCE)) break;
      many++;
    }
    return queue.waiting.slice(0, queue.tries < 0 ? 1 : many);
  }

  private refuse(library: string, queue: Queue, batch: Waiting[], why: string): void {
    if (batch.length > 1) {
      queue.tries = -1;
      return;
    }
    queue.tries = 0;
    this.settle(queue, batch);
    const reason = why || 'The server refused a change without a reason.';
    const recipient = this.recipients.get(library);
    if (recipient)
      recipient.refused(
        batch.map((w) => w.change.id),
        reason,
      );
    else this.say(reason);
  }

  private say(...texts: string[]): void {
    const said = texts.map((text) => ({ key: nanoid(6), text }));
    if (said.length > 0) this.set({ said: [...this.snapshot().said, ...said] });
  }

  readonly dismiss = (key: string): void => {
    this.set({ said: this.snapshot().said.filter((s) => s.key !== key) });
  };

  /** Takes changes out of the queue, and off the shelf when they have got there. */
  private settle(queue: Queue, done: Waiting[]): void {
    const gone = new Set(done);
    queue.waiting = queue.waiting.filter((w) => !gone.has(w));
    this.tell();
    void Promise.all(done.map((w) => w.n)).then((keys) =>
      this.env.shelf.drop('changes', ...keys.filter((n) => n !== null)),
    );
  }

  private pause(queue: Queue, ms: number): Promise<void> {
    return new Promise((resolve) => {
      const timer = setTimeout(done, Math.min(LONGEST_PAUSE_MS, ms));
      function done() {
        clearTimeout(timer);
        queue.wake = null;
        resolve();
      }
      queue.wake = done;
    });
  }
}
