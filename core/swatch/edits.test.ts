import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { anyLibrary, coated } from '../testing.ts';
import { checkChange } from './checks.ts';
import {
  addGroups,
  addSwatches,
  changeTo,
  countingIds,
  type Draft,
  duplicateSwatches,
  type Library,
  LibraryRows,
  moveGroup,
  moveSwatches,
  removeGroup,
  removeSwatches,
  renameGroup,
  renameLibrary,
  replaceSwatches,
  ShapeError,
  type Swatch,
  setFields,
  sortSwatches,
  swatchOrders,
  undoOps,
} from './index.ts';

const swatch = (id: string, red = 0): Swatch => ({
  id,
  name: id,
  kind: 'process',
  color: { space: 'rgb', components: [red, 0, 0] },
});
const library = (...groups: string[][]): Library => ({
  id: 'L',
  name: 'Ropes',
  groups: groups.map((ids, i) => ({
    id: `g${i}`,
    name: i ? `Group ${i}` : '',
    swatches: ids.map((id) => swatch(id)),
  })),
});
const ids = ({ library }: LibraryRows) => library.groups.map((g) => g.swatches.map((s) => s.id).join(''));
const travelled = ({ ops, label }: Draft) =>
  checkChange(JSON.parse(JSON.stringify({ id: 'change-1', by: 'me', label, ops }))).ops;
const start = library(['a', 'b', 'c'], ['d', 'e']);
const result = (make: (rows: LibraryRows) => Draft, from = start) => {
  const rows = LibraryRows.of(from);
  rows.apply(travelled(make(rows)));
  return ids(rows);
};

describe('edits', () => {
  it('adds at the end or at a place, never replacing', () => {
    expect(result((r) => addSwatches(r, 'g1', [swatch('x'), swatch('y')]))).toEqual(['abc', 'dexy']);
    expect(result((r) => addSwatches(r, 'g0', [swatch('x'), swatch('y')], 1))).toEqual(['axybc', 'de']);
  });

  it('replaces only when told to, in one change', () => {
    expect(result((r) => replaceSwatches(r, 'g0', [swatch('x')]))).toEqual(['x', 'de']);
  });

  it('moves a scattered selection to one place, in order', () => {
    expect(result((r) => moveSwatches(r, ['e', 'a'], 'g0', 2))).toEqual(['baec', 'd']);
    expect(result((r) => moveSwatches(r, ['a', 'b'], 'g0', 3))).toEqual(['cab', 'de']);
    expect(result((r) => moveSwatches(r, ['a', 'b'], 'g0', 1))).toEqual(['abc', 'de']);
    expect(result((r) => moveSwatches(r, ['a', 'b', 'c'], 'g1', 0))).toEqual(['', 'abcde']);
  });

  it('sorts a selection on its own places and leaves the rest', () => {
    const mixed = library(['c10', 'x', 'c9']);
    const by = swatchOrders.name.by();
    expect(result((r) => sortSwatches(r, ['c10', 'c9'], by, 'name'), mixed)).toEqual(['c9xc10']);
  });

  it('puts each copy behind its original, in crowded groups too', () => {
    const newId = countingIds('n');
    expect(result((r) => duplicateSwatches(r, new Set(['a', 'b', 'e']), newId))).toEqual(['an1bn2c', 'den3']);
    const rows = LibraryRows.of(start);
    const make = countingIds('m');
    for (let i = 0; i < 200; i++) rows.apply(duplicateSwatches(rows, new Set(['a']), make).ops);
    const expected = ['a', ...Array.from({ length: 200 }, (_, i) => `m${200 - i}`), 'b', 'c'];
    expect(rows.library.groups[0].swatches.map((s) => s.id)).toEqual(expected);
    const next = duplicateSwatches(rows, new Set(rows.library.groups[0].swatches.map((s) => s.id)), make);
    rows.apply(next.ops);
    expect(rows.library.groups[0].swatches.map((s) => s.id)).toEqual(
      expected.flatMap((id, i) => [id, next.made[i]]),
    );
  });

  it('one change, one sentence, however many swatches', () => {
    const many = Array.from({ length: 5000 }, (_, i) => swatch(`s${i}`));
    const rows = LibraryRows.of(start);
    const added = addSwatches(rows, 'g0', many);
    expect(added.label).toBe('add 5000 swatches');
    rows.apply(added.ops);
    expect(removeSwatches(many.map((s) => s.id)).label).toBe('delete 5000 swatches');
    expect(
      sortSwatches(
        rows,
        many.map((s) => s.id),
        swatchOrders.hue.by(coated),
        'hue',
      ).label,
    ).toBe('sort 5000 swatches by hue');
    expect(setFields(['a'], { role: null }).label).toBe('set the role of 1 swatch');
  });

  it('touches nothing of the library but what changes', () => {
    const rows = LibraryRows.of(start);
    const before = rows.library;
    rows.apply(setFields(['e'], { name: 'E', role: 'waterline' }).ops);
    expect(rows.library).not.toBe(before);
    expect(rows.library.groups[0]).toBe(before.groups[0]);
    expect(rows.library.groups[1].swatches[0]).toBe(before.groups[1].swatches[0]);
    expect(rows.library.groups[1].swatches[1]).toMatchObject({ name: 'E', role: 'waterline' });
    expect(before.groups[1].swatches[1].name).toBe('e');
  });

  it.each<[string, unknown]>([
    ['no step at all', { op: 'explode', of: 'swatch', id: 'a' }],
    ['an id that is a number', { op: 'drop', of: 'swatch', id: 1 }],
    ['a library put in', { op: 'put', of: 'library', id: 'L', fields: { name: 'x' } }],
    ['an order that nothing fits before', { op: 'set', of: 'swatch', id: 'a', fields: { order: '!' } }],
    ['a name taken away', { op: 'set', of: 'swatch', id: 'a', fields: { name: null } }],
    ['a field nobody knows', { op: 'set', of: 'swatch', id: 'a', fields: { size: 3 } }],
    [
      'a colour with too few numbers',
      { op: 'set', of: 'swatch', id: 'a', fields: { color: { space: 'cmyk', components: [1, 2] } } },
    ],
    ['a swatch without its place', { op: 'put', of: 'swatch', id: 'x', fields: { name: 'x', kind: 'spot' } }],
  ])('%s is refused at the boundary', (_, op) => {
    expect(() => checkChange({ id: 'change-1', by: '', label: '', ops: [op] })).toThrow(ShapeError);
  });
});

/** Any edit of a library, by a few numbers. */
function anyEdit(rows: LibraryRows, [kind, x, y, z]: number[]): Draft | null {
  const l = rows.library;
  const all = l.groups.flatMap((g) => g.swatches);
  const group = l.groups[x % Math.max(1, l.groups.length)];
  if (!group) return null;
  const some = all.filter((_, i) => (y >> (i % 20)) & 1).map((s) => s.id);
  const index = z % (group.swatches.length + 1);
  switch (kind % 10) {
    case 0:
      return addSwatches(rows, group.id, [swatch(`n${z}-${y}`), swatch(`m${z}-${y}`)], index);
    case 1:
      return removeSwatches(some);
    case 2:
      return moveSwatches(rows, some, group.id, index);
    case 3:
      return setFields(some, { name: `${y}`, role: z % 2 ? 'r' : null });
    case 4:
      return addGroups(rows, [{ id: `G${y}${z}`, name: 'new', swatches: [swatch(`g${y}${z}`)] }], x % 3);
    case 5:
      return removeGroup(rows, group.id);
    case 6:
      return moveGroup(rows, group.id, z % l.groups.length);
    case 7:
      return sortSwatches(rows, some, swatchOrders.lightness.by(coated), 'lightness');
    case 8:
      return z % 2 ? renameGroup(group.id, `${y}`) : renameLibrary(l.id, `${y}`);
    default:
      return replaceSwatches(rows, group.id, [swatch(`r${y}-${z}`)]);
  }
}
const anySeeds = (maxLength: number) =>
  fc.array(fc.tuple(fc.nat(), fc.nat(), fc.nat(), fc.nat()), { maxLength });

describe('any run of edits', () => {
  it('comes back through undo to the same library', () => {
    fc.assert(
      fc.property(anyLibrary(), anySeeds(12), (first, seeds) => {
        const rows = LibraryRows.of(first);
        const done = seeds.flatMap((seed) => {
          const draft = anyEdit(rows, seed);
          return draft ? [JSON.parse(JSON.stringify(rows.apply(travelled(draft))))] : [];
        });
        for (const applied of done.reverse()) {
          const { ops, kept } = undoOps(applied, rows);
          expect(kept).toEqual([]);
          rows.apply(ops);
        }
        expect(rows.library).toEqual(first);
      }),
    );
  });

  it('keeps the library what its rows say', () => {
    fc.assert(
      fc.property(anyLibrary(), anySeeds(12), (first, seeds) => {
        const rows = LibraryRows.of(first);
        for (const seed of seeds) rows.apply(anyEdit(rows, seed)?.ops ?? []);
        for (const group of rows.library.groups) {
          const places = rows.placesIn(group.id);
          for (const [i, { id, order }] of places.entries()) {
            expect(rows.find(id)).toMatchObject({ group: group.id, swatch: group.swatches[i] });
            if (i > 0) expect([places[i - 1].order, places[i - 1].id] < [order, id]).toBe(true);
          }
        }
      }),
    );
  });

  it('of one library makes another, and nothing of itself', () => {
    fc.assert(
      fc.property(anyLibrary(), anySeeds(10), anySeeds(10), (first, some, others) => {
        const [rows, target] = [LibraryRows.of(first), LibraryRows.of(first)];
        for (const seed of some) rows.apply(anyEdit(rows, seed)?.ops ?? []);
        for (const seed of others) target.apply(anyEdit(target, seed)?.ops ?? []);
        expect(changeTo(rows, rows.library)).toEqual([]);
        const ops = changeTo(rows, target.library);
        rows.apply(travelled({ label: '', ops }));
        expect(rows.library).toEqual(target.library);
      }),
    );
  });

  it('two people make, each on what they know, ends alike for both when all has come to both', () => {
    fc.assert(
      fc.property(anyLibrary(), anySeeds(8), anySeeds(8), (first, mine, theirs) => {
        // the server's order is mine first; they take their own back, lay mine under, and do theirs again
        const [server, here, there] = [1, 2, 3].map(() => LibraryRows.of(first));
        const sent = mine.flatMap((seed) => {
          const draft = anyEdit(here, seed);
          if (draft) here.apply(draft.ops);
          return draft ?? [];
        });
        const pending = theirs.flatMap((seed) => {
          const draft = anyEdit(there, seed);
          return draft ? [{ draft, applied: there.apply(draft.ops) }] : [];
        });
        for (const { ops } of sent) server.apply(ops);
        for (const { applied } of [...pending].reverse()) there.apply(applied.inverse);
        expect(there.library).toEqual(first);
        for (const { ops } of sent) there.apply(ops);
        for (const { draft } of pending) {
          server.apply(draft.ops);
          there.apply(draft.ops);
        }
        expect(there.library).toEqual(server.library);
      }),
    );
  });
});

it('changes only as many places as it must when one of many moves', () => {
  const rows = LibraryRows.of(library(Array.from({ length: 500 }, (_, i) => `s${i}`)));
  const [group] = rows.library.groups;
  const moved = [...group.swatches.slice(1, 400), group.swatches[0], ...group.swatches.slice(400)];
  const ops = changeTo(rows, { ...rows.library, groups: [{ ...group, swatches: moved }] });
  expect(ops).toMatchObject([{ op: 'set', id: 's0' }]);
});
