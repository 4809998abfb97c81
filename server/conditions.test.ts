import { copyFileSync, mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { sql } from 'drizzle-orm';
import { afterAll, beforeEach, describe, expect, it } from 'vitest';
import { conditionOf, SHIPPED, toHex, toLab } from '../core/color/index.ts';
import { setCondition } from '../core/swatch/index.ts';
import { coated, libraryOf, uncoated } from '../core/testing.ts';
import { applyChanges } from './changes.ts';
import { closeDatabase, type Db } from './db.ts';
import { createLibrary, listLibraries, readLibrary } from './libraries.ts';
import { openDatabase } from './open.ts';
import { keepProfile, listProfiles, readProfile, removeProfile } from './profiles.ts';

const folder = mkdtempSync(join(tmpdir(), 'papillon-conditions-'));
let n = 0;
let db: Db;
const open = async (from?: string) => {
  const path = join(folder, `${++n}.db`);
  if (from) copyFileSync(from, path);
  return openDatabase(`file:${path}`);
};
beforeEach(async () => {
  if (db) closeDatabase(db);
  db = await open();
});
afterAll(() => {
  closeDatabase(db);
  rmSync(folder, { recursive: true });
});

const MAGENTA = { space: 'cmyk' as const, components: [0, 1, 0, 0] };
const inks = () =>
  libraryOf('Signs', {
    '': [
      ['Magenta', 'C 0 M 100 Y 0 K 0'],
      ['Kelp', '#2f7d6b'],
    ],
  });
const kept = () =>
  db.all<{ name: string; hex: string; l: number }>(sql`SELECT name, hex, l FROM swatches
    WHERE library IN (SELECT num FROM libraries WHERE book = 0) ORDER BY name DESC`);
const print = (library: string, profile: string, id = 'change-1') =>
  applyChanges(db, library, {
    by: 'me',
    seen: 0,
    changes: [{ id, by: 'me', ...setCondition(library, { ...conditionOf({}), profile }, 'x') }],
  });
/** The shipped profile with another date inside: another file to whoever counts its bytes. */
const another = () => {
  const bytes = new Uint8Array(readFileSync('profiles/coated-offset.icc'));
  bytes[25]! ^= 1;
  return bytes;
};

describe('what inks are found by', () => {
  it('is how they print on the library’s paper, and follows it', async () => {
    const id = await createLibrary(db, inks());
    expect(await kept()).toEqual([
      { name: 'Magenta', hex: toHex(MAGENTA, coated), l: toLab(MAGENTA, coated)[0] },
      { name: 'Kelp', hex: '#2f7d6b', l: expect.any(Number) },
    ]);
    const [{ outcomes }] = [await print(id, SHIPPED.uncoated)];
    expect(outcomes[0]!.seq).toBe(1);
    expect((await kept())[0]).toEqual({
      name: 'Magenta',
      hex: toHex(MAGENTA, uncoated),
      l: toLab(MAGENTA, uncoated)[0],
    });
    expect((await readLibrary(db, id))!.condition?.profile).toBe(SHIPPED.uncoated);
    const [listed] = await listLibraries(db, toHex(MAGENTA, uncoated));
    expect([listed?.found, listed?.band]).toEqual([['Magenta'], [[toHex(MAGENTA, uncoated), '#2f7d6b']]]);
    expect(await listLibraries(db, toHex(MAGENTA, coated).slice(1))).toEqual([]);
    // undone, it is as it was
    await applyChanges(db, id, {
      by: 'me',
      seen: 1,
      changes: [{ id: 'change-2', by: 'me', label: '', ops: [], undoes: 'change-1' }],
    });
    expect((await kept())[0]!.hex).toBe(toHex(MAGENTA, coated));
    expect((await readLibrary(db, id))!.condition).toBeUndefined();
  });

  it('is rebuilt in a database that knew the plain formula alone', async () => {
    // written by the version before profiles: magenta is #ff00ff in it
    closeDatabase(db);
    db = await open('tests/fixtures/databases/rows.db');
    expect((await kept()).map((s) => s.hex)).toEqual([
      toHex({ space: 'cmyk', components: [0.78, 0.2, 0.7, 0.42] }, coated),
      toHex(MAGENTA, coated),
      '#2f7d6b',
    ]);
    expect((await listLibraries(db))[0]!.band[0]![0]).toBe(toHex(MAGENTA, coated));
    expect((await listLibraries(db, 'close to #ff00ff')).length).toBe(0);
  });
});

describe('profiles', () => {
  it('are kept once, by their hash, and given back as they came', async () => {
    const { hash } = await keepProfile(db, another());
    await keepProfile(db, another());
    expect((await listProfiles(db)).map((p) => [p.shipped, p.prints])).toEqual([
      [true, true],
      [true, true],
      [false, true],
    ]);
    expect(await readProfile(db, hash)).toEqual(another());
    // one that ships is not kept a second time
    await keepProfile(db, new Uint8Array(readFileSync('profiles/coated-offset.icc')));
    expect((await listProfiles(db)).length).toBe(3);
    await removeProfile(db, hash);
    expect(await readProfile(db, hash)).toBeNull();
    expect(await db.all(sql`SELECT hash FROM assets`)).toEqual([]);
  });

  it('that are broken are refused, and leave nothing behind', async () => {
    for (const broken of [another().slice(0, 5000), another().fill(0, 400), new Uint8Array(10)])
      await expect(keepProfile(db, broken)).rejects.toThrow(/cut short|damaged|no use|no ICC profile/);
    expect((await listProfiles(db)).length).toBe(2);
    expect(await db.all(sql`SELECT hash FROM assets`)).toEqual([]);
    expect(toLab(MAGENTA, coated)[0]).toBeCloseTo(48, 0);
  });

  it('stay while a library uses them, or could again by undo', async () => {
    const { hash } = await keepProfile(db, another());
    const id = await createLibrary(db, inks());
    await print(id, hash);
    await expect(removeProfile(db, hash)).rejects.toThrow(/used by “Signs”/);
    await print(id, SHIPPED.coated, 'change-2');
    await expect(removeProfile(db, hash)).rejects.toThrow(/still be undone/);
    await expect(removeProfile(db, SHIPPED.coated)).rejects.toThrow(/belongs to Papillon/);
  });

  it('that a color names are what it is found by', async () => {
    const library = inks();
    library.groups[0]!.swatches[0]!.color = { ...MAGENTA, profile: SHIPPED.uncoated };
    await createLibrary(db, library);
    expect((await kept())[0]!.hex).toBe(toHex(MAGENTA, uncoated));
  });
});
