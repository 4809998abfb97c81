import { expect, it } from 'vitest';
import { libraryOf } from '#core/testing';
import { type Geometry, layOut } from './layout';

const geometry = { columns: 3, lineHeight: 80, headHeight: 34 };
const linesOf = (library: Parameters<typeof layOut>[0], geometry: Geometry) => {
  const layout = layOut(library, geometry);
  return Array.from({ length: layout.count }, (_, i) => layout.line(i));
};
const many = (n: number) => Array.from({ length: n }, (_, i) => [`s${i}`, '#123456'] as [string, string]);

it('lays groups out in lines of a number of swatches, one under the other', () => {
  const library = libraryOf('x', { '': many(2), Hull: many(7), Deck: [] });
  const lines = linesOf(library, geometry);
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
  expect(linesOf(libraryOf('x', { '': [], Hull: many(1) }), geometry).map((l) => l.kind)).toEqual([
    'head',
    'run',
  ]);
});

it('is a line for each swatch in a list', () => {
  const lines = linesOf(libraryOf('x', { Hull: many(4) }), { ...geometry, columns: 1 });
  expect(lines.filter((l) => l.kind === 'run').length).toBe(4);
});

it('finds the line of a swatch, of a heading and at a height', () => {
  const library = libraryOf('x', { '': many(2), Hull: many(7), Deck: [] });
  const layout = layOut(library, geometry);
  const [, hull, deck] = library.groups;
  expect(hull.swatches.map((_, i) => layout.lineOf(hull.id, i))).toEqual([3, 3, 3, 4, 4, 4, 5]);
  expect([layout.headOf(hull.id), layout.headOf(deck.id), layout.headOf('gone')]).toEqual([2, 6, -1]);
  for (let i = 0; i < layout.count; i++) {
    const { top, height } = layout.line(i);
    expect([layout.lineAtHeight(top), layout.lineAtHeight(top + height - 1), layout.heightAt(i)]).toEqual([
      i,
      i,
      height,
    ]);
  }
  expect([layout.lineAtHeight(-5), layout.lineAtHeight(1e6)]).toEqual([0, layout.count - 1]);
});

it('keeps its shape when names change, and not when places do', () => {
  const shapeOf = (n: number, name = 's') =>
    layOut(libraryOf('x', { Hull: many(n).map(([s, hex]) => [s + name, hex] as [string, string]) }), geometry)
      .shape;
  expect(shapeOf(4)).toBe(shapeOf(4, 'other'));
  expect(shapeOf(4)).toBe(shapeOf(5));
  expect(shapeOf(4)).not.toBe(shapeOf(7));
});
