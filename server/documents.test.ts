import { copyFileSync, mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { applyEdit } from '../core/swatch/documents.ts';
import { goBack, type Library } from '../core/swatch/index.ts';
import { applyChanges, listHistory, newsOf, wayBack } from './changes.ts';
import { closeDatabase, type Db } from './db.ts';
import { listKits, listPresets } from './kits.ts';
import { listDeleted, listLibraries, readLibrary, readRows } from './libraries.ts';
import { openDatabase } from './open.ts';
import { listPictures, readCopy } from './pictures.ts';

// tests/fixtures/databases/documents.db was written by the last version that kept a library as one document (with edits of
// every kind, some undone, kits, a preset, kept pictures, a deleted library and a tray); documents.json is what it held.
const fixture = 'tests/fixtures/databases/documents';
const old = JSON.parse(readFileSync(`${fixture}.json`, 'utf8'));
const folder = mkdtempSync(join(tmpdir(), 'papillon-old-'));
afterAll(() => rmSync(folder, { recursive: true }));
const url = `file:${join(folder, 'papillon.db')}`;
const of = (name: string) => old.libraries.find((l: { name: string }) => l.name.startsWith(name));
const hull = of('Hull').id;
let db: Db;
beforeAll(async () => {
  copyFileSync(`${fixture}.db`, join(folder, 'papillon.db'));
  db = await openDatabase(url);
});

describe('a database of the version that kept documents', () => {
  it('has every library in it, the deleted one and the tray too', async () => {
    for (const { id, content, deletedAt } of old.libraries)
      if (!deletedAt) expect(await readLibrary(db, id)).toEqual(content);
    expect((await listDeleted(db)).map((l) => l.name)).toEqual(['Older funnel']);
    const listed = await listLibraries(db);
    expect(
      listed.map((l) => [l.name, l.swatchCount, l.groupCount, l.changedAt.toISOString()]).sort(),
    ).toEqual(
      old.libraries
        .filter((l: { id: string; deletedAt: string | null }) => l.id !== 'tray' && !l.deletedAt)
        .map((l: { name: string; swatchCount: number; groupCount: number; changedAt: string }) => [
          l.name,
          l.swatchCount,
          l.groupCount,
          l.changedAt,
        ])
        .sort(),
    );
    expect((await listLibraries(db, 'signal red')).map((l) => l.id)).toEqual([hull]);
  });

  it('has its history: every state, what can be undone and redone, in the same order', async () => {
    const steps = old.history.filter((h: { libraryId: string }) => h.libraryId === hull);
    const done = steps.filter((h: { undone: boolean }) => !h.undone);
    const { steps: now, seq } = await newsOf(db, hull, of('Hull').revision, 'anyone');
    expect(seq).toBe(of('Hull').revision);
    expect([now.undo.length, now.redo.length]).toEqual([done.length, steps.length - done.length]);
    const list = await listHistory(db, hull, null);
    expect(
      list
        .filter((e) => e.step === 'edit')
        .map((e) => new Date(e.at).toISOString())
        .reverse(),
    ).toEqual(steps.map((s: { at: string }) => s.at));
    let state: Library = of('Hull').content;
    const edits = list.filter((e) => e.step === 'edit' && !e.undone);
    for (const [i, entry] of edits.entries()) {
      state = applyEdit(state, done[done.length - 1 - i].inverse).library;
      const rows = (await readRows(db, hull))!.rows;
      goBack(rows, (await wayBack(db, hull, entry.seq - 1)).inverses);
      expect(rows.library).toEqual(state);
    }
  });

  it('redoes what had been undone, and undoes to the beginning', async () => {
    const copy = `file:${join(folder, 'copy.db')}`;
    copyFileSync(`${fixture}.db`, join(folder, 'copy.db'));
    const other = await openDatabase(copy);
    let n = 0;
    const step = async (undoes: string) => {
      const change = { id: `change-step-${n++}`, by: 'me', label: '', ops: [], undoes };
      return (await applyChanges(other, hull, { by: 'me', seen: 0, changes: [change] })).steps;
    };
    let { steps } = await newsOf(other, hull, 0, 'me');
    while (steps.redo.length > 0) steps = await step(steps.redo.at(-1)!.id);
    expect((await readLibrary(other, hull))?.name).toBe('Hull livery, summer');
    while (steps.undo.length > 0) steps = await step(steps.undo.at(-1)!.id);
    expect(await readLibrary(other, hull)).toMatchObject({
      name: 'Hull livery',
      groups: [{ swatches: { length: 1 } }, { swatches: { length: 40 } }, { swatches: { length: 3 } }, {}],
    });
  });

  it('has its kits, presets, kept pictures and their takes', async () => {
    const kits = old.kits.map(
      ({ revision, choices, at }: { revision: number; choices: object; at: string }) => ({
        revision,
        choices,
        at: new Date(at),
      }),
    );
    expect((await listKits(db, hull)).map(({ id: _, ...kit }) => kit)).toEqual(kits.reverse());
    expect(await listPresets(db)).toEqual([
      { name: 'Printer', destinations: [{ id: 'layout', files: [{ format: 'ase' }] }] },
    ]);
    for (const { id, libraryId, name, takes, bytes } of old.pictures) {
      expect(await listPictures(db, libraryId)).toMatchObject([{ id, name, takes }]);
      expect((await readCopy(db, libraryId, id))?.bytes.length).toBe(bytes);
    }
    // the same bytes, kept once
    expect((await db.$client.execute('SELECT count(*) AS n FROM assets')).rows[0].n).toBe(1);
  });

  it('is brought over once, and nothing of the old is left', async () => {
    closeDatabase(db);
    db = await openDatabase(url);
    const tables = await db.$client.execute("SELECT name FROM sqlite_master WHERE name LIKE 'old%'");
    expect(tables.rows).toEqual([]);
    expect((await listLibraries(db)).length).toBe(2);
  });

  it('goes on where it was interrupted', async () => {
    const half = `file:${join(folder, 'half.db')}`;
    copyFileSync(`${fixture}.db`, join(folder, 'half.db'));
    const { connect } = await import('./db.ts');
    const { migrate } = await import('drizzle-orm/libsql/migrator');
    const first = await connect(half);
    await migrate(first, { migrationsFolder: 'server/migrations' });
    await first.$client.execute({
      sql: 'UPDATE old_libraries SET content = ? WHERE id = ?',
      args: ['{', of('Timetables').id],
    });
    closeDatabase(first);
    await expect(openDatabase(half)).rejects.toThrow();
    const fixed = await connect(half);
    await fixed.$client.execute({
      sql: 'UPDATE old_libraries SET content = ? WHERE id = ?',
      args: [JSON.stringify(of('Timetables').content), of('Timetables').id],
    });
    closeDatabase(fixed);
    const whole = await openDatabase(half);
    for (const { id, content, deletedAt } of old.libraries)
      if (!deletedAt) expect(await readLibrary(whole, id)).toEqual(content);
  });
});
