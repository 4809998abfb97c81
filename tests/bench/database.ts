import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { libraryOf } from '../../core/testing.ts';
import { applyChanges, newsOf } from '../../server/changes.ts';
import { closeDatabase, write } from '../../server/db.ts';
import { createLibrary, listHome, streamLibrary } from '../../server/libraries.ts';
import { openDatabase } from '../../server/open.ts';
import { Line, SqlServer } from '../libsql/real.ts';
import { Running } from '../server/running.ts';

// npm run bench -- database: requests to a real libSQL server and what they take over a line of 30 ms, beside the same statements one after
// the other in a transaction; 100,000 swatches opened from afar and from a replica; edits a second with 1, 2 and 4 Papillon servers on it.

const DELAY_MS = 30;
const SECONDS = 5;
const PEOPLE = 50;
/** Statements of one edit when each is sent by itself, as in the versions before. */
const STATEMENTS = 12;
const LARGE = 100_000;
const OPENINGS = 4;

const library = (swatches: number) =>
  libraryOf('Bench', {
    Hull: Array.from({ length: swatches }, (_, i): [string, string] => [
      `Rope ${i}`,
      `#${(i * 7919).toString(16).padStart(6, '0').slice(-6)}`,
    ]),
  });
let n = 0;
const rename = (id: string) => ({
  by: 'bench',
  seen: 0,
  changes: [
    {
      id: `bench-change-${n++}`,
      by: 'bench',
      label: 'rename',
      ops: [{ op: 'set' as const, of: 'library' as const, id, fields: { name: `Name ${n}` } }],
    },
  ],
});
const wait = (ms: number) => new Promise((done) => setTimeout(done, ms));

async function roundTrips(url: string): Promise<void> {
  const line = await Line.to(url);
  const db = await openDatabase(line.url);
  line.delayMs = DELAY_MS;
  const measured = async (what: string, run: () => Promise<unknown>) => {
    line.count = 0;
    const start = performance.now();
    await run();
    const took = performance.now() - start;
    // what follows an answer is counted, too
    await wait(DELAY_MS * 3);
    console.log(
      `${what.padEnd(46)} ${String(line.count).padStart(3)} requests ${took.toFixed(0).padStart(6)} ms`,
    );
  };
  let id = '';
  await measured('a new library of 1,000 swatches', async () => {
    id = await createLibrary(db, library(1000));
  });
  await measured('an edit', () => applyChanges(db, id, rename(id)));
  await measured(`an edit, ${STATEMENTS} statements one after the other`, () =>
    write(db, async (tx) => {
      for (let i = 0; i < STATEMENTS; i++) await tx.$client.execute('SELECT seq FROM libraries LIMIT 1');
    }),
  );
  await measured('a poll', () => newsOf(db, id, 1, 'bench'));
  await measured('the rows of a library', async () =>
    new Response(await streamLibrary(db, id, 'bench')).text(),
  );
  await measured('the home, for the first time', () => listHome(db));
  await measured('the home', () => listHome(db));
  closeDatabase(db);
  await line.close();
}

/** Edits a second of a number of people, on libraries of their own or all on one, over this many servers. */
async function editsPerSecond(url: string, servers: number, people: number, together: boolean) {
  const running = await Promise.all(
    Array.from({ length: servers }, () => Running.start({ DATABASE_URL: url })),
  );
  const times: number[] = [];
  try {
    const ids: string[] = [];
    for (let i = 0; i < (together ? 1 : people); i++)
      ids.push(await (await running[0]!.post('/libraries', library(200))).text());
    const end = Date.now() + SECONDS * 1000;
    await Promise.all(
      Array.from({ length: people }, async (_, i) => {
        const id = ids[i % ids.length]!;
        while (Date.now() < end) {
          const start = performance.now();
          const response = await running[i % servers]!.post(`/libraries/${id}/changes`, rename(id));
          await response.text();
          if (response.ok) times.push(performance.now() - start);
        }
      }),
    );
  } finally {
    for (const server of running) await server.stop();
  }
  times.sort((a, b) => a - b);
  const at = (share: number) => times[Math.floor(times.length * share)]?.toFixed(0) ?? '–';
  console.log(
    `${servers} server${servers === 1 ? ' ' : 's'}, ${String(people).padStart(2)} people on ${together ? 'one library      ' : 'libraries of own '} ${(times.length / SECONDS).toFixed(0).padStart(5)} edits/s, median ${at(0.5)} ms, 95 % ${at(0.95)} ms`,
  );
}

/** Opens a large library through a server that asks afar, and through one with a replica beside it. */
async function openings(url: string): Promise<void> {
  const line = await Line.to(url);
  const folder = mkdtempSync(join(tmpdir(), 'papillon-bench-'));
  try {
    const from: [string, Record<string, string>][] = [
      ['from afar', {}],
      ['from a replica', { DATABASE_REPLICA: join(folder, 'replica.db') }],
    ];
    const db = await openDatabase(url);
    const id = await createLibrary(db, library(LARGE));
    closeDatabase(db);
    for (const [where, env] of from) {
      line.delayMs = 0;
      const running = await Running.start({ DATABASE_URL: line.url, ...env });
      try {
        line.delayMs = DELAY_MS;
        line.count = 0;
        const times: number[] = [];
        for (let i = 0; i < OPENINGS; i++) {
          const start = performance.now();
          const text = await (await fetch(`${running.url}/libraries/${id}/rows`)).text();
          times.push(performance.now() - start);
          if (text.length < LARGE * 20) throw new Error(`Only ${text.length} characters came.`);
        }
        console.log(
          `${LARGE} swatches opened ${where.padEnd(15)} ${times.map((t) => t.toFixed(0)).join(', ')} ms, ${(line.count / OPENINGS).toFixed(1)} requests each`,
        );
      } finally {
        await running.stop();
      }
    }
  } finally {
    await line.close();
    rmSync(folder, { recursive: true });
  }
}

export async function benchDatabase(): Promise<void> {
  const server = await SqlServer.start();
  if (!server) return;
  try {
    await roundTrips(server.url);
    await openings(server.url);
    for (const servers of [1, 2, 4]) await editsPerSecond(server.url, servers, 8, false);
    for (const servers of [1, 4]) await editsPerSecond(server.url, servers, PEOPLE, true);
  } finally {
    await server.stop();
  }
}
