import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeEach, describe, expect, it } from 'vitest';
import { fromRgb8 } from '../core/color/index.ts';
import { appendEdit, EditError, type Library, type Swatch } from '../core/swatch/index.ts';
import { type Db, openDatabase } from './db.ts';
import {
  changeLibrary,
  createLibrary,
  deleteLibrary,
  duplicateLibrary,
  listDeleted,
  listLibraries,
  readLibrary,
  readTray,
  restoreLibrary,
} from './libraries.ts';

const folder = mkdtempSync(join(tmpdir(), 'papillon-db-'));
afterAll(() => rmSync(folder, { recursive: true }));
let n = 0;
let url = '';
let db: Db;
beforeEach(async () => {
  url = `file:${join(folder, `${n++}.db`)}`;
  db = await openDatabase(url);
});

const swatch = (id: string, name = id): Swatch => ({
  id,
  name,
  kind: 'process',
  color: fromRgb8(138, 28, 36),
});
const ropes: Library = {
  id: 'x',
  name: 'Ropes',
  groups: [{ id: 'g', name: '', swatches: [swatch('a', 'Old brass')] }],
};
const names = async (id: string) =>
  (await readLibrary(db, id))?.library.groups.flatMap((g) => g.swatches.map((s) => s.name));

describe('libraries', () => {
  it('undo and redo hold after a restart', async () => {
    const id = await createLibrary(db, ropes);
    const { library } = (await readLibrary(db, id))!;
    const group = library.groups[0].id;
    await changeLibrary(db, id, { edit: appendEdit(library, group, [swatch('b')]) }, 0);
    await changeLibrary(db, id, { edit: { type: 'renameLibrary', name: 'Lines' } }, 1);
    db = await openDatabase(url);
    expect(await readLibrary(db, id)).toMatchObject({ revision: 2, undo: 'rename the library', redo: null });
    await changeLibrary(db, id, { step: 'undo' }, 2);
    await changeLibrary(db, id, { step: 'undo' }, 3);
    expect((await readLibrary(db, id))?.library).toEqual(library);
    db = await openDatabase(url);
    const redone = await changeLibrary(db, id, { step: 'redo' }, 4);
    expect(redone).toMatchObject({ revision: 5, undo: 'add 1 swatch', redo: 'rename the library' });
    expect(await names(id)).toEqual(['Old brass', 'b']);
    await expect(changeLibrary(db, id, { edit: { type: 'remove', ids: ['zz'] } }, 5)).rejects.toThrow(
      EditError,
    );
    expect(await readLibrary(db, id)).toMatchObject({ revision: 5, redo: 'rename the library' });
  });

  it('a new edit ends what could be redone', async () => {
    const id = await createLibrary(db, ropes);
    await changeLibrary(db, id, { edit: { type: 'renameLibrary', name: 'A' } }, 0);
    await changeLibrary(db, id, { step: 'undo' }, 1);
    await changeLibrary(db, id, { edit: { type: 'renameLibrary', name: 'B' } }, 2);
    await expect(changeLibrary(db, id, { step: 'redo' }, 3)).rejects.toThrow(/nothing to redo/);
  });

  it('two tabs: an edit on an older revision is applied to what is there now, and the tab is told', async () => {
    const id = await createLibrary(db, ropes);
    const { library } = (await readLibrary(db, id))!;
    const group = library.groups[0].id;
    const first = await changeLibrary(db, id, { edit: appendEdit(library, group, [swatch('b')]) }, 0);
    expect(first.library).toBeUndefined();
    const second = await changeLibrary(db, id, { edit: appendEdit(library, group, [swatch('c')]) }, 0);
    expect(second.library?.groups[0].swatches.length).toBe(3);
    expect((await names(id))?.sort()).toEqual(['Old brass', 'b', 'c']);
  });

  it('is found by library, group and swatch name, in any case and script, wildcards taken as they are', async () => {
    await createLibrary(db, ropes);
    await createLibrary(db, {
      id: 'y',
      name: 'Flags',
      groups: [{ id: 'g', name: 'قارب', swatches: [swatch('a', '100 % Ölrot')] }],
    });
    const found = async (query: string) => (await listLibraries(db, query)).map((l) => l.name);
    expect(await found('BRASS')).toEqual(['Ropes']);
    expect(await found('flag')).toEqual(['Flags']);
    expect(await found('قارب')).toEqual(['Flags']);
    expect(await found('ölrot')).toEqual(['Flags']);
    expect(await found('0 %')).toEqual(['Flags']);
    expect(await found('%')).toEqual(['Flags']);
    expect(await found('_')).toEqual([]);
    expect((await listLibraries(db, 'brass'))[0].found).toEqual(['old brass']);
    expect((await found('')).length).toBe(2);
  });

  it('deleting can be taken back, duplicating makes a library of its own', async () => {
    const id = await createLibrary(db, ropes);
    const copy = (await duplicateLibrary(db, id))!;
    await deleteLibrary(db, id);
    expect((await listLibraries(db)).map((l) => l.name)).toEqual(['Ropes copy']);
    expect((await listDeleted(db)).map((l) => l.name)).toEqual(['Ropes']);
    await expect(changeLibrary(db, id, { edit: { type: 'renameLibrary', name: '' } }, 0)).rejects.toThrow(
      /deleted/,
    );
    await restoreLibrary(db, id);
    await changeLibrary(db, copy, { edit: { type: 'renameLibrary', name: 'Other' } }, 0);
    expect((await listLibraries(db)).map((l) => l.name).sort()).toEqual(['Other', 'Ropes']);
  });

  it('the tray is kept but in no list', async () => {
    const tray = await readTray(db);
    await changeLibrary(db, 'tray', { edit: appendEdit(tray.library, 'tray', [swatch('t')]) }, 0);
    db = await openDatabase(url);
    expect((await readTray(db)).library.groups[0].swatches.map((s) => s.id)).toEqual(['t']);
    expect(await listLibraries(db)).toEqual([]);
  });
});
