import { expect, it } from 'vitest';
import { LaterVersionError, stored } from './stored.ts';

const names = stored<{ names: string[]; kept: boolean }>([
  (old) => ({ list: old }),
  (old) => ({ names: (old as { list: string[] }).list, kept: true }),
]);

it('keeps the version, and brings every earlier one up to date', () => {
  const now = { names: ['Rope'], kept: false };
  expect(names.write(now)).toBe('{"v":2,"names":["Rope"],"kept":false}');
  expect(names.read(names.write(now))).toEqual(now);
  expect(names.read('["Rope"]')).toEqual({ names: ['Rope'], kept: true });
  expect(names.read('{"v":1,"list":["Rope"]}')).toEqual({ names: ['Rope'], kept: true });
});

it('does not guess at what a later version has kept', () => {
  expect(() => names.read('{"v":3}')).toThrow(LaterVersionError);
});
