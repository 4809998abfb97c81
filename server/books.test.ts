import { copyFileSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { sql } from 'drizzle-orm';
import { afterAll, beforeEach, describe, expect, it } from 'vitest';
import { takenFrom } from '../core/books/index.ts';
import { pairOps } from '../core/match/index.ts';
import { addSwatches, allSwatches, countingIds, type Library, setFields } from '../core/swatch/index.ts';
import { libraryOf } from '../core/testing.ts';
import {
  addSampleBooks,
  bookOfLibrary,
  columnsOf,
  createBook,
  deleteBook,
  editBook,
  libraryOfBook,
  listBooks,
  readEntries,
  restoreBook,
  tagOf,
  usesOf,
} from './books.ts';
import { applyChanges } from './changes.ts';
import type { Db } from './db.ts';
import { createLibrary, listLibraries, listNames, readLibrary, readRows } from './libraries.ts';
import { openDatabase } from './open.ts';
import { deleteLibraries } from './shelves.ts';

const folder = mkdtempSync(join(tmpdir(), 'papillon-books-'));
afterAll(() => rmSync(folder, { recursive: true }));
let n = 0;
let db: Db;
beforeEach(async () => {
  db = await openDatabase(`file:${join(folder, `${n++}.db`)}`);
});

const inks = (): Library => {
  const library = libraryOf('Harbour inks', {
    '': [
      ['HI 1', 'Lab 40 57 33'],
      ['HI 2', 'Lab 71 13 57'],
    ],
  });
  library.book = { family: 'Harbour inks', substrate: 'coated', prefix: 'HI ' };
  library.groups[0]!.swatches.forEach((s, i) => {
    s.code = String(i + 1);
    s.kind = 'spot';
    s.spectrum = { start: 380, step: 10, values: [0.1, 0.2, 0.3] };
  });
  return library;
};
const change = (id: string, ops: object[]) => ({
  by: 'me',
  seen: 0,
  changes: [{ id, by: 'me', label: 'x', ops: ops as never }],
});

describe('books', () => {
  it('are listed apart from libraries, with what they say of themselves', async () => {
    const id = await createBook(db, inks());
    await createLibrary(db, libraryOf('Signs', { '': [['Red', '#b3262b']] }));
    const books = await listBooks(db);
    expect(books.map((b) => [b.name, b.swatchCount, b.shipped])).toEqual([
      ['Harbour inks', 2, false],
      ['Processing steps', 30, true],
    ]);
    expect(books[0]).toMatchObject({ id, facts: { substrate: 'coated', prefix: 'HI ' } });
    expect((await listLibraries(db)).map((l) => l.name)).toEqual(['Signs']);
    expect((await listNames(db)).map((l) => l.name)).toEqual(['Signs']);
    // a search among the libraries finds what is in libraries
    expect((await listLibraries(db, 'HI 1')).map((l) => l.name)).toEqual([]);
  });

  it('are not edited, whatever a page sends', async () => {
    const id = await createBook(db, inks());
    const [first] = allSwatches((await readLibrary(db, id))!);
    const sent = change('change-1', setFields([first!.id], { name: 'other' }).ops);
    await expect(applyChanges(db, id, sent)).rejects.toThrow(/book is not edited/);
    expect(allSwatches((await readLibrary(db, id))!)[0]!.name).toBe('HI 1');
    // nor does an edit make a book of a library
    const library = await createLibrary(db, libraryOf('Signs', { '': [['Red', '#b3262b']] }));
    expect((await listBooks(db)).some((b) => b.id === library)).toBe(false);
  });

  it('say of themselves what the user sets, and keep the sheet they are on', async () => {
    const book = inks();
    book.book!.paper = { spectrum: { start: 380, step: 10, values: [0.9, 0.9, 0.9] }, spread: 2, gain: 0 };
    const id = await createBook(db, book);
    const before = await tagOf(db, id);
    await editBook(db, id, { name: 'Harbour inks II', facts: { edition: '2027' } });
    const found = (await listBooks(db)).find((b) => b.id === id)!;
    expect(found.name).toBe('Harbour inks II');
    expect(found.facts).toEqual({ edition: '2027', paper: book.book!.paper });
    expect(await tagOf(db, id)).not.toBe(before);
    const [first] = allSwatches((await readLibrary(db, id))!);
    await expect(editBook(db, id, { names: [{ id: first!.id, name: 'x' }] })).rejects.toThrow(/fixed/);
    await expect(editBook(db, 'nothing', { name: 'x' })).rejects.toThrow(/book does not exist/);
  });

  it('of processing steps are there for everyone, with names that are the user’s, to the letter', async () => {
    await editBook(db, 'processing-steps', { names: [{ id: 'step-Cutting', name: ' cut LINE ' }] });
    const again = await openDatabase(`file:${join(folder, `${n - 1}.db`)}`);
    const [cut] = await readEntries(again, 'processing-steps', ['step-Cutting']);
    expect([cut!.name, cut!.code, cut!.kind]).toEqual([' cut LINE ', 'Cutting', 'technical']);
    await expect(deleteBook(db, 'processing-steps')).rejects.toThrow(/stays/);
    // nor by the way libraries are deleted
    await deleteLibraries(db, ['processing-steps']);
    expect((await listBooks(db)).map((b) => b.id)).toEqual(['processing-steps']);
  });

  it('are made of libraries, and libraries of them, which find the book again', async () => {
    const library = await createLibrary(db, libraryOf('Signs', { '': [['Red', '#b3262b']] }));
    const book = (await bookOfLibrary(db, library))!;
    expect((await listBooks(db)).find((b) => b.id === book)!.name).toBe('Signs');
    const back = (await libraryOfBook(db, book))!;
    const [red] = allSwatches((await readLibrary(db, back))!);
    expect(red!.origin).toEqual({ from: 'book', name: 'Signs', book, code: 'Red' });
    expect((await readLibrary(db, back))!.book).toBeUndefined();
    expect(await bookOfLibrary(db, 'nothing')).toBeNull();
    expect(await bookOfLibrary(db, 'tray')).toBeNull();
    await expect(deleteBook(db, library)).rejects.toThrow(/book does not exist/);
    expect(await readLibrary(db, library)).not.toBeNull();
    expect(await libraryOfBook(db, library)).toBeNull();
  });

  it('of the sample come under their own ids, once, and back after they were taken away', async () => {
    const ids = await addSampleBooks(db);
    expect(ids).toEqual(['kestrelmere-coated', 'kestrelmere-uncoated']);
    await deleteBook(db, ids[0]!);
    expect((await listBooks(db)).map((b) => b.id)).not.toContain(ids[0]);
    expect((await listBooks(db, true)).map((b) => b.id)).toEqual([ids[0]]);
    await expect(columnsOf(db, ids[0]!)).rejects.toThrow(/book has been removed/);
    await addSampleBooks(db);
    expect((await listBooks(db)).filter((b) => ids.includes(b.id))).toHaveLength(2);
    await deleteBook(db, ids[1]!);
    await restoreBook(db, ids[1]!);
    expect((await listBooks(db)).map((b) => b.id)).toContain(ids[1]);
    const columns = await columnsOf(db, ids[0]!);
    expect(columns.sets.length).toBeGreaterThanOrEqual(8);
    expect(columns.swatches.special.filter(Boolean)).toHaveLength(20);
    for (const { refs } of columns.sets) for (const ref of refs) expect(columns.swatches.id).toContain(ref);
  });

  it('are given as columns, and their swatches whole', async () => {
    const id = await createBook(db, inks());
    const { swatches, facts, book } = await columnsOf(db, id);
    expect([swatches.name, swatches.code, swatches.kind]).toEqual([
      ['HI 1', 'HI 2'],
      ['1', '2'],
      ['spot', 'spot'],
    ]);
    expect([swatches.l, swatches.a, swatches.b]).toEqual([
      [40, 71],
      [57, 13],
      [33, 57],
    ]);
    expect(swatches.hex.every((h) => /^#[0-9a-f]{6}$/.test(h))).toBe(true);
    expect([facts.family, book]).toEqual(['Harbour inks', true]);
    const [second, first] = await readEntries(db, id, [swatches.id[1]!, swatches.id[0]!, 'nothing']);
    expect([second!.name, first!.name]).toEqual(['HI 2', 'HI 1']);
    expect(first!.spectrum!.values).toEqual([0.1, 0.2, 0.3]);
    await expect(columnsOf(db, 'nothing')).rejects.toThrow(/library does not exist/);
  });

  it('know where they are used: what was taken, and what is paired', async () => {
    const book = { ...inks(), id: await createBook(db, inks()) };
    const [one] = await readEntries(db, book.id, [(await columnsOf(db, book.id)).swatches.id[0]!]);
    const library = await createLibrary(
      db,
      libraryOf('Signs', {
        '': [
          ['Red', '#b3262b'],
          ['Gold', '#d9a441'],
        ],
      }),
    );
    const { rows } = (await readRows(db, library))!;
    const group = rows.library.groups[0]!.id;
    const gold = rows.library.groups[0]!.swatches[1]!;
    const pair = {
      swatch: gold.id,
      with: {
        source: book.id,
        sourceName: 'Harbour inks',
        name: 'HI 2',
        code: '2',
        lab: [71, 13, 57],
        difference: 1,
        metric: 'de00',
      },
    };
    await applyChanges(
      db,
      library,
      change('change-2', [
        ...addSwatches(rows, group, [{ ...takenFrom(book, one!, 'taken'), name: 'Boot-top' }]).ops,
        ...pairOps(rows, [pair], countingIds('pair-')),
      ]),
    );
    expect(await usesOf(db, book.id)).toEqual([
      { library, name: 'Signs', taken: 1, paired: 1, swatches: ['Boot-top', 'Gold'] },
    ]);
    expect((await usesOf(db, book.id, '2'))[0]).toMatchObject({ taken: 0, paired: 1 });
    expect(await usesOf(db, book.id, '3')).toEqual([]);
    // a library's swatch can be the equivalent, too, and goes by its name where it has no number
    const other = await createLibrary(db, libraryOf('Scarf', { '': [['Old brass', '#d9a441']] }));
    const scarf = (await readRows(db, other))!.rows;
    const brass = {
      swatch: scarf.library.groups[0]!.swatches[0]!.id,
      with: {
        source: library,
        sourceName: 'Signs',
        name: 'Gold',
        lab: [71, 13, 57],
        difference: 0,
        metric: 'de00',
      },
    };
    await applyChanges(db, other, change('change-3', pairOps(scarf, [brass], countingIds('pair-'))));
    expect(await usesOf(db, library, 'Gold')).toEqual([
      { library: other, name: 'Scarf', taken: 0, paired: 1, swatches: ['Old brass'] },
    ]);
    // by an index, however many swatches there are
    const plan = await db.all<{ detail: string }>(
      sql`EXPLAIN QUERY PLAN SELECT n FROM swatches WHERE data ->> '$.origin.book' = ${book.id}`,
    );
    expect(plan.map((p) => p.detail).join()).toContain('swatches_by_book');
  });

  it('come to a database of the version before them, and leave what is in it as it was', async () => {
    // written by the last version without books: a library on uncoated paper with something left alone in its checks
    const file = join(folder, 'before.db');
    copyFileSync('tests/fixtures/databases/conditions.db', file);
    const before = await openDatabase(`file:${file}`);
    expect((await listBooks(before)).map((b) => b.id)).toEqual(['processing-steps']);
    expect((await listLibraries(before)).map((l) => [l.name, l.swatchCount])).toEqual([['Harbour signs', 3]]);
    const library = (await readLibrary(before, 'harbour-signs'))!;
    expect(library.condition).toMatchObject({ intent: 'perceptual', inkLimit: 280 });
    expect(library.book).toBeUndefined();
    expect(library.items!.map((i) => i.kind)).toEqual(['left-alone']);
    expect(allSwatches(library).map((s) => [s.name, s.color.space, s.spectrum?.values.length])).toEqual([
      ['Magenta', 'cmyk', undefined],
      ['Kelp', 'rgb', 3],
      ['Wake', 'oklch', undefined],
    ]);
    const { rows } = (await readRows(before, 'harbour-signs'))!;
    const [first] = allSwatches(rows.library);
    await applyChanges(
      before,
      'harbour-signs',
      change('change-9', setFields([first!.id], { name: 'M' }).ops),
    );
    expect(allSwatches((await readLibrary(before, 'harbour-signs'))!)[0]!.name).toBe('M');
  });
});
