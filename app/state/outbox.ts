import { nanoid } from 'nanoid';
import {
  type Change,
  DATABASE_HEADER,
  type Fields,
  type Reply,
  type RowReader,
  same,
} from '#core/swatch/index';
import { addressOf, whyNot } from '~/api/call';
import { sendChanges } from '~/api/libraries';
import type { Colors } from '~/colors/colors';
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

/** Changes that were made for other data than the server has now. */
export interface Stranded {
  library: string;
  epoch: string;
  /** What the library was called when it was last known. */
  name: string;
  changes: number;
}

export interface OutboxState {
  /** Changes that are on their way, of all libraries. */
  waiting: number;
  /** Changes that wait for data which the server does not have now. */
  stranded: readonly Stranded[];
  /** Some change is in this page only: the browser has no room to keep it through a reload. */
  unkept: boolean;
  /** Why nothing can be saved just now; it is tried again by itself. */
  away: string | null;
  /** What has to be told of libraries that no one looks at. */
  said: readonly { key: string; text: string }[];
}

/** Whoever shows a library hears what became of its changes. */
export interface Recipient {
  readonly id: string;
  /** Of the database that is known here; empty before any is. */
  readonly epoch: string;
  readonly rows: Pick<RowReader, 'get'>;
  /** The last change that is known here. */
  seen(): number;
  confirmed(reply: Reply): void;
  /** Changes that will never be done, and why. */
  refused(ids: string[], why: string): void;
  /** The library is deleted: its changes wait until it is brought back. */
  deleted(why: string): void;
  /** The changes wait for other data than the server has. */
  stranded(): void;
}

/** A change on its way, and what it was made on. */
export interface Outgoing {
  library: string;
  seen: number;
  epoch: string;
  name: string;
  change: Change;
  /** The rows it changes, as they are with it: enough to keep them without the library. */
  rows?: Record<string, Fields>;
}

interface Waiting {
  n: Promise<number | null>;
  /** Set when the browser could not keep it. */
  unkept?: boolean;
  seen: number;
  change: Change;
  rows: Record<string, Fields> | undefined;
}

/** What waits of one library, made for one database. */
interface Queue {
  readonly library: string;
  readonly epoch: string;
  name: string;
  waiting: Waiting[];
  sending: boolean;
  /** The server has other data than these were made for. */
  stranded: boolean;
  /** The library as it was last known, for what is to be kept of the changes without it. */
  rows: Pick<RowReader, 'get'> | null;
  /** Wakes it from a pause. */
  wake: (() => void) | null;
  tries: number;
}

/** What is wrong with the change itself, where the database that it was made for says so; all else, such as a full disk, passes. */
const REFUSALS = new Set([400, 404, 409, 413, 415, 422]);
/** The server has other data than the change was made for. */
const OTHER_DATABASE = 412;
const MAX_AT_ONCE = 50;
const MAX_CHARACTERS = 400_000;
const FIRST_PAUSE_MS = 500;
const MAX_PAUSE_MS = 15_000;
const REPLY_MS = 20_000;
/** A body so small may outlive the page; browsers allow it up to 64 KB in all. */
const KEEPALIVE_CHARACTERS = 20_000;

/**
 * Changes on their way to the server: each is kept in this browser until it is confirmed, sent in its order, and sent again
 * under the same id when no reply comes, so that it is done once. It goes on where an earlier page was stopped. Only the database
 * that a change was made for can end it: what any other server says of it leaves it where it is.
 */
export class Outbox extends Store<OutboxState> {
  private readonly queues = new Map<string, Queue>();
  private readonly recipients = new Map<string, Recipient>();
  private loaded: Promise<void> | null = null;

  constructor(private readonly env: Surroundings) {
    super({ waiting: 0, stranded: [], unkept: false, away: null, said: [] });
  }

  /** Takes up what earlier pages could not send. */
  load(): Promise<void> {
    this.loaded ??= this.env.shelf.all('changes').then((left) => {
      const known = new Set([...this.queues.values()].flatMap((q) => q.waiting.map((w) => w.change.id)));
      for (const { n, library, seen, epoch = '', name = '', change, rows } of left) {
        if (known.has(change.id)) continue;
        const { waiting } = this.queue(library, epoch, name);
        // before what has been made since the page was opened
        const at = waiting.findIndex((w) => !left.some((l) => l.change.id === w.change.id));
        waiting.splice(at < 0 ? waiting.length : at, 0, { n: Promise.resolve(n), seen, change, rows });
      }
      this.tell();
      for (const queue of this.queues.values()) void this.send(queue);
    });
    return this.loaded;
  }

  /** Changes of a library that wait, in their order; with a database given, those that can lie over its data. */
  waitingFor(library: string, epoch?: string): Change[] {
    return [...this.queues.values()]
      .filter((q) => q.library === library && (epoch === undefined || q.epoch === '' || q.epoch === epoch))
      .flatMap((q) => q.waiting.map((w) => w.change));
  }

  /** Whether changes of a library are on their way, which bring what has happened to it themselves. */
  isSending(library: string, epoch: string): boolean {
    const queue = this.queues.get(keyOf(library, epoch));
    return queue !== undefined && queue.waiting.length > 0 && !queue.stranded;
  }

  /** Says who is to hear of a library; gives back what ends it. */
  register(recipient: Recipient): () => void {
    this.recipients.set(recipient.id, recipient);
    return () => {
      if (this.recipients.get(recipient.id) === recipient) this.recipients.delete(recipient.id);
    };
  }

  /** Puts a change on its way. */
  add({ library, seen, epoch, name, change, rows }: Outgoing): void {
    const queue = this.queue(library, epoch, name);
    const n = this.env.shelf.queue({ library, seen, epoch, name, change, ...(rows ? { rows } : {}) });
    const one: Waiting = { n, seen, change, rows };
    queue.waiting.push(one);
    void n.then((key) => {
      one.unkept = key === null;
      if (one.unkept) this.tell();
    });
    this.tell();
    void this.send(queue);
  }

  /** Keeps how a library was, before other data take its place in the page, for what waits for the earlier ones. */
  remember(library: string, epoch: string, rows: Pick<RowReader, 'get'>): void {
    const queue = this.queues.get(keyOf(library, epoch));
    if (queue && queue.waiting.length > 0) queue.rows = rows;
  }

  /** What is stranded of a library, and how the library was, where that is known. */
  strandedChanges({ library, epoch }: Pick<Stranded, 'library' | 'epoch'>): {
    changes: Change[];
    rows: Pick<RowReader, 'get'> | null;
  } {
    const queue = this.queues.get(keyOf(library, epoch));
    if (!queue) return { changes: [], rows: null };
    const recipient = this.recipients.get(library);
    const whole = queue.rows ?? (recipient?.epoch === epoch ? recipient.rows : null);
    // what an earlier page has kept with its changes
    const kept = Object.assign({}, ...queue.waiting.map((w) => w.rows ?? {})) as Record<string, Fields>;
    return {
      changes: queue.waiting.map((w) => w.change),
      rows: { get: (of, id) => whole?.get(of, id) ?? kept[`${of} ${id}`] ?? null },
    };
  }

  /** Lets go of changes that are stranded, on the user's word. */
  discard({ library, epoch }: Pick<Stranded, 'library' | 'epoch'>): void {
    const queue = this.queues.get(keyOf(library, epoch));
    if (!queue?.stranded) return;
    this.settle(queue, queue.waiting);
    queue.stranded = false;
    this.tell();
    queue.wake?.();
  }

  /** Tries at once what waits for the server. */
  readonly wake = (): void => {
    for (const queue of this.queues.values()) queue.wake?.();
  };

  private queue(library: string, epoch: string, name: string): Queue {
    const key = keyOf(library, epoch);
    const known = this.queues.get(key);
    if (known) {
      if (name) known.name = name;
      return known;
    }
    const queue: Queue = {
      ...{ library, epoch, name, rows: null, wake: null },
      ...{ waiting: [], sending: false, stranded: false, tries: 0 },
    };
    this.queues.set(key, queue);
    return queue;
  }

  private tell(): void {
    let waiting = 0;
    let unkept = false;
    const stranded: Stranded[] = [];
    for (const queue of this.queues.values()) {
      unkept ||= queue.waiting.some((w) => w.unkept);
      const { library, epoch, name } = queue;
      const changes = queue.waiting.length;
      if (!queue.stranded) waiting += changes;
      else if (changes > 0) stranded.push({ library, epoch, name, changes });
    }
    this.set({ waiting, unkept, ...(same(stranded, this.snapshot().stranded) ? {} : { stranded }) });
  }

  private async send(queue: Queue): Promise<void> {
    if (queue.sending) return;
    queue.sending = true;
    try {
      while (queue.waiting.length > 0) await this.sendSome(queue);
    } finally {
      queue.sending = false;
    }
  }

  private async sendSome(queue: Queue): Promise<void> {
    const { library, epoch } = queue;
    const batch = this.batch(queue);
    const recipient = this.recipients.get(library);
    const body = JSON.stringify({
      by: this.env.by,
      // numbers of another database mean nothing
      seen: recipient && recipient.epoch === epoch ? recipient.seen() : batch[0]!.seen,
      ...(epoch ? { epoch } : {}),
      changes: batch.map((w) => w.change),
    });
    const signal = AbortSignal.timeout(Math.round(REPLY_MS + body.length / 100));
    let response: Response;
    let reply: Reply;
    let why = 'The server does not answer.';
    try {
      response = await this.env.fetch(addressOf(sendChanges, { id: library }), {
        method: sendChanges.method,
        headers: { 'Content-Type': 'application/json' },
        body,
        keepalive: body.length < KEEPALIVE_CHARACTERS,
        signal,
      });
      const from = response.headers.get(DATABASE_HEADER);
      const other = response.status === OTHER_DATABASE || (from !== null && from !== epoch);
      if (!response.ok && from !== null && other) {
        this.strand(queue);
        await this.pause(queue, MAX_PAUSE_MS);
        return;
      }
      if (response.status === 410 && from !== null) {
        this.recipients.get(library)?.deleted(await response.text());
        await this.pause(queue, MAX_PAUSE_MS);
        return;
      }
      if (REFUSALS.has(response.status) && from !== null) {
        this.refuse(queue, batch, await response.text());
        return;
      }
      if (!response.ok) {
        why = await whyNot(response);
        throw new Error(why);
      }
      const { checkReply } = await import('#core/swatch/checks');
      reply = checkReply(await response.json());
    } catch {
      // whether it was done is not known: the same ids again will tell
      queue.tries = Math.max(0, queue.tries) + 1;
      this.set({ away: why });
      await this.pause(queue, FIRST_PAUSE_MS * 2 ** (queue.tries - 1));
      return;
    }
    queue.tries = 0;
    queue.stranded = false;
    this.set({ away: null });
    const answered = new Set(reply.outcomes.map((o) => o.id));
    this.settle(
      queue,
      batch.filter((w) => answered.has(w.change.id)),
    );
    const hears = this.recipients.get(library);
    if (hears) hears.confirmed(reply);
    else for (const { said } of reply.outcomes) this.say(...said);
  }

  private strand(queue: Queue): void {
    queue.tries = 0;
    this.set({ away: null });
    if (queue.stranded) return;
    queue.stranded = true;
    this.tell();
    this.recipients.get(queue.library)?.stranded();
  }

  /** As many as go well into one request; a single one after a refusal, to know which it was. */
  private batch(queue: Queue): Waiting[] {
    let characters = 0;
    let many = 0;
    for (const { change } of queue.waiting) {
      // an estimate, since writing thousands of rows down only to count them would take its time
      characters += 200 + change.ops.length * 300;
      if (many > 0 && (characters > MAX_CHARACTERS || many >= MAX_AT_ONCE)) break;
      many++;
    }
    return queue.waiting.slice(0, queue.tries < 0 ? 1 : many);
  }

  private refuse(queue: Queue, batch: Waiting[], why: string): void {
    if (batch.length > 1) {
      queue.tries = -1;
      return;
    }
    queue.tries = 0;
    this.settle(queue, batch);
    const reason = why || 'The server refused a change without a reason.';
    const recipient = this.recipients.get(queue.library);
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
      const timer = setTimeout(done, Math.min(MAX_PAUSE_MS, ms));
      function done() {
        clearTimeout(timer);
        queue.wake = null;
        resolve();
      }
      queue.wake = done;
    });
  }
}

const keyOf = (library: string, epoch: string) => `${epoch} ${library}`;
