import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { parseColor } from '../color/index.ts';
import { anyLibrary, coated, libraryOf } from '../testing.ts';
import { type BoardObject, boardsOf, emptyBoard } from './board.ts';
import { undoOps } from './change.ts';
import { compareForMerge, type Keep, MEETINGS, mergeLibrary } from './merge.ts';
import { allSwatches, countingIds, countSwatches, type Group, type Library } from './model.ts';
import { LibraryRows } from './rows.ts';
import { asOne } from './together.ts';

const mine = libraryOf('Mine', {
  '': [['Paper', '#ffffff']],
  Hull: [
    ['Navy', '#14304a'],
    ['Red', '#b3262b'],
  ],
});
const theirs = libraryOf('Theirs', {
  Hull: [
    ['Navy', '#14304a'],
    ['Red', '#c03030'],
    ['Gold', '#d9a441'],
  ],
  Deck: [
    ['Sheet', '#ffffff'],
    ['Teak', '#6d4a2c'],
  ],
});
const merged = (keep: Record<(typeof MEETINGS)[number], Keep>) => {
  const rows = LibraryRows.of(mine);
  rows.apply(
    mergeLibrary(rows, theirs, compareForMerge(mine, theirs, coated), keep, countingIds('new-'))!.ops,
  );
  const { library: after } = rows;
  return after.groups.map((g) => [g.name, ...g.swatches.map((s) => s.name)].join(' '));
};

describe('merging', () => {
  it('tells what is alike, what only shares the name, and what only the colour', () => {
    const { meetings, fresh } = compareForMerge(mine, theirs, coated);
    expect(meetings.map((m) => [m.kind, m.mine.name, m.theirs.name])).toEqual([
      ['same', 'Navy', 'Navy'],
      ['name', 'Red', 'Red'],
      ['color', 'Paper', 'Sheet'],
    ]);
    expect(fresh.map((s) => s.name)).toEqual(['Gold', 'Teak']);
  });

  it('keeps mine: only what is new comes, in the group of its name', () => {
    expect(merged({ same: 'mine', name: 'mine', color: 'mine' })).toEqual([
      ' Paper',
      'Hull Navy Red Gold',
      'Deck Teak',
    ]);
  });

  it('brings boards along, which show the swatches and groups as they are here', () => {
    const [hull, deck] = theirs.groups as [Group, Group];
    const object = (of: 'swatch' | 'group', ref: string): BoardObject => ({
      ...{ id: `${of} ${ref}`, of, refs: [ref], name: '', weight: 2 },
    });
    const board = emptyBoard('theirs', 'Livery', [
      object('swatch', hull.swatches[0]!.id),
      object('group', hull.id),
      object('group', deck.id),
    ]);
    const known = ({ groups }: Library) =>
      new Set(groups.flatMap((g) => [g.id, ...g.swatches.map((s) => s.id)]));
    const withBoard = { ...theirs, items: [board] };
    const rows = LibraryRows.of(mine);
    const keep = { same: 'mine', name: 'mine', color: 'both' } as const;
    const draft = () =>
      mergeLibrary(
        rows,
        withBoard,
        compareForMerge(rows.library, withBoard, coated),
        keep,
        countingIds('new-'),
      );
    rows.apply(draft()!.ops);
    const [came, ...others] = boardsOf(rows.library);
    expect(others).toEqual([]);
    const refs = came!.data.objects.flatMap((o) => o.refs);
    expect(refs.length).toBe(3);
    for (const id of refs) expect(known(rows.library).has(id)).toBe(true);
    const one = asOne([mine, withBoard], 'One', countingIds('one-'));
    const [again] = boardsOf(one);
    for (const o of again!.data.objects) expect(known(one).has(o.refs[0]!)).toBe(true);
  });

  it('keeps both', () => {
    expect(merged({ same: 'both', name: 'both', color: 'both' })).toEqual([
      ' Paper',
      'Hull Navy Red Navy Red Gold',
      'Deck Sheet Teak',
    ]);
  });

  it('takes theirs, in the places of mine', () => {
    expect(merged({ same: 'mine', name: 'theirs', color: 'theirs' })).toEqual([
      ' Sheet',
      'Hull Navy Red Gold',
      'Deck Teak',
    ]);
    const rows = LibraryRows.of(mine);
    const keep = { same: 'mine', name: 'theirs', color: 'mine' } as const;
    rows.apply(
      mergeLibrary(rows, theirs, compareForMerge(mine, theirs, coated), keep, countingIds('new-'))!.ops,
    );
    const red = allSwatches(rows.library).find((s) => s.name === 'Red');
    expect(red?.color).toEqual(parseColor('#c03030'));
  });

  it('has nothing to do where all is there already', () => {
    const keep = { same: 'mine', name: 'mine', color: 'mine' } as const;
    const comparison = compareForMerge(mine, mine, coated);
    expect(mergeLibrary(LibraryRows.of(mine), mine, comparison, keep, countingIds())).toBeNull();
  });

  it('of any two libraries: nothing is lost by keeping both, and undo brings back what was', () => {
    fc.assert(
      fc.property(
        anyLibrary(),
        anyLibrary(),
        fc.record(Object.fromEntries(MEETINGS.map((m) => [m, fc.constantFrom('both', 'mine', 'theirs')]))),
        (a, b, keep) => {
          const comparison = compareForMerge(a, b, coated);
          const chosen = keep as Record<(typeof MEETINGS)[number], Keep>;
          const rows = LibraryRows.of(a);
          const draft = mergeLibrary(rows, b, comparison, chosen, countingIds('new-'));
          if (!draft) return;
          const applied = rows.apply(draft.ops);
          const after = rows.library;
          const both = comparison.meetings.filter((m) => chosen[m.kind] === 'both').length;
          expect(countSwatches(after)).toBe(countSwatches(a) + comparison.fresh.length + both);
          rows.apply(undoOps(applied, rows).ops);
          expect(rows.library).toEqual(a);
        },
      ),
    );
  });
});
