import { expect, it } from 'vitest';
import { goBack, LibraryRows, STEPS_KNOWN, type Steps, setFields, stepsAfter } from './index.ts';

const none: Steps = { undo: [], redo: [] };
const run = (...changes: { id: string; undoes?: string }[]) =>
  changes.reduce((steps, c) => stepsAfter(steps, { label: c.id, ...c }), none);
const ids = ({ undo, redo }: Steps) => [undo.map((s) => s.id), redo.map((s) => s.of)];

it('undo goes back one by one, redo forward again', () => {
  const [a, b, c] = [{ id: 'a' }, { id: 'b' }, { id: 'c' }];
  const undone = run(a, b, c, { id: 'u1', undoes: 'c' }, { id: 'u2', undoes: 'b' });
  expect(ids(undone)).toEqual([['a'], ['c', 'b']]);
  const redone = stepsAfter(undone, { id: 'r1', label: '', undoes: undone.redo.at(-1)?.id });
  expect(ids(redone)).toEqual([['a', 'b'], ['c']]);
  expect(redone.undo.at(-1)?.label).toBe('b');
});

it('a new change ends what could be redone', () => {
  expect(ids(run({ id: 'a' }, { id: 'u', undoes: 'a' }, { id: 'b' }))).toEqual([['b'], []]);
});

it('a change in the middle can be taken back by its name, and comes back', () => {
  const steps = run({ id: 'a' }, { id: 'b' }, { id: 'c' }, { id: 'u', undoes: 'b' });
  expect(ids(steps)).toEqual([['a', 'c'], ['b']]);
  expect(ids(stepsAfter(steps, { id: 'r', label: '', undoes: 'u' }))).toEqual([['a', 'c', 'b'], []]);
});

it('what nobody knows changes nothing, and only so much is known', () => {
  expect(run({ id: 'u', undoes: 'x' })).toEqual(none);
  const many = Array.from({ length: STEPS_KNOWN + 5 }, (_, i) => ({ id: `c${i}` }));
  expect(run(...many).undo).toHaveLength(STEPS_KNOWN);
});

it('goes back to how a library was', () => {
  const color = { space: 'rgb' as const, components: [0, 0, 0] };
  const swatch = { id: 'a', name: 'first', kind: 'process' as const, color };
  const rows = LibraryRows.of({ id: 'L', name: '', groups: [{ id: 'g', name: '', swatches: [swatch] }] });
  const later = ['second', 'third'].map((name) => rows.apply(setFields(['a'], { name }).ops));
  const copy = rows.copy();
  goBack(copy, later.reverse());
  expect(copy.find('a')?.swatch.name).toBe('first');
  expect(rows.find('a')?.swatch.name).toBe('third');
});
