import { createHash } from 'node:crypto';
import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { newTake, type Take } from '../core/picture/take.ts';
import type { Db } from './db.ts';
import { createLibrary } from './libraries.ts';
import { openDatabase } from './open.ts';
import { forgetPicture, keepPicture, listPictures, readCopy, saveTakes } from './pictures.ts';

const folder = mkdtempSync(join(tmpdir(), 'papillon-pictures-'));
const url = `file:${join(folder, 'papillon.db')}`;
afterAll(() => rmSync(folder, { recursive: true }));
let db: Db;
let [one, other] = ['', ''];
beforeAll(async () => {
  db = await openDatabase(url);
  [one, other] = await Promise.all(
    ['One', 'Other'].map((name) =>
      createLibrary(db, { id: 'x', name, groups: [{ id: 'a', name: '', swatches: [] }] }),
    ),
  );
});

const assets = async () => (await db.$client.execute('SELECT count(*) AS n FROM assets')).rows[0].n;
const take = (name: string): Take => ({ ...newTake('t'), name });
const picture = (takes: Take[]) => ({ id: 'p', name: 'Harbour.png', width: 4, height: 3, takes });
const copy = (...bytes: number[]) => ({ mime: 'image/png', bytes: new Uint8Array(bytes) });

it('keeps a copy with its takes through a restart, with each library apart', async () => {
  await keepPicture(db, one, picture([take('Dusk')]), copy(1, 2, 3));
  await keepPicture(db, other, picture([take('Dawn')]), copy(4));
  db = await openDatabase(url);
  expect(await listPictures(db, one)).toEqual([picture([take('Dusk')])]);
  expect(await listPictures(db, other)).toEqual([picture([take('Dawn')])]);
  expect(Array.from((await readCopy(db, one, 'p'))?.bytes ?? [])).toEqual([1, 2, 3]);
});

it('brings takes up to date, and says when there is nothing to bring up to date', async () => {
  expect(await saveTakes(db, one, 'p', [take('Dusk'), take('Night')])).toBe(true);
  expect((await listPictures(db, one))[0].takes.map((t) => t.name)).toEqual(['Dusk', 'Night']);
  expect((await listPictures(db, other))[0].takes.map((t) => t.name)).toEqual(['Dawn']);
  expect(await saveTakes(db, one, 'q', [])).toBe(false);
});

it('keeps it again in place of the first, and forgets it in one library alone', async () => {
  await keepPicture(db, one, picture([]), copy(9));
  expect(Array.from((await readCopy(db, one, 'p'))?.bytes ?? [])).toEqual([9]);
  await forgetPicture(db, one, 'p');
  expect(await listPictures(db, one)).toEqual([]);
  expect(await readCopy(db, one, 'p')).toBeNull();
  expect(await assets()).toBe(1);
  expect(await listPictures(db, other)).toHaveLength(1);
});

it('keeps the same bytes once, however many libraries have them, and lets go of them with the last', async () => {
  for (const id of [one, other]) await keepPicture(db, id, picture([]), copy(7, 7, 7));
  expect(await assets()).toBe(1);
  await forgetPicture(db, one, 'p');
  expect(Array.from((await readCopy(db, other, 'p'))?.bytes ?? [])).toEqual([7, 7, 7]);
  await forgetPicture(db, other, 'p');
  expect(await assets()).toBe(0);
});

it('letting go of a picture spares profiles and artwork, which nothing else refers to', async () => {
  const { keepProfile, readProfile } = await import('./profiles.ts');
  const { keepArtwork, readArtworkBytes } = await import('./artworks.ts');
  const profile = new Uint8Array(readFileSync('profiles/uncoated-offset.icc'));
  // another one than that which ships: a byte of the header that means nothing
  profile[120] = 1;
  const { hash } = await keepProfile(db, profile);
  const drawing = new TextEncoder().encode('<svg xmlns="http://www.w3.org/2000/svg"/>');
  const drawn = createHash('sha256').update(drawing).digest('hex');
  await keepArtwork(db, drawn, { mime: 'image/svg+xml', bytes: drawing });
  const library = await createLibrary(db, { id: 'x', name: 'Spared', groups: [] });
  await keepPicture(
    db,
    library,
    { id: 'p', name: 'p.png', width: 1, height: 1, takes: [] },
    { mime: 'image/png', bytes: new Uint8Array([9, 9, 9]) },
  );
  await forgetPicture(db, library, 'p');
  expect((await readProfile(db, hash))?.length).toBe(profile.length);
  expect((await readArtworkBytes(db, drawn))?.length).toBe(drawing.length);
});
