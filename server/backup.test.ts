import { execFile, spawn } from 'node:child_process';
import { createHash } from 'node:crypto';
import {
  copyFileSync,
  existsSync,
  mkdtempSync,
  readdirSync,
  readFileSync,
  rmSync,
  statSync,
  writeFileSync,
} from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { promisify } from 'node:util';
import { gunzipSync } from 'node:zlib';
import { createClient } from '@libsql/client';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { fromRgb8 } from '../core/color/index.ts';
import type { Library, Swatch } from '../core/swatch/index.ts';
import { readArtworkBytes } from './artworks.ts';
import { backUpDaily, dayOf, listBackups, outdated } from './backup.ts';
import { copyDatabase } from './copy.ts';
import { closeDatabase, type Db } from './db.ts';
import { createLibrary, listLibraries, readLibrary } from './libraries.ts';
import { openDatabase } from './open.ts';

const folder = mkdtempSync(join(tmpdir(), 'papillon-backup-'));
afterAll(() => rmSync(folder, { recursive: true }));
const file = join(folder, 'papillon.db');
const path = (name: string) => join(folder, name);
let db: Db;
const swatch = (i: number): Swatch => ({
  id: `s${i}`,
  name: `Rope ${i}`,
  kind: 'spot',
  color: fromRgb8(i % 256, 2, 3),
});
const ropes = (name: string, n = 900): Library => ({
  id: 'x',
  name,
  groups: [{ id: 'g', name: 'Hull', swatches: Array.from({ length: n }, (_, i) => swatch(i)) }],
});
/** The command as a user would run it. */
const run = async (...args: string[]) => {
  const env = { ...process.env, DATABASE_URL: `file:${file}` };
  try {
    const { stdout } = await promisify(execFile)(process.execPath, ['scripts/command.mjs', 'data', ...args], {
      env,
    });
    return { code: 0, text: stdout };
  } catch (error) {
    const { code, stderr } = error as { code: number; stderr: string };
    return { code, text: stderr };
  }
};
const hash = (name: string) =>
  createHash('sha256')
    .update(readFileSync(path(name)))
    .digest('hex');
const names = async () => (await listLibraries(db)).map((l) => l.name).sort();

beforeAll(async () => {
  db = await openDatabase(`file:${file}`);
  await createLibrary(db, ropes('Before'));
  expect((await run('backup', path('good.db'))).code).toBe(0);
  await createLibrary(db, ropes('After', 5));
});

describe('a file that cannot be proved to be a sound backup replaces nothing, and stays as it is', () => {
  const changed = async (name: string, statement: string) => {
    writeFileSync(path(name), readFileSync(path('good.db')));
    const client = createClient({ url: `file:${path(name)}` });
    await client.execute(statement);
    client.close();
  };
  const cases: [what: string, make: (name: string) => unknown, why: RegExp][] = [
    ['an empty file', (name) => writeFileSync(path(name), ''), /It is empty/],
    [
      'a letter',
      (name) => writeFileSync(path(name), 'Dear Sir or Madam, '.repeat(90)),
      /not an SQLite database/,
    ],
    [
      'somebody else’s database',
      async (name) => {
        const client = createClient({ url: `file:${path(name)}` });
        await client.execute('CREATE TABLE letters (text)');
        client.close();
      },
      /not one of Papillon’s/,
    ],
    [
      'a database of ours that is not a backup',
      async (name) => {
        closeDatabase(await openDatabase(`file:${path(`own-${name}`)}`));
        // a connection that is closed may still tidy up its own file a moment later
        copyFileSync(path(`own-${name}`), path(name));
      },
      /no mark of completeness/,
    ],
    [
      'the same, put into one file',
      async (name) => {
        await db.$client.execute({ sql: 'VACUUM INTO ?', args: [path(name)] });
      },
      /no mark of completeness/,
    ],
    [
      'the first half of a backup',
      (name) => {
        const whole = readFileSync(path('good.db'));
        writeFileSync(path(name), whole.subarray(0, whole.length >> 1));
      },
      /damaged/,
    ],
    [
      'one in which a name is another',
      (name) => changed(name, "UPDATE swatches SET name = 'Rope X' WHERE name = 'Rope 17'"),
      /not what was written: swatches is different/,
    ],
    [
      'one in which a row is missing',
      (name) => changed(name, "DELETE FROM swatches WHERE name = 'Rope 17'"),
      /not what was written: swatches/,
    ],
    [
      'one of a newer version',
      (name) => changed(name, "UPDATE backup_mark SET value = json_set(value, '$.migration', 9999999999999)"),
      /newer Papillon/,
    ],
  ];
  it.each(cases)('%s', async (what, make, why) => {
    const name = `${what.replace(/\W+/g, '-')}.db`;
    await make(name);
    const before = hash(name);
    const { code, text } = await run('restore', path(name));
    expect([code, text]).toEqual([1, expect.stringMatching(why)]);
    expect(text).toMatch(/Nothing was changed/);
    expect(await names()).toEqual(['After', 'Before']);
    expect(hash(name)).toBe(before);
    expect(readdirSync(folder).filter((n) => n.startsWith('.papillon'))).toEqual([]);
  });
});

it('what a restore replaces is kept first, and can itself be restored', async () => {
  const { code, text } = await run('restore', path('good.db'));
  expect(code).toBe(0);
  expect(await names()).toEqual(['Before']);
  const kept = /before is in (\S+)\.$/m.exec(text)![1]!;
  expect(kept).toMatch(/backups\/before-restore-/);
  expect((await run('restore', kept)).code).toBe(0);
  expect(await names()).toEqual(['After', 'Before']);
  expect((await listLibraries(db, 'rope')).length).toBe(2);
});

it('a backup that is killed leaves no file that could be taken for one', async () => {
  await createLibrary(db, ropes('Large', 20_000));
  const to = path('killed.db');
  let killed = 0;
  for (let ms = 500; ms < 3000; ms += 500) {
    const child = spawn(process.execPath, ['build/data/main.mjs', 'backup', to], {
      env: { ...process.env, DATABASE_URL: `file:${file}` },
    });
    const ended = new Promise((done) => child.once('exit', done));
    await new Promise((done) => setTimeout(done, ms));
    if (child.kill('SIGKILL')) killed++;
    await ended;
    if (existsSync(to)) break;
    for (const part of readdirSync(folder).filter((n) => n.startsWith('killed.db.'))) {
      if (!part.endsWith('.part')) continue;
      expect((await run('restore', path(part))).code).toBe(1);
      rmSync(path(part));
      ms += 300;
    }
  }
  expect(killed).toBeGreaterThan(2);
  expect(await names()).toEqual(['After', 'Before', 'Large']);
}, 180_000);

it('a copy that comes out different, whoever changed it, is taken back before it counts', async () => {
  const other = await openDatabase(`file:${path('other.db')}`);
  const mine = await createLibrary(other, ropes('Mine', 3));
  // as many rows, and one of them another
  await other.$client.execute(
    "CREATE TRIGGER sly AFTER INSERT ON swatches WHEN new.name = 'Rope 17' BEGIN UPDATE swatches SET name = 'Rope 18' WHERE n = new.n; END",
  );
  await expect(copyDatabase(db, other)).rejects.toThrow(/not what was read: swatches/);
  expect((await readLibrary(other, mine))?.name).toBe('Mine');
  expect((await listLibraries(other)).length).toBe(1);
});

describe('backups by themselves', () => {
  it('are made once a day, and listed with what is in them', async () => {
    const url = `file:${file}`;
    const made = await backUpDaily(new Date(2026, 10, 29, 12), url);
    expect(made).toBe(path('backups/daily-2026-11-29.db'));
    expect(await backUpDaily(new Date(2026, 10, 29, 23), url)).toBeNull();
    writeFileSync(path('backups/notes.db'), 'no database');
    const [first] = await listBackups(path('backups'));
    expect(first).toMatchObject({ name: 'daily-2026-11-29.db', bytes: statSync(made!).size });
    expect(first!.swatches).toBeGreaterThan(20_000);
    expect((await listBackups(path('backups'))).map((b) => b.name)).not.toContain('notes.db');
  });

  it('are not made of a folder that nobody has used yet, which stays empty', async () => {
    const home = mkdtempSync(join(folder, 'new-'));
    expect(await backUpDaily(new Date(), `file:${join(home, 'papillon.db')}`)).toBeNull();
    expect(readdirSync(home)).toEqual([]);
  });

  it('are kept for the last seven days, and one of each of the four weeks before', () => {
    const days = Array.from({ length: 60 }, (_, i) => new Date(2026, 8, 1 + i));
    const gone = new Set<string>();
    const kept: string[] = [];
    for (const day of days) {
      kept.push(`daily-${dayOf(day)}.db`);
      for (const name of outdated(kept)) {
        gone.add(name);
        kept.splice(kept.indexOf(name), 1);
      }
    }
    expect(kept.slice(-7)).toEqual(days.slice(-7).map((d) => `daily-${dayOf(d)}.db`));
    const weekly = kept.slice(0, -7).map((n) => Date.parse(n.slice(6, 16)));
    expect(weekly).toHaveLength(4);
    // the last of them may have its week still going on
    for (let i = 1; i < 3; i++) expect((weekly[i]! - weekly[i - 1]!) / 86_400_000).toBe(7);
    expect(outdated(['before-restore-2020.db', 'papillon-2020.db', 'mine.db'])).toEqual([]);
  });

  it('are made before a migration, whose result they can be held against', async () => {
    const home = mkdtempSync(join(folder, 'older-'));
    writeFileSync(
      join(home, 'papillon.db'),
      gunzipSync(readFileSync('tests/fixtures/databases/artworks.db.gz')),
    );
    const url = `file:${join(home, 'papillon.db')}`;
    const now = await openDatabase(url);
    const [before] = await listBackups(join(home, 'backups'));
    expect(before).toMatchObject({ name: expect.stringMatching(/^before-migration-/), libraries: 3 });
    // a drawing larger than a value may be is in pieces now, and the same
    const { rows } = await now.$client.execute('SELECT hash FROM artworks');
    const sizes: number[] = [];
    for (const { hash } of rows) {
      const bytes = (await readArtworkBytes(now, String(hash)))!;
      expect(createHash('sha256').update(bytes).digest('hex')).toBe(hash);
      sizes.push(bytes.length);
    }
    expect(Math.max(...sizes)).toBeGreaterThan(6_000_000);
    const longest = await now.$client.execute('SELECT max(length(bytes)) AS most FROM assets');
    expect(longest.rows[0]?.most).toBeLessThanOrEqual(4_000_000);
    expect((await listLibraries(now)).map((l) => l.name)).toEqual(['Hull livery']);
    closeDatabase(now);
    // opening it again migrates nothing, and keeps nothing
    closeDatabase(await openDatabase(url));
    expect(await listBackups(join(home, 'backups'))).toHaveLength(1);
  });
});
