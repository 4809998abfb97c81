import { unzipSync } from 'fflate';
import { expect, it } from 'vitest';
import { zipped } from './download';

it('files of the same name do not replace each other in a zip', () => {
  const file = (name: string, byte: number) => ({ name, ending: 'gpl', bytes: Uint8Array.of(byte) });
  const entries = unzipSync(zipped([file('Ropes', 1), file('ropes', 2), file('a/b', 3), file('', 4)]));
  expect(Object.entries(entries).map(([name, bytes]) => [name, bytes[0]])).toEqual([
    ['Ropes.gpl', 1],
    ['ropes 2.gpl', 2],
    ['a-b.gpl', 3],
    ['palette.gpl', 4],
  ]);
});
