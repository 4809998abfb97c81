import { describe, expect, it } from 'vitest';
import { parseColor } from '../color/index.ts';
import { checkLibrary } from '../swatch/checks.ts';
import { countingIds, type Library, LibraryRows } from '../swatch/index.ts';
import { libraryOf } from '../testing.ts';
import { checkById, leaveAlone, lookAgain } from './index.ts';
import { called, fixed, run } from './testing.ts';

describe('against', () => {
  const mine = libraryOf('now', {
    Hull: [
      ['Navy', '#14304a'],
      ['Kelp', '#2f7d6b'],
      ['New', '#ffcc00'],
    ],
  });
  const theirs = libraryOf('then', {
    Hull: [
      ['Navy', '#14304a'],
      ['Kelp', '#2f8d7b'],
      ['Old', '#8a1c24'],
    ],
  });

  it('tells what was added, is gone, is renamed and recoloured, and takes it back', async () => {
    const found = await run('against', mine, {}, { against: theirs });
    expect(
      found.findings.map(
        (f) => `${f.name} ${f.figure === 'gone' || f.figure === 'added' ? f.figure : 'differs'}`,
      ),
    ).toEqual(['Old gone', 'New added', 'Kelp differs']);
    const names = (l: Library) => l.groups.flatMap((g) => g.swatches.map((s) => s.name));
    expect(names(fixed(mine, found, 0))).toEqual(['Navy', 'Kelp', 'New', 'Old']);
    expect(names(fixed(mine, found, 1))).toEqual(['Navy', 'Kelp']);
    const back = fixed(mine, found, 2);
    expect((await run('against', back, {}, { against: theirs })).findings.map((f) => f.name)).toEqual([
      'Old',
      'New',
    ]);
  });

  it('pairs by id before all else: what was renamed and recoloured is reported as one', async () => {
    const now: Library = structuredClone(theirs);
    Object.assign(now.groups[0].swatches[1], { name: 'Weed', color: parseColor('#2f7d6b') });
    const found = await run('against', now, {}, { against: theirs });
    expect(found.findings.length).toBe(1);
    expect(found.findings[0].fixes.map((m) => m.label)).toEqual([
      'Take the colour from there',
      'Name it “Kelp”',
    ]);
  });
});

it('what is left alone stays so until the colour changes, and can be looked at again', async () => {
  const library = libraryOf('x', {
    '': [
      ['Lamp', '#00ff00'],
      ['Signal', '#ff0000'],
    ],
  });
  const check = checkById('press-gamut')!;
  const found = await run('press-gamut', library);
  const rows = LibraryRows.of(library);
  rows.apply(leaveAlone(rows, check, found.findings[0], countingIds('item-')).ops);
  const after = await run('press-gamut', checkLibrary(rows.library));
  expect([called(after), after.left, after.total]).toEqual([['Signal'], 1, 1]);
  rows.apply([
    { op: 'set', of: 'swatch', id: found.findings[0].swatches[0], fields: { color: parseColor('#11ff00') } },
  ]);
  expect((await run('press-gamut', rows.library)).total).toBe(2);
  rows.apply(lookAgain(rows, check).ops);
  expect(rows.library.items ?? []).toEqual([]);
});
