import { describe, expect, it } from 'vitest';
import {
  addGroups,
  addSwatches,
  type Library,
  LibraryRows,
  moveSwatches,
  overwritten,
  removeGroup,
  removeSwatches,
  renameGroup,
  type Swatch,
  setFields,
  tellLost,
  tellOverwritten,
  tellSkipped,
  undoOps,
} from './index.ts';

const swatch = (id: string): Swatch => ({
  id,
  name: id,
  kind: 'process',
  color: { space: 'rgb', components: [0, 0, 0] },
});
const start: Library = {
  id: 'L',
  name: 'Ropes',
  groups: [
    { id: 'none', name: '', swatches: [] },
    { id: 'g', name: 'Hull', swatches: ['a', 'b', 'c'].map(swatch) },
  ],
};
const open = () => LibraryRows.of(start);
const ids = ({ library }: LibraryRows) => library.groups.map((g) => g.swatches.map((s) => s.id).join(''));

describe('what others have done meanwhile', () => {
  it('adding at the end holds when another has shortened the group', () => {
    const mine = addSwatches(open(), 'g', [swatch('x')]);
    const rows = open();
    rows.apply(removeSwatches(['b', 'c']).ops);
    expect(rows.apply(mine.ops).skipped).toEqual([]);
    expect(ids(rows)).toEqual(['', 'ax']);
  });

  it('what is gone is skipped and told, the rest is done', () => {
    const rows = open();
    rows.apply(removeSwatches(['b']).ops);
    const { skipped, ops } = rows.apply(setFields(['a', 'b'], { role: 'rail' }).ops);
    expect(ops).toHaveLength(1);
    expect(tellSkipped(skipped)).toEqual(['1 swatch is no longer in the library.']);
    expect(rows.find('a')?.swatch.role).toBe('rail');
  });

  it('a swatch for a group that is gone stands in no group instead of being lost', () => {
    const mine = addSwatches(open(), 'g', [swatch('x')]);
    const rows = open();
    rows.apply(removeGroup(rows, 'g').ops);
    const { skipped } = rows.apply(mine.ops);
    expect(ids(rows)).toEqual(['x']);
    expect(tellSkipped(skipped)[0]).toMatch(/deleted meanwhile: 1 swatch now stands in no group/);
    // and where the group does not exist, one is made before the others
    const bare = LibraryRows.of({ ...start, groups: [start.groups[1]] });
    bare.apply([...addGroups(bare, [{ id: 'h', name: 'Deck', swatches: [] }]).ops]);
    bare.apply(removeGroup(bare, 'g').ops);
    bare.apply(mine.ops);
    expect(bare.library.groups.map((g) => [g.name, g.swatches.length])).toEqual([
      ['', 1],
      ['Deck', 0],
    ]);
  });

  it('a group that another has put swatches in is not deleted', () => {
    const mine = removeGroup(open(), 'g');
    const rows = open();
    rows.apply(addSwatches(rows, 'g', [swatch('x')]).ops);
    const { skipped } = rows.apply(mine.ops);
    expect(ids(rows)).toEqual(['', 'x']);
    expect(tellSkipped(skipped)).toEqual(['1 group stays: someone has put swatches in it.']);
  });

  it('different fields of one swatch both hold; the same field is reported', () => {
    const [mine, theirs] = [setFields(['a'], { name: 'Mine' }).ops, setFields(['a'], { name: 'Theirs' }).ops];
    expect(overwritten(mine, setFields(['a'], { role: 'rail' }).ops)).toEqual([]);
    expect(overwritten(mine, setFields(['b'], { name: 'Theirs' }).ops)).toEqual([]);
    expect(overwritten(mine, setFields(['a'], { name: 'Mine' }).ops)).toEqual([]);
    const lost = overwritten(mine, theirs);
    expect(tellOverwritten(lost)).toMatch(/named it “Theirs”; your “Mine” took its place/);
    expect(tellLost(overwritten(theirs, mine))).toMatch(/renamed your “Mine” to “Theirs”/);
    expect(tellOverwritten(overwritten(removeSwatches(['a']).ops, theirs))).toMatch(/renamed 1 swatch/);
    const moved = overwritten(
      moveSwatches(open(), ['a'], 'none', 0).ops,
      moveSwatches(open(), ['a'], 'g', 3).ops,
    );
    expect(tellOverwritten(moved)).toMatch(/moved 1 swatch/);
  });
});

describe('undo', () => {
  it('takes back only what still has the values it gave, and tells the rest', () => {
    const rows = open();
    const mine = rows.apply(setFields(['a', 'b'], { name: 'Mine', role: 'rail' }).ops);
    rows.apply(setFields(['a'], { name: 'Theirs' }).ops);
    const { ops, kept } = undoOps(mine, rows);
    rows.apply(ops);
    expect([rows.find('a')?.swatch, rows.find('b')?.swatch]).toEqual([
      { ...swatch('a'), name: 'Theirs' },
      swatch('b'),
    ]);
    expect(tellSkipped(kept)).toEqual(['1 swatch has been changed since and stays as it is.']);
  });

  it('of adding leaves what others have changed, but for its place', () => {
    const rows = open();
    const mine = rows.apply(addSwatches(rows, 'g', ['x', 'y', 'z'].map(swatch)).ops);
    rows.apply(setFields(['x'], { name: 'Kept' }).ops);
    rows.apply(moveSwatches(rows, ['y'], 'g', 0).ops);
    rows.apply(undoOps(mine, rows).ops);
    expect(ids(rows)).toEqual(['', 'abcx']);
  });

  it('of deleting brings back what was there at that moment, with what others had given it', () => {
    const rows = open();
    rows.apply(setFields(['b'], { name: 'Theirs' }).ops);
    const mine = rows.apply(removeSwatches(['b']).ops);
    rows.apply(undoOps(mine, rows).ops);
    expect(ids(rows)).toEqual(['', 'abc']);
    expect(rows.find('b')?.swatch.name).toBe('Theirs');
  });

  it('of deleting a group brings it back with its swatches, in its place and with its name', () => {
    const rows = open();
    rows.apply(renameGroup('g', 'Deck').ops);
    const before = rows.library;
    const mine = rows.apply(removeGroup(rows, 'g').ops);
    rows.apply(undoOps(mine, rows).ops);
    expect(rows.library).toEqual(before);
  });
});

it('items beside the swatches are rows too', () => {
  const rows = LibraryRows.of({
    ...start,
    items: [{ id: 'i', kind: 'pairing', name: 'Rail', refs: ['a'], data: {} }],
  });
  const applied = rows.apply([
    { op: 'set', of: 'item', id: 'i', fields: { name: 'Rails' } },
    {
      op: 'put',
      of: 'item',
      id: 'j',
      fields: { order: 'Zz', kind: 'pairing', name: 'First', data: { n: 1 } },
    },
  ]);
  expect(rows.library.items?.map((i) => i.name)).toEqual(['First', 'Rails']);
  rows.apply(undoOps(applied, rows).ops);
  expect(rows.library.items).toEqual([{ id: 'i', kind: 'pairing', name: 'Rail', refs: ['a'], data: {} }]);
});
