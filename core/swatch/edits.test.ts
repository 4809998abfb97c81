import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { anyLibrary } from '../testing.ts';
import {
  appendEdit,
  applyEdit,
  checkEdit,
  type Edit,
  EditError,
  type Library,
  moveEdit,
  replaceEdit,
  ShapeError,
  type Swatch,
  sortEdit,
  swatchOrders,
} from './index.ts';

const swatch = (id: string, hex = 0): Swatch => ({
  id,
  name: id,
  kind: 'process',
  color: { space: 'rgb', components: [hex, 0, 0] },
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
const ids = (l: Library) => l.groups.map((g) => g.swatches.map((s) => s.id).join(''));
const apply = (l: Library, edit: Edit) => applyEdit(l, checkEdit(edit)).library;

describe('edits', () => {
  const start = library(['a', 'b', 'c'], ['d', 'e']);

  it('adds at the end, never replacing', () => {
    expect(ids(apply(start, appendEdit(start, 'g1', [swatch('x'), swatch('y')])))).toEqual(['abc', 'dexy']);
  });

  it('replaces only when told to, in one edit that undo takes back', () => {
    const { library: next, inverse } = applyEdit(start, replaceEdit(start, 'g0', [swatch('x')]));
    expect(ids(next)).toEqual(['x', 'de']);
    expect(applyEdit(next, inverse).library).toEqual(start);
  });

  it('moves a scattered selection to one place, in order', () => {
    expect(ids(apply(start, moveEdit(start, ['e', 'a'], 'g0', 2)))).toEqual(['baec', 'd']);
    expect(ids(apply(start, moveEdit(start, ['a', 'b'], 'g0', 3)))).toEqual(['cab', 'de']);
    expect(ids(apply(start, moveEdit(start, ['a', 'b'], 'g0', 1)))).toEqual(['abc', 'de']);
    expect(ids(apply(start, moveEdit(start, ['a', 'b', 'c'], 'g1', 0)))).toEqual(['', 'abcde']);
  });

  it('sorts a selection on its own places and leaves the rest', () => {
    const mixed: Library = {
      ...start,
      groups: [{ id: 'g0', name: '', swatches: [swatch('c10'), swatch('x'), swatch('c9')] }],
    };
    expect(ids(apply(mixed, sortEdit(mixed, ['c10', 'c9'], swatchOrders.name.compare)))).toEqual(['c9xc10']);
  });

  it('sets and clears a role', () => {
    const set = applyEdit(start, { type: 'change', changes: [{ id: 'a', set: { role: 'waterline' } }] });
    expect(set.library.groups[0].swatches[0].role).toBe('waterline');
    expect(applyEdit(set.library, set.inverse).library).toEqual(start);
  });

  it.each<[string, Edit]>([
    ['a swatch that is gone', { type: 'remove', ids: ['z'] }],
    ['a group that is gone', { type: 'renameGroup', id: 'z', name: '' }],
    [
      'a place outside the group',
      { type: 'add', placements: [{ swatch: swatch('x'), group: 'g0', index: 9 }] },
    ],
    ['an id that is taken', { type: 'add', placements: [{ swatch: swatch('d'), group: 'g0', index: 0 }] }],
    ['the same swatch twice', { type: 'remove', ids: ['a', 'a'] }],
  ])('refuses %s and changes nothing', (_, edit) => {
    const before = structuredClone(start);
    expect(() => apply(start, edit)).toThrow(EditError);
    expect(start).toEqual(before);
  });

  it('refuses data that are no edit', () => {
    expect(() => checkEdit({ type: 'explode' })).toThrow(ShapeError);
    expect(() => checkEdit({ type: 'remove', ids: [1] })).toThrow(ShapeError);
    expect(() =>
      checkEdit({
        type: 'change',
        changes: [{ id: 'a', set: { color: { space: 'cmyk', components: [1, 2] } } }],
      }),
    ).toThrow(ShapeError);
  });

  it('any run of edits comes back through its inverses to the same library', () => {
    const anyEdit = (l: Library, [kind, x, y, z]: number[]): Edit | null => {
      const all = l.groups.flatMap((g) => g.swatches);
      const group = l.groups[x % l.groups.length];
      const some = all.filter((_, i) => (y >> (i % 20)) & 1).map((s) => s.id);
      const index = z % (group.swatches.length + 1);
      switch (kind % 9) {
        case 0:
          return { type: 'add', placements: [{ swatch: swatch(`n${z}-${y}`), group: group.id, index }] };
        case 1:
          return { type: 'remove', ids: some };
        case 2:
          return moveEdit(l, some, group.id, index);
        case 3:
          return {
            type: 'change',
            changes: some.map((id) => ({ id, set: { name: `${y}`, role: z % 2 ? 'r' : null } })),
          };
        case 4:
          return {
            type: 'addGroup',
            group: { id: `G${y}${z}`, name: 'new', swatches: [] },
            index: x % (l.groups.length + 1),
          };
        case 5:
          return l.groups.length > 1 ? { type: 'removeGroup', id: group.id } : null;
        case 6:
          return { type: 'moveGroup', id: group.id, index: z % l.groups.length };
        case 7:
          return sortEdit(l, some, swatchOrders.lightness.compare);
        default:
          return replaceEdit(l, group.id, [swatch(`r${y}-${z}`)]);
      }
    };
    const seeds = fc.array(fc.tuple(fc.nat(), fc.nat(), fc.nat(), fc.nat()), { maxLength: 12 });
    fc.assert(
      fc.property(anyLibrary(), seeds, (first, list) => {
        let current = first;
        const back: Edit[] = [];
        for (const seed of list) {
          const edit = anyEdit(current, seed);
          if (!edit) continue;
          try {
            const applied = applyEdit(current, checkEdit(JSON.parse(JSON.stringify(edit))));
            current = applied.library;
            back.unshift(JSON.parse(JSON.stringify(applied.inverse)));
          } catch (error) {
            // two random ids may meet
            expect(error).toBeInstanceOf(EditError);
          }
        }
        for (const edit of back) current = applyEdit(current, checkEdit(edit)).library;
        expect(current).toEqual(first);
      }),
    );
  });
});
