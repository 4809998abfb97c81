import { nanoid } from 'nanoid';
import type { Present } from '#server/present';
import { addressOf, call } from '~/api/call';
import { pointAt } from '~/api/people';

/** The selection is sent when the hand has rested this long, ms. */
const POINT_MS = 250;
/** A server that gives no events is tried again after this, ms. */
const AGAIN_MS = 10_000;
/** More selected things are not sent. */
const MAX_SELECTED = 200;

interface Hears {
  /** The number of the library's last change. */
  changed(seq: number): void;
  /** What others have done, from a server that has checked nothing of it for this page. */
  news(text: string): void;
  people(others: Present[]): void;
  /** The library is deleted, or this page may not see it any more. */
  gone(): void;
}

/**
 * What the server says of a library as it happens, and what this page says of itself. A page that nobody sees holds no connection: a
 * browser has few of them.
 */
export class Live {
  /** By which others know this page. */
  readonly page = nanoid(12);
  private events: EventSource | null = null;
  private again: ReturnType<typeof setTimeout> | null = null;
  private pointing: ReturnType<typeof setTimeout> | null = null;
  private selection: string[] = [];
  private told = '[]';
  private isOn = false;

  constructor(
    private readonly library: string,
    private readonly by: string,
    private readonly hears: Hears,
  ) {}

  /** Whether changes are heard as they happen. */
  get isHearing(): boolean {
    return this.events?.readyState === EventSource.OPEN;
  }

  start(): void {
    this.isOn = true;
    document.addEventListener('visibilitychange', this.onVisible);
    this.onVisible();
  }

  stop(): void {
    this.isOn = false;
    document.removeEventListener('visibilitychange', this.onVisible);
    this.close();
  }

  /** Says what is selected here. */
  point(ids: Iterable<string>): void {
    this.selection = [...ids].slice(0, MAX_SELECTED);
    this.pointing ??= setTimeout(() => {
      this.pointing = null;
      void this.tell();
    }, POINT_MS);
  }

  private async tell(): Promise<void> {
    const now = JSON.stringify(this.selection);
    if (!this.isHearing || now === this.told) return;
    this.told = now;
    const { page, selection } = this;
    const came = await call(pointAt, { params: { id: this.library }, body: { page, selection } });
    // the next selection is sent in any case
    if (!came.ok) this.told = '';
  }

  private readonly onVisible = () => {
    if (document.visibilityState === 'hidden') this.close();
    else if (this.isOn && !this.events) this.connect();
  };

  private connect(): void {
    const events = new EventSource(
      `${addressOf({ path: '/libraries/:id/events' }, { id: this.library }, { page: this.page, by: this.by })}`,
    );
    this.events = events;
    events.onopen = () => {
      // a server that has begun again knows nothing of this page
      this.told = '[]';
      void this.tell();
    };
    events.onerror = () => {
      if (events.readyState !== EventSource.CLOSED) return;
      this.close();
      this.again = setTimeout(this.onVisible, AGAIN_MS);
    };
    events.addEventListener('seq', (e) => this.hears.changed(Number((e as MessageEvent<string>).data)));
    events.addEventListener('news', (e) => this.hears.news((e as MessageEvent<string>).data));
    events.addEventListener('people', (e) =>
      this.hears.people(JSON.parse((e as MessageEvent<string>).data) as Present[]),
    );
    events.addEventListener('gone', () => {
      this.close();
      this.hears.gone();
    });
  }

  private close(): void {
    this.events?.close();
    this.events = null;
    if (this.again) clearTimeout(this.again);
    this.again = null;
    this.hears.people([]);
  }
}
