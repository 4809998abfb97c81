import { execFile } from 'node:child_process';
import { existsSync, mkdtempSync, rmSync, statSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { promisify } from 'node:util';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { fromRgb8 } from '../core/color/index.ts';
import { type Library, renameLibrary, type Swatch } from '../core/swatch/index.ts';
import { applyChanges, epochOf, newsOf } from './changes.ts';
import { copyDatabase } from './copy.ts';
import type { Db } from './db.ts';
import { createLibrary, listLibraries, readLibrary } from './libraries.ts';
import { openDatabase } from './open.ts';

const folder = mkdtempSync(join(tmpdir(), 'papillon-copy-'));
afterAll(() => rmSync(folder, { recursive: true }));
const file = join(folder, 'papillon.db');
let db: Db;
let id = '';
const swatch = (i: number): Swatch => ({
  id: `s${i}`,
  name: `Rope\0 ${i}`,
  kind: 'spot',
  color: fromRgb8(i % 256, 2, 3),
});
const ropes: Library = {
  id: 'x',
  name: 'Ropes',
  groups: [{ id: 'g', name: 'Hull', swatches: Array.from({ length: 900 }, (_, i) => swatch(i)) }],
};
const rename = (name: string, n: number) => ({
  by: 'me',
  seen: 0,
  changes: [{ id: `change-copy-${n}`, by: 'me', ...renameLibrary(id, name) }],
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
beforeAll(async () => {
  db = await openDatabase(`file:${file}`);
  id = await createLibrary(db, ropes);
  await applyChanges(db, id, rename('Before', 1));
});

it('a backup made while the database is in use holds all of one moment, and restoring brings it back', async () => {
  const copy = join(folder, 'copy.db');
  expect(await run('backup', copy)).toMatchObject({
    code: 0,
    text: expect.stringMatching(/the same: 2 libraries and books, 930 swatches, 1 changes/),
  });
  // all of it is in the one file
  expect(existsSync(`${copy}-wal`) ? statSync(`${copy}-wal`).size : 0).toBe(0);
  // the first connection has been open all the time, and goes on
  await applyChanges(db, id, rename('After', 2));
  await createLibrary(db, { ...ropes, name: 'Another' });
  const epoch = await epochOf(db);
  expect(await run('backup', copy)).toMatchObject({ code: 2, text: expect.stringMatching(/there already/) });
  expect(await run('restore', join(folder, 'nowhere.db'))).toMatchObject({ code: 2 });
  expect(await run('restore', copy)).toMatchObject({ code: 0 });
  expect((await listLibraries(db)).map((l) => l.name)).toEqual(['Before']);
  expect((await readLibrary(db, id))!.groups[0].swatches[5].name).toBe('Rope\0 5');
  expect((await listLibraries(db, 'rope')).length).toBe(1);
  // a page that knows what was there before has to read the library again
  expect(await epochOf(db)).not.toBe(epoch);
  expect((await newsOf(db, id, 2, 'me')).changes).toBeNull();
  expect((await applyChanges(db, id, rename('On', 3))).seq).toBe(2);
});

it('a copy that breaks off leaves what was there', async () => {
  const other = await openDatabase(`file:${join(folder, 'other.db')}`);
  const mine = await createLibrary(other, { ...ropes, name: 'Mine' });
  await other.$client.execute(
    "CREATE TRIGGER broken BEFORE INSERT ON changes BEGIN SELECT RAISE(ABORT, 'the disk is full'); END",
  );
  await expect(copyDatabase(db, other)).rejects.toThrow();
  expect((await readLibrary(other, mine))?.name).toBe('Mine');
  expect((await listLibraries(other, 'rope')).length).toBe(1);
});
