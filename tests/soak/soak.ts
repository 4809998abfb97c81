// npm run soak -- [MINUTES] [SEED]        everything that can go wrong with a server, mixed, on the built application
// npm run soak -- server [MINUTES] [SEED] the same with two Papillon servers on a real libSQL server, over a bad line
// npm run soak -- crowd [MINUTES]        50 people at one library, 10 of them editing; then the same over two servers
// npm run soak -- people [ROUNDS] [SEED] three people edit one library at random; their pages and the database are compared
import { execFileSync, spawnSync } from 'node:child_process';
import { existsSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { createClient } from '@libsql/client';
import { libraryOf } from '../../core/testing.ts';
import { random } from '../fuzz/mutate.ts';
import { Line, SqlServer } from '../libsql/real.ts';
import { Running } from '../server/running.ts';

const kind = ['people', 'server', 'crowd'].includes(process.argv[2]) ? process.argv[2] : 'file';
const [amount, seed = '1'] = process.argv.slice(kind === 'file' ? 2 : 3);
if (kind === 'people') {
  // what a page is made of needs the build's own ways of reading files
  const { status } = spawnSync('npx', ['vitest', 'run', '--project', 'unit', 'tests/soak'], {
    stdio: 'inherit',
    env: { ...process.env, PAPILLON_ROUNDS: amount ?? '2000', PAPILLON_SEED: seed },
  });
  process.exit(status ?? 1);
}
if (kind === 'crowd') {
  const { status } = spawnSync(
    'npx',
    ['vitest', 'run', '--project', 'server', 'tests/server/crowd.test.ts'],
    {
      stdio: 'inherit',
      env: { ...process.env, PAPILLON_MINUTES: amount ?? '2' },
    },
  );
  process.exit(status ?? 1);
}
if (!existsSync('build/server/index.js')) throw new Error('Run npm run build first.');
const end = Date.now() + Number(amount ?? '5') * 60_000;
const next = random(Number(seed));
const chance = (p: number) => next() < p;
const wait = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms));
/** Of the disk, where one may be made. */
const MEGABYTES = 24;
const LOSSES = ['request', 'reply', 'half a reply'] as const;

const disk = mkdtempSync(join(tmpdir(), 'papillon-soak-'));
let small = true;
try {
  execFileSync('mount', ['-t', 'tmpfs', '-o', `size=${MEGABYTES}m`, 'tmpfs', disk], { stdio: 'ignore' });
} catch {
  small = false;
}
const database = kind === 'server' ? await SqlServer.start(disk) : null;
const line = database && (await Line.to(database.url));
const env = { DATABASE_URL: line?.url ?? `file:${disk}/papillon.db` };
// the first one makes the tables
const servers = [await Running.start(env)];
if (kind === 'server') servers.push(await Running.start(env));
const [server] = servers;
const oneOf = <T>(of: readonly T[]): T => of[Math.floor(next() * of.length)];
if (line) line.lose = () => (chance(0.02) ? oneOf(LOSSES) : null);
const counts: Record<string, number> = {};
const count = (what: string) => {
  counts[what] = (counts[what] ?? 0) + 1;
};

interface Sent {
  id: string;
  by: string;
  label: string;
  ops: object[];
}
const id = await (await server.post('/libraries', libraryOf('Soak', { Deck: [['Teak', '#6d4a2c']] }))).text();
const confirmed = new Set<string>();
let n = 0;

/** Edits one after the other, and asks again under the same id until each is done, as a page does. */
async function editor(by: string): Promise<void> {
  while (Date.now() < end) {
    const at = n++;
    const sent: Sent = {
      id: `soak-${by}-${at}`,
      by,
      label: 'edit',
      ops: [
        chance(0.3)
          ? {
              op: 'set',
              of: 'library',
              id,
              fields: { name: `by ${by}, ${at}`, note: 'x'.repeat(Math.floor(next() * 3000)) },
            }
          : {
              op: 'put',
              of: 'group',
              id: `g-${by}-${at % 50}`,
              fields: { name: `Group ${at}`, order: 'a1' },
            },
      ],
    };
    for (let _tries = 0; ; _tries++) {
      if (Date.now() > end + 60_000)
        throw new Error(`${sent.id} was not done within a minute after the end.`);
      const response = await oneOf(servers)
        .post(`/libraries/${id}/changes`, { by, seen: 0, changes: [sent] })
        .catch(() => null);
      count(response ? `edit ${response.status}` : 'edit unanswered');
      if (response?.status === 200) {
        const { outcomes } = await response.json().catch(() => ({ outcomes: null }));
        if (!outcomes) continue;
        if (outcomes[0].seq !== null) confirmed.add(sent.id);
        break;
      }
      if (response && response.status < 500)
        throw new Error(`${sent.id}: ${response.status} ${await response.text()}`);
      await wait(30 + next() * 200);
    }
    // the same once more
    if (chance(0.05))
      await oneOf(servers)
        .post(`/libraries/${id}/changes`, { by, seen: 0, changes: [sent] })
        .catch(() => null);
    if (chance(0.02)) await wait(next() * 300);
  }
}

const headers = { 'Content-Type': 'application/json' };
const refused: [what: string, expected: number, ask: () => Promise<Response>][] = [
  [
    'foreign origin',
    403,
    () => server.post('/libraries', libraryOf('Planted', {}), { Origin: 'http://evil.example' }),
  ],
  [
    'form',
    415,
    () =>
      fetch(`${server.url}/presets`, {
        method: 'POST',
        headers: { 'Content-Type': 'text/plain' },
        body: '{}',
      }),
  ],
  ['oversized body', 413, () => server.post('/presets', `[${' '.repeat(3_000_000)}]`)],
  ['deep body', 400, () => server.post('/libraries', '['.repeat(500))],
  [
    'broken body',
    400,
    () => fetch(`${server.url}/libraries/${id}/changes`, { method: 'POST', headers, body: '{"by":' }),
  ],
  ['nothing there', 404, () => fetch(`${server.url}/libraries/none/rows`)],
];

async function stranger(): Promise<void> {
  while (Date.now() < end) {
    await wait(20 + next() * 200);
    if (chance(0.2)) {
      const host = await server
        .raw({ path: '/libraries', headers: { Host: 'evil.example' } })
        .catch(() => null);
      if (host && host.status !== 421) throw new Error(`A strange host was answered with ${host.status}.`);
      count('rebound host');
      continue;
    }
    const [what, expected, ask] = oneOf(refused);
    const response = await ask().catch(() => null);
    count(what);
    if (response && response.status !== expected && response.status !== 503)
      throw new Error(`${what} was answered with ${response.status}, not ${expected}.`);
  }
}

async function reader(): Promise<void> {
  while (Date.now() < end) {
    await wait(next() * 150);
    const path = oneOf([
      '/',
      `/libraries/${id}/rows`,
      `/libraries/${id}/arrange`,
      `/libraries/${id}/changes/history`,
    ]);
    const response = await fetch(oneOf(servers).url + path).catch(() => null);
    const text = await response?.text().catch(() => null);
    count(response ? `read ${response.status}` : 'read unanswered');
    if (response && response.status >= 500 && response.status !== 503)
      throw new Error(`${path}: ${response.status} ${text}`);
  }
}

/** Kills a server or the database, holds the database, fills its disk. */
async function trouble(): Promise<void> {
  while (Date.now() < end) {
    await wait(500 + next() * 3000);
    const what = next();
    if (what < 0.5) {
      count('kill -9');
      await oneOf(servers).start(env);
    } else if (what < 0.65 && database) {
      count('kill -9 of the database');
      await database.kill();
      await wait(next() * 1000);
      await database.start();
    } else if (what < 0.8) {
      count('foreign lock');
      const client = createClient({ url: env.DATABASE_URL });
      try {
        const transaction = await client.transaction('write');
        await wait(next() * 2500);
        await transaction.rollback();
      } catch {
        // it was taken just then
      }
      client.close();
    } else if (small) {
      count('full disk');
      const used = Number(execFileSync('du', ['-sm', disk]).toString().split('\t')[0]);
      execFileSync('mount', ['-o', `remount,size=${Math.max(1, used)}m`, disk]);
      await wait(next() * 2000);
      execFileSync('mount', ['-o', `remount,size=${MEGABYTES + used}m`, disk]);
    }
  }
}

try {
  await Promise.all([editor('one'), editor('two'), editor('three'), stranger(), reader(), trouble()]);
  if (line) line.lose = () => null;
  await server.start(env);
  const times = await server.timesDone(id);
  const lost = [...confirmed].filter((c) => !times.has(c));
  const twice = [...times].filter(([, many]) => many > 1);
  const planted = ((await (await fetch(`${server.url}/libraries`)).json()) as { name: string }[]).filter(
    (l) => l.name === 'Planted',
  );
  console.log(JSON.stringify(counts, null, 1));
  console.log(
    `${confirmed.size} edits confirmed, ${lost.length} of them lost, ${twice.length} done twice, ${planted.length} planted by others.`,
  );
  process.exitCode = lost.length + twice.length + planted.length > 0 ? 1 : 0;
} finally {
  for (const one of servers) await one.stop();
  await line?.close();
  await database?.kill();
  if (small) execFileSync('umount', ['-l', disk]);
  rmSync(disk, { recursive: true, force: true });
}
