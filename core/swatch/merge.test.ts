import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { parseColor } from '../color/index.ts';
import { anyLibrary, libraryOf } from '../testing.ts';
import { applyEdit } from './edits.ts';
import { compareForMerge, type Keep, MEETINGS, mergeEdit } from './merge.ts';
import { allSwatches, countingIds, countSwatches } from './model.ts';

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
  const edit = mergeEdit(mine, theirs, compareForMerge(mine, theirs), keep, countingIds('new-'));
  const { library: after } = applyEdit(mine, edit!);
  return after.groups.map((g) => [g.name, ...g.swatches.map((s) => s.name)].join(' '));
};

describe('merging', () => {
  it('tells what is alike, what only shares the name, and what only the colour', () => {
    const { meetings, fresh } = compareForMerge(mine, theirs);
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
    const edit = mergeEdit(
      mine,
      theirs,
      compareForMerge(mine, theirs),
      { same: 'mine', name: 'theirs', color: 'mine' },
      countingIds('new-'),
    );
    const red = allSwatches(applyEdit(mine, edit!).library).find((s) => s.name === 'Red');
    expect(red?.color).toEqual(parseColor('#c03030'));
  });

  it('has nothing to do where all is there already', () => {
    const keep = { same: 'mine', name: 'mine', color: 'mine' } as const;
    expect(mergeEdit(mine, mine, compareForMerge(mine, mine), keep, countingIds())).toBeNull();
  });

  it('of any two libraries: nothing is lost by keeping both, and undo brings back what was', () => {
    fc.assert(
      fc.property(
        anyLibrary(),
        anyLibrary(),
        fc.record(Object.fromEntries(MEETINGS.map((m) => [m, fc.constantFrom('both', 'mine', 'theirs')]))),
        (a, b, keep) => {
          const comparison = compareForMerge(a, b);
          const chosen = keep as Record<(typeof MEETINGS)[number], Keep>;
          const edit = mergeEdit(a, b, comparison, chosen, countingIds('new-'));
          if (!edit) return;
          const { library: after, inverse } = applyEdit(a, edit);
          const both = comparison.meetings.filter((m) => chosen[m.kind] === 'both').length;
          expect(countSwatches(after)).toBe(countSwatches(a) + comparison.fresh.length + both);
          expect(applyEdit(after, inverse).library).toEqual(a);
        },
      ),
    );
  });
});
