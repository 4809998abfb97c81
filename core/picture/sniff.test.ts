import sharp from 'sharp';
import { expect, it } from 'vitest';
import { pictureType } from './sniff.ts';

const image = () => sharp({ create: { width: 3, height: 3, channels: 3, background: '#102030' } });

it.each([
  ['PNG', () => image().png().toBuffer()],
  ['JPEG', () => image().jpeg().toBuffer()],
  ['GIF', () => image().gif().toBuffer()],
  ['WebP', () => image().webp().toBuffer()],
  ['AVIF', () => image().avif().toBuffer()],
  ['TIFF', () => image().tiff().toBuffer()],
])('knows a real %s by its bytes', async (type, make) => {
  expect(pictureType(new Uint8Array(await make()))).toBe(type);
});

it('does not take text or a swatch file for a picture', () => {
  for (const text of ['BM is how a bitmap begins', 'GIMP Palette\n', 'ASEF', '#112233', ''])
    expect(pictureType(new TextEncoder().encode(text))).toBeNull();
  // a colour table whose first colour is a red begins like a JPEG XL
  const table = new Uint8Array(768).fill(255, 0, 1).fill(10, 1, 2);
  expect(pictureType(table)).toBeNull();
  expect(pictureType(table.subarray(0, 200), 768)).toBeNull();
});
