import type { Request, Response } from 'express';
import { log } from '../log.ts';
import { onWake } from '../wake.ts';
import { PRIVATE } from './link.ts';

/** How often the database is looked at for what other servers have written, ms. */
const EVERY_MS = 250;
/** What this server writes is looked at after this, and not more often than so, ms: many who write at once are heard together. */
const SOON_MS = 10;
const LEAST_MS = 80;
/** A proxy takes a connection on which nothing comes for dead. */
const ALIVE_MS = 15_000;

/** An open stream of server-sent events, and what it is about. */
export class Stream<T> {
  private last = Date.now();

  constructor(
    readonly about: T,
    private readonly response: Response,
  ) {}

  send(event: string, data: string): void {
    this.response.write(`event: ${event}\ndata: ${data}\n\n`);
    this.last = Date.now();
  }

  /** Shows whatever stands between that the connection is alive. */
  beat(now: number): void {
    if (now - this.last < ALIVE_MS) return;
    this.response.write(': still here\n\n');
    this.last = now;
  }

  end(event?: string): void {
    this.response.end(event && `event: ${event}\ndata: \n\n`);
  }
}

/**
 * The open streams of one kind. They are looked after together: often, since the database is asked and not this process, as another
 * server may have written; and at once when this one has.
 */
export class Streams<T> {
  private readonly open = new Set<Stream<T>>();
  private timer: NodeJS.Timeout | null = null;
  private soon: NodeJS.Timeout | null = null;
  private stopWaking: (() => void) | null = null;
  private isLooking = false;
  private looked = 0;
  private again = false;

  /** @param look sends to the streams what is new */
  constructor(private readonly look: (open: ReadonlySet<Stream<T>>, now: number) => Promise<void>) {}

  get size(): number {
    return this.open.size;
  }

  /** How many are about something. */
  count(isMeant: (about: T) => boolean): number {
    let n = 0;
    for (const { about } of this.open) if (isMeant(about)) n++;
    return n;
  }

  /** Begins a stream. @param left is done when it has ended */
  begin(request: Request, response: Response, about: T, left: () => void = () => {}): void {
    for (const [name, value] of Object.entries(PRIVATE)) response.setHeader(name, value);
    // nothing that stands between may collect or pack it
    response.setHeader('Cache-Control', 'no-store, no-transform');
    response.setHeader('Content-Type', 'text/event-stream');
    response.setHeader('X-Accel-Buffering', 'no');
    response.flushHeaders();
    response.write('retry: 2000\n\n');
    const stream = new Stream(about, response);
    this.open.add(stream);
    request.socket.setNoDelay(true);
    this.timer ??= setInterval(() => void this.run(), EVERY_MS).unref();
    this.stopWaking ??= onWake(() => this.hurry());
    this.hurry();
    response.on('close', () => {
      this.forget(stream);
      left();
    });
  }

  /** Ends a stream once: what is written behind an end is an error. */
  end(stream: Stream<T>, event: string): void {
    this.forget(stream);
    stream.end(event);
  }

  /** Ends all, so that a server that is to end can. */
  endAll(): void {
    for (const stream of this.open) stream.end();
  }

  private forget(stream: Stream<T>): void {
    this.open.delete(stream);
    if (this.open.size > 0 || !this.timer) return;
    clearInterval(this.timer);
    this.stopWaking?.();
    [this.timer, this.stopWaking] = [null, null];
  }

  private hurry(): void {
    const pause = Math.max(SOON_MS, this.looked + LEAST_MS - Date.now());
    this.soon ??= setTimeout(() => {
      this.soon = null;
      void this.run();
    }, pause).unref();
  }

  private async run(): Promise<void> {
    if (this.isLooking) {
      this.again = true;
      return;
    }
    this.isLooking = true;
    try {
      do {
        this.again = false;
        const now = Date.now();
        this.looked = now;
        await this.look(this.open, now);
        for (const stream of this.open) stream.beat(now);
      } while (this.again);
    } catch (error) {
      // the next look may find it again
      log.warn({ error }, 'What is new could not be looked at');
    } finally {
      this.isLooking = false;
    }
  }
}
