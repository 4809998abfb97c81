import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeEach, describe, expect, it, vi } from 'vitest';
import { fromRgb8 } from '../core/color/index.ts';
import {
  addSwatches,
  type Change,
  countingIds,
  type Draft,
  goBack,
  type Library,
  type LibraryRows,
  moveSwatches,
  removeGroup,
  removeSwatches,
  renameLibrary,
  type Swatch,
  setFields,
  sortSwatches,
  swatchOrders,
} from '../core/swatch/index.ts';
import { applyChanges, historySize, listHistory, newsOf, trimHistory, wayBack } from './changes.ts';
import type { Db } from './db.ts';
import { createLibrary, readLibrary, readRows } from './libraries.ts';
import { openDatabase } from './open.ts';

const folder = mkdtempSync(join(tmpdir(), 'papillon-changes-'));
afterAll(() => rmSync(folder, { recursive: true }));
let n = 0;
let url = '';
let db: Db;
let id = '';
const newId = countingIds('change-number-');
const swatch = (name: string): Swatch => ({ id: name, name, kind: 'process', color: fromRgb8(1, 2, 3) });
const ropes: Library = {
  id: 'x',
  name: 'Ropes',
  groups: [
    { id: 'none', name: '', swatches: [] },
    { id: 'g', name: 'Hull', swatches: ['a', 'b', 'c'].map(swatch) },
  ],
};
beforeEach(async () => {
  url = `file:${join(folder, `${n++}.db`)}`;
  db = await openDatabase(url);
  id = await createLibrary(db, ropes);
});

const rows = async () => (await readRows(db, id))!.rows;
const names = async () =>
  (await readLibrary(db, id))!.groups.map((g) => g.swatches.map((s) => s.name).join(' '));
const idOf = (r: LibraryRows, name: string) =>
  r.library.groups.flatMap((g) => g.swatches).find((s) => s.name === name)!.id;
/** A person who knows the library as it was when they last looked. */
const person = (by: string) => {
  let seen = 0;
  const send = async (...changes: Change[]) => {
    const reply = await applyChanges(db, id, { by, seen, changes });
    seen = reply.seq;
    return reply;
  };
  return {
    send,
    make: (draft: Draft) => send({ id: newId(), by, ...draft }),
    undo: (undoes: string) => send({ id: newId(), by, label: 'undo', ops: [], undoes }),
  };
};

describe('what is made and taken back before it is sent', () => {
  // as after work without a server, when all of it is sent at once
  const both = async (draft: Draft) => {
    const { send } = person('me');
    const edit = newId();
    return send(
      { id: edit, by: 'me', ...draft },
      { id: newId(), by: 'me', label: 'undo', ops: [], undoes: edit },
    );
  };

  it('brings a deleted swatch back to the group that it was in', async () => {
    const was = await readRows(db, id);
    await both(removeSwatches([idOf(await rows(), 'b')]));
    expect(await names()).toEqual(['', 'a b c']);
    expect((await readRows(db, id))!.rows.library).toEqual(was!.rows.library);
  });

  it('to one among many, and without a first group of no name', async () => {
    const r = await rows();
    const { make } = person('me');
    await make(removeGroup(r, r.library.groups[0]!.id));
    const before = (await rows()).library;
    const done = await both(removeSwatches(before.groups[0]!.swatches.map((s) => s.id)));
    expect(done.outcomes.map((o) => o.said)).toEqual([[], []]);
    expect((await rows()).library).toEqual(before);
  });

  it('and one that was moved', async () => {
    const r = await rows();
    await both(moveSwatches(r, [idOf(r, 'c')], r.library.groups[0]!.id, 0));
    expect(await names()).toEqual(['', 'a b c']);
  });

  it('three times over', async () => {
    const { send } = person('me');
    const before = (await rows()).library;
    const ids = [newId(), newId(), newId(), newId()];
    await send(
      { id: ids[0]!, by: 'me', ...removeSwatches([idOf(await rows(), 'a'), idOf(await rows(), 'c')]) },
      { id: ids[1]!, by: 'me', label: 'undo', ops: [], undoes: ids[0]! },
      { id: ids[2]!, by: 'me', label: 'redo', ops: [], undoes: ids[1]! },
      { id: ids[3]!, by: 'me', label: 'undo', ops: [], undoes: ids[2]! },
    );
    expect((await rows()).library).toEqual(before);
  });
});

describe('a change', () => {
  it('is done once, however often it is sent, and answered as the first time', async () => {
    const change = {
      id: 'change-once',
      by: 'me',
      ...addSwatches(await rows(), (await rows()).library.groups[1].id, [swatch('x')]),
    };
    const sent = { by: 'me', seen: 0, changes: [change] };
    const first = await applyChanges(db, id, sent);
    db = await openDatabase(url);
    const again = await applyChanges(db, id, sent);
    expect(again.outcomes).toEqual(first.outcomes);
    expect([first.seq, again.seq]).toEqual([1, 1]);
    expect(await names()).toEqual(['', 'a b c x']);
    expect(again.steps.undo).toHaveLength(1);
  });

  it('of two people on different fields both hold; on the same field the last holds, and is reported', async () => {
    const r = await rows();
    const [me, you] = [person('me'), person('you')];
    expect((await me.make(setFields([idOf(r, 'a')], { name: 'Mine' }))).outcomes[0].said).toEqual([]);
    const reply = await you.make(setFields([idOf(r, 'a')], { name: 'Yours', role: 'rail' }));
    expect(reply.outcomes[0].said).toEqual([
      'Someone had meanwhile named it “Mine”; your “Yours” took its place. The history has both.',
    ]);
    expect(reply.changes?.map((c) => [c.seq, c.by, c.ops?.length])).toEqual([
      [1, 'me', 1],
      [2, 'you', undefined],
    ]);
    expect((await newsOf(db, id, 1, 'me')).changes).toMatchObject([
      { seq: 2, by: 'you', ops: [{ op: 'set' }] },
    ]);
    expect(await names()).toEqual(['', 'Yours b c']);
  });

  it('adding at the end holds though another has shortened the group', async () => {
    const r = await rows();
    const mine = addSwatches(r, r.library.groups[1].id, [swatch('x')]);
    await person('you').make(removeSwatches([idOf(r, 'b'), idOf(r, 'c')]));
    expect((await person('me').make(mine)).outcomes[0]).toMatchObject({ seq: 2, said: [] });
    expect(await names()).toEqual(['', 'a x']);
  });

  it('that cannot be done is refused with the reason and leaves nothing behind', async () => {
    const r = await rows();
    await person('you').make(removeSwatches([idOf(r, 'a')]));
    const reply = await person('me').make(setFields([idOf(r, 'a')], { name: 'x' }));
    expect(reply.outcomes).toMatchObject([{ seq: null, said: ['1 swatch is no longer in the library.'] }]);
    expect(reply.seq).toBe(1);
    expect((await historySize(db, id)).count).toBe(1);
  });

  it('of ten thousand swatches is one, with one undo', async () => {
    const me = person('me');
    const make = countingIds('m');
    const many = Array.from({ length: 10_000 }, () => swatch(make()));
    const [, { id: group }] = (await rows()).library.groups;
    const before = await readLibrary(db, id);
    const added = await me.make(addSwatches(await rows(), group, many));
    const filled = await rows();
    const sorted = await me.make(
      sortSwatches(
        filled,
        many.map((s) => s.id),
        (a, b) => swatchOrders.name.by()(b, a),
        'name',
      ),
    );
    await me.make(
      moveSwatches(
        filled,
        many.map((s) => s.id),
        filled.library.groups[0].id,
        0,
      ),
    );
    expect((await readLibrary(db, id))!.groups.map((g) => g.swatches.length)).toEqual([10_000, 3]);
    const gone = await me.make(removeGroup(await rows(), group));
    expect(gone.steps.undo.map((s) => s.label)).toEqual([
      'add 10000 swatches',
      'sort 10000 swatches by name',
      'move 10000 swatches',
      'delete the group “Hull” with 3 swatches',
    ]);
    for (const step of [...gone.steps.undo].reverse())
      expect((await me.undo(step.id)).outcomes[0].said).toEqual([]);
    expect(await readLibrary(db, id)).toEqual(before);
    expect(added.changes?.[0].ops ?? sorted.changes?.[0].ops).toBeUndefined();
  });
});

describe('undo', () => {
  it('takes back one’s own, and never what another did', async () => {
    const r = await rows();
    const [me, you] = [person('me'), person('you')];
    const mine = await me.make(setFields([idOf(r, 'a')], { name: 'A' }));
    await you.make(setFields([idOf(r, 'b')], { name: 'B' }));
    expect((await me.make(setFields([idOf(r, 'c')], { name: 'C' }))).steps.undo).toHaveLength(2);
    await me.undo(mine.outcomes[0].id);
    expect(await names()).toEqual(['', 'a B C']);
  });

  it('tells what has been changed since, and leaves it', async () => {
    const r = await rows();
    const mine = await person('me').make(
      setFields(
        ['a', 'b'].map((s) => idOf(r, s)),
        { role: 'rail' },
      ),
    );
    await person('you').make(setFields([idOf(r, 'a')], { role: 'deck' }));
    const { outcomes } = await person('me').undo(mine.outcomes[0].id);
    expect(outcomes[0]).toMatchObject({
      seq: 3,
      said: ['1 swatch has been changed since and stays as it is.'],
    });
    const left = (await readLibrary(db, id))!.groups[1].swatches;
    expect(left.map((s) => s.role)).toEqual(['deck', undefined, undefined]);
  });

  it('gets past a change that others have made void, and tells it once', async () => {
    const r = await rows();
    const me = person('me');
    await me.make(setFields([idOf(r, 'b')], { name: 'B' }));
    await me.make(setFields([idOf(r, 'a')], { name: 'Mine' }));
    await person('you').make(setFields([idOf(r, 'a')], { name: 'Yours' }));
    let { steps } = await newsOf(db, id, 0, 'me');
    const first = await me.undo(steps.undo.at(-1)!.id);
    expect(first.outcomes[0].said).toEqual(['1 swatch has been changed since and stays as it is.']);
    ({ steps } = first);
    expect(steps.undo).toHaveLength(1);
    ({ steps } = await me.undo(steps.undo.at(-1)!.id));
    expect([steps.undo.length, steps.redo.length, await names()]).toEqual([0, 2, ['', 'Yours b c']]);
  });

  it('is not mixed up with a change of another library that has its id', async () => {
    const other = await createLibrary(db, ropes);
    const change = { id: 'change-twice', by: 'me', ...renameLibrary(id, 'Lines') };
    await applyChanges(db, id, { by: 'me', seen: 0, changes: [change] });
    const { outcomes, seq } = await applyChanges(db, other, { by: 'me', seen: 0, changes: [change] });
    expect([outcomes[0].seq, seq]).toEqual([null, 0]);
  });

  it('says why it cannot', async () => {
    const r = await rows();
    const me = person('me');
    const done = (await me.make(setFields([idOf(r, 'a')], { name: 'A' }))).outcomes[0].id;
    await me.undo(done);
    expect((await me.undo(done)).outcomes[0]).toMatchObject({
      seq: null,
      said: ['“rename 1 swatch” has been taken back already.'],
    });
    expect((await me.undo('change-never')).outcomes[0].said[0]).toMatch(/not in the history/);
  });

  it('goes back to the beginning and forward again, after a restart, for each library apart', async () => {
    const me = person('me');
    const r = await rows();
    for (let k = 0; k < 120; k++) await me.make(setFields([idOf(r, 'a')], { role: `r${k}` }));
    const other = await createLibrary(db, ropes);
    const { steps: theirs } = await applyChanges(db, other, {
      by: 'me',
      seen: 0,
      changes: [{ id: 'change-other', by: 'me', ...renameLibrary(other, 'Other') }],
    });
    await applyChanges(db, other, {
      by: 'me',
      seen: 1,
      changes: [{ id: 'change-undo', by: 'me', label: '', ops: [], undoes: theirs.undo[0].id }],
    });
    let { steps } = await newsOf(db, id, 0, 'me');
    let count = 0;
    for (; steps.undo.length > 0; count++) {
      if (count % 40 === 0) db = await openDatabase(url);
      steps = (await me.undo(steps.undo.at(-1)!.id)).steps;
    }
    expect(count).toBe(120);
    expect((await readLibrary(db, id))!.groups[1].swatches[0].role).toBeUndefined();
    for (; steps.redo.length > 0; count--) steps = (await me.undo(steps.redo.at(-1)!.id)).steps;
    expect(count).toBe(0);
    expect((await readLibrary(db, id))!.groups[1].swatches[0].role).toBe('r119');
    // what can be redone elsewhere is not touched by what happens here, a new change included
    expect((await me.make(setFields([idOf(r, 'a')], { role: 'last' }))).steps.redo).toEqual([]);
    expect((await newsOf(db, other, 0, 'me')).steps.redo).toHaveLength(1);
  });

  it('a new change ends what could be redone, also when it is taken back itself', async () => {
    const me = person('me');
    const r = await rows();
    const first = (await me.make(setFields([idOf(r, 'a')], { name: 'A' }))).outcomes[0].id;
    await me.undo(first);
    const second = await me.make(setFields([idOf(r, 'b')], { name: 'B' }));
    expect(second.steps).toMatchObject({ redo: [], undo: [{ label: 'rename 1 swatch' }] });
    const { steps } = await me.undo(second.outcomes[0].id);
    expect([steps.undo, steps.redo.length]).toEqual([[], 1]);
  });
});

describe('history', () => {
  it('lists what was done, when and to how many, and leads back to any state', async () => {
    const me = person('me');
    const states = [await readLibrary(db, id)];
    const r = await rows();
    for (const draft of [
      setFields([idOf(r, 'a'), idOf(r, 'b')], { role: 'rail' }),
      removeSwatches([idOf(r, 'c')]),
      renameLibrary(id, 'Lines'),
    ]) {
      await me.make(draft);
      states.push(await readLibrary(db, id));
    }
    const list = await listHistory(db, id, null);
    expect(list.map((e) => [e.seq, e.label, e.rows, e.by])).toEqual([
      [3, 'rename the library', 1, 'me'],
      [2, 'delete 1 swatch', 1, 'me'],
      [1, 'set the role of 2 swatches', 2, 'me'],
    ]);
    expect(Math.abs(list[0].at - Date.now())).toBeLessThan(60_000);
    expect((await listHistory(db, id, 3, 1)).map((e) => e.seq)).toEqual([2]);
    for (const [seq, state] of states.entries()) {
      const copy = (await rows()).copy();
      goBack(copy, (await wayBack(db, id, seq)).inverses);
      expect(copy.library).toEqual(state);
    }
  });

  it('is trimmed when the user says so: nothing of the library changes, and no change can come twice', async () => {
    const me = person('me');
    const r = await rows();
    const change = { id: 'change-first', by: 'me', ...setFields([idOf(r, 'a')], { name: 'A' }) };
    await me.send(change);
    await me.make(setFields([idOf(r, 'b')], { name: 'B' }));
    expect(await trimHistory(db, id, 1)).toBe(1);
    expect(await names()).toEqual(['', 'A B c']);
    expect((await listHistory(db, id, null)).map((e) => e.seq)).toEqual([2]);
    expect(await historySize(db, id)).toEqual({ count: 1, first: 2 });
    const again = await me.send(change);
    expect([again.seq, again.outcomes[0].seq, again.steps.undo.length]).toEqual([2, 1, 1]);
    await expect(wayBack(db, id, 0)).rejects.toThrow(/removed/);
    expect((await me.undo('change-first')).outcomes[0].said[0]).toMatch(/too long ago/);
  });

  it('a page that knows nothing of it, too little or more than there is, has to read the library again', async () => {
    const me = person('me');
    const r = await rows();
    await me.make(setFields([idOf(r, 'a')], { name: 'A' }));
    expect((await newsOf(db, id, 0, 'me')).changes).toHaveLength(1);
    expect((await newsOf(db, id, 9, 'me')).changes).toBeNull();
    await trimHistory(db, id, 1);
    expect((await newsOf(db, id, 0, 'me')).changes).toBeNull();
    expect((await newsOf(db, id, 1, 'me')).changes).toEqual([]);
  });
});

describe('all or nothing', () => {
  it('of a change and what counts and finds it, when writing breaks off in the middle', async () => {
    const r = await rows();
    const before = await readLibrary(db, id);
    const draft = addSwatches(r, r.library.groups[1].id, [swatch('x')]);
    for (const at of ['swatches', 'libraries', 'changes']) {
      const when = at === 'libraries' ? 'UPDATE' : 'INSERT';
      await db.$client.execute(
        `CREATE TRIGGER broken BEFORE ${when} ON ${at} BEGIN SELECT RAISE(ABORT, 'the disk is full'); END`,
      );
      await expect(person('me').make(draft)).rejects.toThrow();
      await db.$client.execute('DROP TRIGGER broken');
      expect(await readLibrary(db, id)).toEqual(before);
      expect((await historySize(db, id)).count).toBe(0);
      expect(
        (await db.$client.execute('SELECT rowid FROM swatch_search WHERE swatch_search MATCH \'"010203"\''))
          .rows,
      ).toHaveLength(3);
    }
    await person('me').make(draft);
    expect(await names()).toEqual(['', 'a b c x']);
  });

  it('a database is written through a journal, synchronously', async () => {
    const read = async (pragma: string) =>
      Object.values((await db.$client.execute(`PRAGMA ${pragma}`)).rows[0])[0];
    expect([await read('journal_mode'), await read('synchronous')]).toEqual(['wal', 2]);
  });
});

describe('what many send at once', () => {
  const people = Array.from({ length: 40 }, (_, i) => `person-${i}`);

  it('is done in the order in which it came, each once, and every page hears of all of it', async () => {
    const r = await rows();
    const [a, b, c] = ['a', 'b', 'c'].map((name) => idOf(r, name));
    const places = [a, b, c];
    const changes = people.map((by, i) => ({
      ...{ id: newId(), by },
      ...setFields([places[i % 3]!], { name: `${by} was here` }),
    }));
    const send = () =>
      Promise.all(changes.map((one) => applyChanges(db, id, { by: one.by, seen: 0, changes: [one] })));
    const replies = await send();
    expect(replies.map((reply) => reply.outcomes[0]!.seq)).toEqual(people.map((_, i) => i + 1));
    // the last ones hold, and each names the one before it
    expect(await names()).toEqual(['', 'person-39 was here person-37 was here person-38 was here']);
    expect(replies[39]!.outcomes[0]!.said).toEqual([expect.stringMatching(/named it “person-36 was here”/)]);
    replies.forEach((reply, i) => {
      // of all but their own with what they did
      expect(reply.changes!.flatMap((one) => (one.ops ? [] : [one.by]))).toEqual([people[i]]);
      expect(reply.changes!.map((one) => one.seq)).toEqual(
        Array.from({ length: reply.seq }, (_, n) => n + 1),
      );
      expect(reply.steps.undo).toEqual([{ id: changes[i]!.id, label: changes[i]!.label }]);
    });
    // sent again, as after replies that were lost
    expect((await send()).map((reply) => reply.outcomes)).toEqual(replies.map((reply) => reply.outcomes));
    expect((await historySize(db, id)).count).toBe(40);
  });

  it('takes few requests, and what one of them sends wrongly is their own affair', async () => {
    const { epoch } = await newsOf(db, id, 0, 'me');
    const batch = vi.spyOn(db.$client, 'batch');
    const sent = people.map((by, i) => ({
      ...{ by, seen: 0, epoch: i === 7 ? 'another' : epoch },
      changes: [
        { id: newId(), by, ...(i === 9 ? setFields(['gone'], { name: 'x' }) : renameLibrary(id, by)) },
      ],
    }));
    const settled = await Promise.allSettled(sent.map((one) => applyChanges(db, id, one)));
    expect(batch.mock.calls.length).toBeLessThan(10);
    expect(settled.flatMap((s, i) => (s.status === 'rejected' ? [[i, s.reason.name]] : []))).toEqual([
      [7, 'OtherDatabaseError'],
    ]);
    const seqs = settled.map((s) => s.status === 'fulfilled' && s.value.outcomes[0]!.seq);
    expect([seqs[8], seqs[9], seqs[10], seqs[39]]).toEqual([8, null, 9, 38]);
    expect((await readLibrary(db, id))!.name).toBe('person-39');
    // of a library that is gone, the one who means other data is not refused
    const gone = await Promise.allSettled(
      [epoch, 'another'].map((of) => applyChanges(db, 'gone', { ...sent[0]!, epoch: of })),
    );
    expect(gone.map((s) => s.status === 'rejected' && s.reason.name)).toEqual([
      'RefusedError',
      'OtherDatabaseError',
    ]);
  });

  it('holds where one of them cannot be worked with', async () => {
    const r = await rows();
    const [a, b, c] = ['a', 'b', 'c'].map((name) => idOf(r, name));
    const send = (by: string, at: string, fields: object) =>
      applyChanges(db, id, {
        ...{ by, seen: 0 },
        changes: [
          { id: newId(), by, label: 'x', ops: [{ op: 'set', of: 'swatch', id: at, fields: { ...fields } }] },
        ],
      });
    // nothing that is checked at the door is like this; what is left of it must not take others along
    const color = { space: 'none such', components: [1] };
    const settled = await Promise.allSettled([
      send('me', a!, { name: 'Mine' }),
      send('you', b!, { color }),
      send('they', c!, { name: 'Theirs' }),
    ]);
    expect(settled.map((s) => s.status)).toEqual(['fulfilled', 'rejected', 'fulfilled']);
    expect(await names()).toEqual(['', 'Mine b Theirs']);
    expect((await historySize(db, id)).count).toBe(2);
  });

  it('is taken back by each for themselves, also while others write', async () => {
    const r = await rows();
    const [a, b] = ['a', 'b'].map((name) => idOf(r, name));
    const [mine, yours] = [newId(), newId()];
    const reply = await Promise.all([
      applyChanges(db, id, {
        ...{ by: 'me', seen: 0 },
        changes: [{ id: mine, by: 'me', ...setFields([a!], { name: 'Mine' }) }],
      }),
      applyChanges(db, id, {
        ...{ by: 'you', seen: 0 },
        changes: [{ id: yours, by: 'you', ...setFields([b!], { name: 'Yours' }) }],
      }),
      applyChanges(db, id, {
        ...{ by: 'me', seen: 0 },
        changes: [{ id: newId(), by: 'me', label: 'undo', ops: [], undoes: mine }],
      }),
    ]);
    expect(reply.map((one) => one.outcomes[0]!.seq)).toEqual([1, 2, 3]);
    expect(await names()).toEqual(['', 'a Yours c']);
    expect(reply[2]!.steps).toMatchObject({ undo: [], redo: [{ of: mine }] });
    expect(reply[1]!.steps.undo).toMatchObject([{ id: yours }]);
  });
});

describe('what a page sends', () => {
  it('for other data than there are is not looked at: the library may be another of the same id', async () => {
    const { epoch } = await newsOf(db, id, 0, 'me');
    const change = { id: newId(), by: 'me', ...renameLibrary(id, 'Lines') };
    const sent = { by: 'me', seen: 0, changes: [change] };
    await expect(applyChanges(db, id, { ...sent, epoch: 'another' })).rejects.toThrow(/different data/);
    // also of a library that is not here, which would end it
    await expect(applyChanges(db, 'gone', { ...sent, epoch: 'another' })).rejects.toThrow(/different data/);
    expect((await readLibrary(db, id))!.name).toBe('Ropes');
    expect((await applyChanges(db, id, { ...sent, epoch })).outcomes[0]!.seq).toBe(1);
  });

  it('in one go is done in its order: an edit, its undo, and what does it again', async () => {
    const me = person('me');
    const [edit, undo, redo, again] = [newId(), newId(), newId(), newId()];
    const { outcomes, steps, seq } = await me.send(
      { id: edit, by: 'me', ...renameLibrary(id, 'Lines') },
      { id: undo, by: 'me', label: 'undo', ops: [], undoes: edit },
      { id: redo, by: 'me', label: 'redo', ops: [], undoes: undo },
      { id: again, by: 'me', label: 'undo', ops: [], undoes: edit },
    );
    expect(outcomes.map((o) => o.seq)).toEqual([1, 2, 3, 4]);
    expect([(await readLibrary(db, id))!.name, seq]).toEqual(['Ropes', 4]);
    // done again, and taken back again: each is known as what it is, after a restart too
    expect(steps).toMatchObject({ undo: [], redo: [{ id: again, of: edit }] });
    db = await openDatabase(url);
    expect((await listHistory(db, id, null)).find((e) => e.id === edit)!.undone).toBe(true);
    const { outcomes: more } = await person('me').undo(again);
    expect(more[0]!.seq).toBe(5);
    expect((await readLibrary(db, id))!.name).toBe('Lines');
    // what is done again counts as standing, so that it can be taken back once more
    expect((await listHistory(db, id, null)).find((e) => e.id === edit)!.undone).toBe(false);
    expect((await newsOf(db, id, 5, 'me')).steps.undo.map((s) => s.id)).toEqual([edit]);
  });

  it('is counted from the library’s own changes alone: a page that knows more than there are reads all of it again', async () => {
    await person('you').make(renameLibrary(id, 'One'));
    await person('you').make(renameLibrary(id, 'Two'));
    // as many changes as are missing lie after that number, but in another library
    const other = await createLibrary(db, ropes);
    for (const name of ['A', 'B', 'C'])
      await applyChanges(db, other, {
        by: 'you',
        seen: 0,
        changes: [{ id: newId(), by: 'you', ...renameLibrary(other, name) }],
      });
    const reply = await applyChanges(db, id, {
      by: 'me',
      seen: 9,
      changes: [{ id: newId(), by: 'me', ...renameLibrary(id, 'Mine') }],
    });
    expect([reply.changes, reply.seq]).toEqual([null, 3]);
    expect((await newsOf(db, id, 4, 'me')).changes).toBeNull();
    expect((await newsOf(db, id, 3, 'me')).changes).toEqual([]);
  });

  it('moves a swatch whose group is gone to one of its own, wherever the one before has gone', async () => {
    const me = person('me');
    const homeless = async (name: string) => {
      const before = await rows();
      const fields = { name, kind: 'process', color: fromRgb8(9, 9, 9), group: 'gone', order: 'a0' };
      const ops = [{ op: 'put' as const, of: 'swatch' as const, id: name, fields }];
      const applied = before.apply(ops);
      await me.make({ label: 'add', ops });
      // what the page shows is what is there
      expect((await rows()).library.groups).toEqual(before.library.groups);
      return applied;
    };
    await me.make({
      label: 'name',
      ops: [{ op: 'set', of: 'group', id: (await rows()).library.groups[0]!.id, fields: { name: 'Named' } }],
    });
    await homeless('first');
    expect((await rows()).library.groups[0]).toMatchObject({ id: 'loose', name: '' });
    await me.make({
      label: 'name',
      ops: [{ op: 'set', of: 'group', id: 'loose', fields: { name: 'Kept', order: 'zz0' } }],
    });
    await homeless('second');
    const { groups } = (await rows()).library;
    expect(groups.map((g) => [g.name, g.swatches.map((s) => s.name).join(' ')])).toContainEqual([
      'Kept',
      'first',
    ]);
    expect(groups[0]).toMatchObject({ id: 'loose-2', name: '', swatches: [{ name: 'second' }] });
  });
});

it('two servers that edit one library at once are each done, once, whichever was faster', async () => {
  const servers = [db, await openDatabase(url)];
  const sent = Array.from({ length: 60 }, (_, i) => ({
    id: newId(),
    by: 'me',
    ...renameLibrary(id, `Name ${i}`),
  }));
  const replies = await Promise.all(
    sent.map((change, i) => applyChanges(servers[i % 2]!, id, { by: 'me', seen: 0, changes: [change] })),
  );
  expect(replies.map((r) => r.outcomes[0]!.seq).sort((a, b) => a! - b!)).toEqual(sent.map((_, i) => i + 1));
  const entries = await listHistory(db, id, null);
  expect(new Set(entries.map((e) => e.id)).size).toBe(60);
  // the last of them is what both show
  const last = sent.findIndex((c) => c.id === entries[0]!.id);
  for (const server of servers) expect((await readLibrary(server, id))!.name).toBe(`Name ${last}`);
});
