import { Readable } from 'node:stream';
import type { ReadableStream } from 'node:stream/web';
import { IDBFactory } from 'fake-indexeddb';
import 'fake-indexeddb/auto';
import { Colors } from '~/colors/colors';
import type { LibraryStore } from '~/state/library-store';
import { Shelf } from '~/state/shelf';
import { Stores } from '~/state/stores';
import { type Swatch, setFields } from '../../core/swatch/index.ts';
import { engine, libraryOf } from '../../core/testing.ts';
import { random } from '../fuzz/mutate.ts';
import { Running } from './running.ts';

// Many people at one library, as scripts: the stores of the pages, the running server between them, and a connection that loses
// requests and replies.

export interface Crowd {
  people: number;
  /** Those who edit, each so often a second. */
  editors: number;
  editsPerSecond: number;
  seconds: number;
  /** The part of requests that are lost, before or after they are answered. */
  lost: number;
  /** One database for all servers; a file of the first where it is missing. */
  databaseUrl?: string;
  servers: number;
  seed: number;
}

export interface CrowdResult {
  edits: number;
  /** From an edit to when another page shows it, ms; the median and the 95th percentile of all. */
  median: number;
  p95: number;
  /** Pages that are not as the database is, at rest. */
  different: string[];
  /** Edits in the history that are there more than once, or not at all. */
  doubled: number;
  missing: number;
  /** Resident memory of the servers after a quarter of the time, and at its end, MB. */
  memory: [early: number, late: number];
}

const wait = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms));

export async function crowd(asked: Crowd): Promise<CrowdResult> {
  // the stores keep what they have not sent where a browser would
  globalThis.indexedDB = new IDBFactory();
  const next = random(asked.seed);
  const env = asked.databaseUrl ? { DATABASE_URL: asked.databaseUrl } : {};
  const servers = [await Running.start(env)];
  for (let i = 1; i < asked.servers; i++)
    servers.push(
      await Running.start({ ...env, DATABASE_URL: asked.databaseUrl ?? `file:${servers[0]!.database}` }),
    );
  const all = Array.from(
    { length: Math.max(asked.editors, 12) },
    (_, i) => [`s${i}`, '#6d4a2c'] as [string, string],
  );
  const id = await (await servers[0]!.post('/libraries', libraryOf('Crowd', { All: all }))).text();
  const delays: number[] = [];
  const written = new Map<string, number>();
  const stops: (() => void)[] = [];
  let isLossy = true;
  const pages = Array.from({ length: asked.people }, (_, i) => {
    const { url } = servers[i % servers.length]!;
    const line: typeof fetch = async (input, init) => {
      const fate = isLossy ? next() : 1;
      if (fate < asked.lost / 2) throw new TypeError('the request was lost');
      const response = await fetch(new URL(String(input), url), init);
      if (fate < asked.lost) {
        await response.body?.cancel();
        throw new TypeError('the reply was lost');
      }
      return response;
    };
    const by = `person-${String(i).padStart(4, '0')}`;
    const stores = new Stores({
      colors: new Colors(undefined, engine),
      fetch: line,
      shelf: new Shelf(`crowd-${by}`),
      by,
    });
    const store = stores.library(id);
    stops.push(store.open());
    // what a browser's own event source does
    const stop = new AbortController();
    stops.push(() => stop.abort());
    void listen(store, `${url}/libraries/${id}/events?page=page-of-${by}&by=${by}`, stop.signal);
    const shown = new Map<string, string>();
    stops.push(
      store.subscribe(() => {
        for (const s of store.snapshot().library.groups[0]?.swatches ?? []) {
          if (shown.get(s.id) === s.name) continue;
          shown.set(s.id, s.name);
          const at = written.get(s.name);
          if (at !== undefined && !s.name.startsWith(`${by} `)) delays.push(performance.now() - at);
        }
      }),
    );
    return { by, store, stores };
  });
  while (pages.some((p) => !p.store.snapshot().whole)) await wait(50);
  const memoryOf = () => servers.reduce((sum, s) => sum + s.residentMegabytes(), 0);
  const end = Date.now() + asked.seconds * 1000;
  let early = 0;
  setTimeout(() => (early = memoryOf()), asked.seconds * 250);
  let edits = 0;
  await Promise.all(
    pages.slice(0, asked.editors).map(async ({ by, store }, i) => {
      while (Date.now() < end) {
        const own = store.snapshot().library.groups[0]!.swatches[i] as Swatch;
        const name = `${by} ${++edits}`;
        written.set(name, performance.now());
        store.edit(setFields([own.id], { name }));
        await wait((1000 / asked.editsPerSecond) * (0.5 + next()));
      }
    }),
  );
  const late = memoryOf();
  isLossy = false;
  for (let tries = 0; tries < 300; tries++) {
    for (const { stores } of pages) stores.outbox.wake();
    if (pages.every((p) => p.stores.outbox.snapshot().waiting === 0)) break;
    await wait(100);
  }
  const { library, revision } = (await (
    await fetch(`${servers[0]!.url}/libraries/${id}/changes`)
  ).json()) as {
    library: object;
    revision: number;
  };
  for (let tries = 0; tries < 100 && pages.some((p) => p.store.seen() < revision); tries++) await wait(100);
  const kept = JSON.stringify(library);
  const different = pages.filter((p) => JSON.stringify(p.store.snapshot().library) !== kept).map((p) => p.by);
  const times = await servers[0]!.timesDone(id);
  for (const stop of stops) stop();
  for (const server of servers) await server.stop();
  delays.sort((a, b) => a - b);
  return {
    edits,
    median: delays[Math.floor(delays.length / 2)] ?? Number.NaN,
    p95: delays[Math.floor(delays.length * 0.95)] ?? Number.NaN,
    different,
    doubled: [...times.values()].filter((n) => n > 1).length,
    missing: edits - times.size,
    memory: [Math.round(early), Math.round(late)],
  };
}

async function listen(store: LibraryStore, url: string, signal: AbortSignal): Promise<void> {
  while (!signal.aborted)
    try {
      const response = await fetch(url, { signal });
      const decoder = new TextDecoder();
      let text = '';
      for await (const bytes of Readable.fromWeb(response.body as ReadableStream)) {
        text += decoder.decode(bytes, { stream: true });
        for (let at = text.indexOf('\n\n'); at >= 0; at = text.indexOf('\n\n')) {
          const [, event, data] = /^event: (\w+)\ndata: (.*)$/s.exec(text.slice(0, at)) ?? [];
          text = text.slice(at + 2);
          if (event === 'news') await store.heard(data!);
          if (event === 'seq' && Number(data) > store.seen()) await store.look(true);
        }
      }
    } catch {
      await wait(200);
    }
}
