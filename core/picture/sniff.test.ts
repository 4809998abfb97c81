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
});
