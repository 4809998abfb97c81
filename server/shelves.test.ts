import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { sql } from 'drizzle-orm';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { BIN_DAYS } from '../core/sizes.ts';
import { libraryOf } from '../core/testing.ts';
import { closeDatabase, type Db } from './db.ts';
import { createLibrary, listHome, listLibraries, readLibrary } from './libraries.ts';
import { openDatabase } from './open.ts';
import {
  archive,
  clearBin,
  deleteLibraries,
  removeForGood,
  renameShelf,
  restoreLibraries,
  shelve,
} from './shelves.ts';

let folder = '';
let db: Db;
let ids: string[] = [];
beforeEach(async () => {
  folder = await mkdtemp(join(tmpdir(), 'papillon-shelves-'));
  db = await openDatabase(`file:${join(folder, 'shelves.db')}`);
  ids = [];
  for (const name of ['Ropes', 'Sails', 'Hulls'])
    ids.push(await createLibrary(db, libraryOf(name, { All: [[`${name} one`, '#8a1c24']] })));
});
afterEach(async () => {
  closeDatabase(db);
  await rm(folder, { recursive: true, force: true });
});

const shelves = async () =>
  Object.fromEntries((await listLibraries(db)).map((l) => [l.name, l.shelves] as const));
const [first, second] = [() => ids.slice(0, 1), () => ids.slice(0, 2)];

describe('shelves', () => {
  it('hold libraries, which can be on several', async () => {
    await shelve(db, second(), ['Ferry line'], []);
    await shelve(db, first(), ['Spring'], []);
    // twice is once
    await shelve(db, first(), ['Spring'], []);
    expect(await shelves()).toEqual({ Ropes: ['Ferry line', 'Spring'], Sails: ['Ferry line'], Hulls: [] });
    await shelve(db, first(), [], ['Ferry line']);
    expect(await shelves()).toEqual({ Ropes: ['Spring'], Sails: ['Ferry line'], Hulls: [] });
  });

  it('are renamed, become one with another of that name, and are taken away without their libraries', async () => {
    await shelve(db, second(), ['Ferry'], []);
    await shelve(db, first(), ['Spring'], []);
    await renameShelf(db, 'Ferry', 'Spring');
    expect(await shelves()).toEqual({ Ropes: ['Spring'], Sails: ['Spring'], Hulls: [] });
    await renameShelf(db, 'Spring', null);
    expect(await shelves()).toEqual({ Ropes: [], Sails: [], Hulls: [] });
  });

  it('do not hold the tray', async () => {
    await readLibrary(db, 'tray');
    await shelve(db, ['tray'], ['Spring'], []);
    await deleteLibraries(db, ['tray']);
    await archive(db, ['tray'], true);
    expect(
      await db.all(sql`SELECT shelves, deleted_at, archived_at FROM libraries WHERE id = 'tray'`),
    ).toEqual([{ shelves: '[]', deleted_at: null, archived_at: null }]);
  });
});

describe('the archive', () => {
  it('puts libraries away and back, and loses nothing of them', async () => {
    await archive(db, first(), true);
    const away = async () => (await listLibraries(db)).filter((l) => l.archivedAt).map((l) => l.name);
    expect(await away()).toEqual(['Ropes']);
    expect((await readLibrary(db, ids[0]!))!.groups[0]!.swatches).toHaveLength(1);
    await archive(db, first(), false);
    expect(await away()).toEqual([]);
  });
});

describe('the bin', () => {
  const rows = async (table: string) =>
    (await db.all<{ n: number }>(sql`SELECT count(*) AS n FROM ${sql.identifier(table)}`))[0]!.n;

  it('keeps a deleted library for thirty days, and gives it back as it was', async () => {
    await shelve(db, first(), ['Spring'], []);
    await deleteLibraries(db, second());
    const now = Date.now();
    const at = (days: number) => new Date(now + days * 86_400_000);
    expect((await listHome(db)).deleted.map((l) => l.name).sort()).toEqual(['Ropes', 'Sails']);
    expect(await clearBin(db, at(BIN_DAYS - 1))).toBe(0);
    await restoreLibraries(db, first());
    expect((await shelves()).Ropes).toEqual(['Spring']);
    expect(await clearBin(db, at(BIN_DAYS + 1))).toBe(1);
    const { libraries, deleted } = await listHome(db);
    expect([libraries.map((l) => l.name).sort(), deleted]).toEqual([['Hulls', 'Ropes'], []]);
  });

  it('removes all that belongs to a library, and nothing of others', async () => {
    const [before, swatches] = [await rows('libraries'), await rows('swatches')];
    // what is not in the bin is not removed from it
    expect(await removeForGood(db, ids)).toBe(0);
    await deleteLibraries(db, first());
    expect(await removeForGood(db, ids)).toBe(1);
    expect(await rows('libraries')).toBe(before - 1);
    expect(await rows('swatches')).toBe(swatches - 1);
    expect(await rows('swatch_search')).toBe(swatches - 1);
    expect((await listLibraries(db, 'Ropes one')).map((l) => l.name)).toEqual([]);
    expect((await listLibraries(db, 'Sails one')).map((l) => l.name)).toEqual(['Sails']);
    expect(await readLibrary(db, ids[0]!)).toBeNull();
  });
});
