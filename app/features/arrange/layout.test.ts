import { expect, it } from 'vitest';
import { libraryOf } from '#core/testing';
import { layOut } from './layout';

const geometry = { columns: 3, lineHeight: 80, headHeight: 34 };
const many = (n: number) => Array.from({ length: n }, (_, i) => [`s${i}`, '#123456'] as [string, string]);

it('lays groups out in lines of so many swatches, one under the other', () => {
  const library = libraryOf('x', { '': many(2), Hull: many(7), Deck: [] });
  const lines = layOut(library, geometry);
  expect(lines.map((l) => [l.kind, l.group.name, l.kind === 'run' ? l.swatches.length : 0, l.top])).toEqual([
    ['head', '', 0, 6],
    ['run', '', 2, 40],
    ['head', 'Hull', 0, 120],
    ['run', 'Hull', 3, 154],
    ['run', 'Hull', 3, 234],
    ['run', 'Hull', 1, 314],
    ['head', 'Deck', 0, 394],
    ['empty', 'Deck', 0, 428],
  ]);
  expect(lines.flatMap((l) => (l.kind === 'run' ? [l.from] : []))).toEqual([0, 0, 3, 6]);
});

it('has no heading for the place of ungrouped swatches while that is empty', () => {
  expect(layOut(libraryOf('x', { '': [], Hull: many(1) }), geometry).map((l) => l.kind)).toEqual([
    'head',
    'run',
  ]);
});

it('is a line for each swatch in a list', () => {
  const lines = layOut(libraryOf('x', { Hull: many(4) }), { ...geometry, columns: 1 });
  expect(lines.filter((l) => l.kind === 'run').length).toBe(4);
});
