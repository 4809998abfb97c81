import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, afterEach, beforeAll, describe, expect, it } from 'vitest';
import { fromRgb8 } from '../core/color/index.ts';
import {
  addSwatches,
  countingIds,
  type Library,
  renameLibrary,
  type Swatch,
  setFields,
} from '../core/swatch/index.ts';
import { StandIn } from '../tests/libsql/stand-in.ts';
import { applyChanges, historySize } from './changes.ts';
import { copyDatabase } from './copy.ts';
import { connect, type Db } from './db.ts';
import { createLibrary, listLibraries, readLibrary, readRows, streamLibrary } from './libraries.ts';
import { openDatabase } from './open.ts';
import { keepPicture, readCopy } from './pictures.ts';

const folder = mkdtempSync(join(tmpdir(), 'papillon-remote-'));
const server = new StandIn(join(folder, 'remote.db'));
let db: Db;
beforeAll(async () => {
  await server.start();
  db = await openDatabase(server.url);
});
afterEach(() => {
  server.cut = () => false;
});
afterAll(async () => {
  await server.stop();
  rmSync(folder, { recursive: true });
});

const newId = countingIds('s');
const swatch = (name: string): Swatch => ({
  id: newId(),
  name,
  kind: 'process',
  color: fromRgb8(138, 28, 36),
});
const ropes = (n: number): Library => ({
  id: 'x',
  name: 'Ropes',
  groups: [{ id: 'g', name: 'Hull', swatches: Array.from({ length: n }, (_, i) => swatch(`Halyard ${i}`)) }],
});
let k = 0;
const change = (draft: { label: string; ops: never[] } | ReturnType<typeof renameLibrary>) => ({
  by: 'me',
  seen: 0,
  changes: [{ id: `change-remote-${k++}`, by: 'me', ...draft }],
});

describe('a libSQL server', () => {
  it('keeps libraries, changes, history and pictures like a file', async () => {
    const id = await createLibrary(db, ropes(1200));
    const before = (await readRows(db, id))!.rows;
    const [group] = before.library.groups;
    await applyChanges(db, id, change(addSwatches(before, group.id, [swatch('Brass')])));
    await applyChanges(db, id, change(setFields([group.swatches[3].id], { name: 'Old rope', role: 'rail' })));
    const { outcomes, steps } = await applyChanges(db, id, change(renameLibrary(id, 'Lines')));
    expect(outcomes[0].seq).toBe(3);
    expect(steps.undo).toHaveLength(3);
    const library = (await readLibrary(db, id))!;
    expect([library.name, library.groups[0].swatches.length]).toEqual(['Lines', 1201]);
    expect(library.groups[0].swatches[3]).toMatchObject({ name: 'Old rope', role: 'rail' });
    for (const query of ['old rope', 'brass', 'ol', 'close to #8a1c24'])
      expect([query, (await listLibraries(db, query)).map((l) => l.id)]).toEqual([query, [id]]);
    const lines = (await new Response(await streamLibrary(db, id, 'me')).text()).trimEnd().split('\n');
    expect(JSON.parse(lines.at(-1)!)).toEqual({ end: true });
    const picture = { id: 'p', name: 'Harbour.png', width: 4, height: 3, takes: [] };
    await keepPicture(db, id, picture, { mime: 'image/png', bytes: new Uint8Array([0, 255, 7]) });
    expect(Array.from((await readCopy(db, id, 'p'))!.bytes)).toEqual([0, 255, 7]);
  });

  it('does a change once when the reply to its commit is lost', async () => {
    const id = await createLibrary(db, ropes(3));
    const rows = (await readRows(db, id))!.rows;
    let lost = 0;
    server.cut = (statements) => statements.some((s) => /^COMMIT/i.test(s)) && lost++ === 0;
    const reply = await applyChanges(
      db,
      id,
      change(addSwatches(rows, rows.library.groups[0].id, [swatch('Once')])),
    );
    expect(lost).toBeGreaterThan(0);
    expect(reply).toMatchObject({ seq: 1, outcomes: [{ seq: 1 }] });
    expect((await readLibrary(db, id))!.groups[0].swatches).toHaveLength(4);
    expect((await historySize(db, id)).count).toBe(1);
  });

  it('does all of a change or nothing when the connection is lost on the way', async () => {
    const id = await createLibrary(db, ropes(3));
    const rows = (await readRows(db, id))!.rows;
    for (const part of [/^begin/i, /INSERT INTO swatches /i, /insert into "changes"/i]) {
      let lost = 0;
      server.cut = (statements) => statements.some((s) => part.test(s)) && lost++ === 0;
      const draft = setFields([rows.library.groups[0].swatches[0].id], { name: `Name ${part}` });
      const { outcomes } = await applyChanges(db, id, change(draft));
      expect(outcomes[0].seq).not.toBeNull();
      expect(lost).toBeGreaterThan(0);
    }
    expect((await historySize(db, id)).count).toBe(3);
    expect((await readLibrary(db, id))!.groups[0].swatches[0].name).toMatch(/insert/);
  });

  it('that goes away fails the change, and takes it when it is back', async () => {
    const id = await createLibrary(db, ropes(3));
    await server.stop();
    const sent = change(renameLibrary(id, 'Lines'));
    await expect(applyChanges(db, id, sent)).rejects.toThrow();
    await server.start();
    expect((await applyChanges(db, id, sent)).seq).toBe(1);
    expect((await readLibrary(db, id))?.name).toBe('Lines');
  });

  it('takes over a file, and gives it back, with everything in it', async () => {
    const file = `file:${join(folder, 'local.db')}`;
    const local = await openDatabase(file);
    const id = await createLibrary(local, ropes(700));
    await applyChanges(local, id, change(renameLibrary(id, 'Moved')));
    await keepPicture(
      local,
      id,
      { id: 'p', name: 'Harbour.png', width: 4, height: 3, takes: [] },
      { mime: 'image/png', bytes: new Uint8Array(3000).map((_, i) => i) },
    );
    // the bands are made when they are first looked at
    await listLibraries(local);
    const there = await copyDatabase(local, db);
    expect(await listLibraries(db)).toEqual(await listLibraries(local));
    expect(await readLibrary(db, id)).toEqual(await readLibrary(local, id));
    const back = await openDatabase(`file:${join(folder, 'back.db')}`);
    const again = await copyDatabase(db, back);
    expect(again).toEqual(there);
    expect(await readLibrary(back, id)).toEqual(await readLibrary(local, id));
    expect((await readCopy(back, id, 'p'))!.bytes.length).toBe(3000);
    expect((await listLibraries(back, 'halyard 12')).map((l) => l.id)).toEqual([id]);
    expect((await historySize(back, id)).count).toBe(1);
    expect((await connect(file)).$client.closed).toBe(false);
  });
});
