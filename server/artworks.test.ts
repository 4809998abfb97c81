import { createHash } from 'node:crypto';
import { copyFileSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { newTake } from '../core/picture/take.ts';
import { gradientsOf } from '../core/swatch/index.ts';
import { libraryOf } from '../core/testing.ts';
import { keepArtwork, readArtworkBytes } from './artworks.ts';
import { listBooks } from './books.ts';
import { copyDatabase } from './copy.ts';
import type { Db } from './db.ts';
import { createLibrary, readLibrary } from './libraries.ts';
import { openDatabase } from './open.ts';
import { forgetPicture, keepPicture, listPictures, readCopy } from './pictures.ts';

const folder = mkdtempSync(join(tmpdir(), 'papillon-artworks-'));
afterAll(() => rmSync(folder, { recursive: true }));
const open = (name: string) => openDatabase(`file:${join(folder, name)}`);
let db: Db;
beforeAll(async () => {
  db = await open('papillon.db');
});

const bytes = new TextEncoder().encode('<svg xmlns="http://www.w3.org/2000/svg"/>');
const hash = createHash('sha256').update(bytes).digest('hex');
const drawing = { mime: 'image/svg+xml', bytes };

it('keeps what its hash says, once, and nothing that lost some of its bytes on the way', async () => {
  expect(await keepArtwork(db, hash, { ...drawing, bytes: bytes.subarray(0, 20) })).toBe(false);
  expect(await readArtworkBytes(db, hash)).toBeNull();
  expect(await keepArtwork(db, hash, drawing)).toBe(true);
  expect(await keepArtwork(db, hash, drawing)).toBe(true);
  expect(await readArtworkBytes(db, hash)).toEqual(bytes);
});

it('lets it stay when pictures go, though no table but its own speaks of it', async () => {
  const id = await createLibrary(db, libraryOf('Ropes', { Hull: [['Navy', '#14304a']] }));
  const picture = { id: 'p', name: 'rope.png', width: 1, height: 1, takes: [newTake('t')] };
  await keepPicture(db, id, picture, { mime: 'image/png', bytes: new Uint8Array([1, 2, 3]) });
  // a picture of the very same bytes goes, and the artwork stays
  await keepPicture(db, id, { ...picture, id: 'q' }, drawing);
  await forgetPicture(db, id, 'p');
  await forgetPicture(db, id, 'q');
  expect(await readCopy(db, id, 'p')).toBeNull();
  expect(await readArtworkBytes(db, hash)).toEqual(bytes);
});

it('goes along when all of a database is copied into another', async () => {
  const other = await open('other.db');
  const sums = await copyDatabase(db, other);
  expect(sums.artworks?.rows).toBe(1);
  expect(await readArtworkBytes(other, hash)).toEqual(bytes);
});

it('comes to a database of the version before it, and leaves what is in that as it was', async () => {
  // written by the last version without artwork: a library with a gradient, a book, and a kept picture
  copyFileSync('tests/fixtures/databases/books.db', join(folder, 'before.db'));
  const before = await open('before.db');
  const library = (await readLibrary(before, 'harbour-ropes'))!;
  expect(gradientsOf(library).map((g) => g.name)).toEqual(['Night']);
  expect((await listBooks(before)).map((b) => b.name)).toContain('Harbour inks');
  expect((await listPictures(before, 'harbour-ropes')).map((p) => p.name)).toEqual(['ropes.png']);
  expect(await keepArtwork(before, hash, drawing)).toBe(true);
  expect((await readCopy(before, 'harbour-ropes', 'pic'))?.bytes.length).toBe(3);
});
