import sharp from 'sharp';
import { expect, it } from 'vitest';
import { Directory } from './ifd.ts';
import {
  checkPictureBytes,
  checkPixels,
  PictureRefusedError,
  pictureType,
  sizeOf,
  spaceOf,
} from './index.ts';

it('sizes are read from the headers, as sharp reads them', async () => {
  const plain = () => sharp({ create: { width: 123, height: 45, channels: 4, background: '#d9a44180' } });
  for (const made of [
    plain().png(),
    plain().flatten().jpeg(),
    plain().flatten().jpeg({ progressive: true }),
    plain().gif(),
    plain().webp(),
    plain().webp({ lossless: true }),
    plain().flatten().webp(),
    plain().avif({ effort: 0 }),
  ]) {
    const bytes = new Uint8Array(await made.toBuffer());
    expect([pictureType(bytes), sizeOf(bytes, pictureType(bytes))]).toMatchObject([
      expect.any(String),
      { width: 123, height: 45 },
    ]);
    // cut off anywhere, it has no size or the same one, and never throws
    for (let n = 0; n < 60; n++) sizeOf(bytes.subarray(0, n), pictureType(bytes));
  }
});

it('what is too large is refused with what to do', () => {
  expect(() => checkPixels(40_000, 1000)).not.toThrow();
  expect(() => checkPixels(65_535, 65_535)).toThrow(/4295 megapixels; Papillon takes up to 40/);
  expect(() => checkPictureBytes(5e9)).toThrow(PictureRefusedError);
});

it('a profile that unpacks to more than any has is left out, in little time', async () => {
  const png = await sharp({ create: { width: 2, height: 2, channels: 3, background: 'red' } })
    .png()
    .toBuffer();
  const { deflateSync } = await import('node:zlib');
  const bomb = deflateSync(Buffer.alloc(300_000_000));
  const content = Buffer.concat([Buffer.from('a\0\0', 'latin1'), bomb]);
  const head = Buffer.alloc(8);
  head.writeUInt32BE(content.length);
  head.write('iCCP', 4);
  const file = Buffer.concat([png.subarray(0, 33), head, content, Buffer.alloc(4), png.subarray(33)]);
  const before = process.memoryUsage().arrayBuffers;
  expect(spaceOf(new Uint8Array(file), 'PNG').space?.name).toBe('sRGB');
  expect(process.memoryUsage().arrayBuffers - before).toBeLessThan(150_000_000);
});

it('of a directory only what lies inside the data is read', () => {
  const bytes = new Uint8Array(64);
  const view = new DataView(bytes.buffer);
  bytes.set([0x4d, 0x4d, 0, 42]);
  view.setUint32(4, 8);
  view.setUint16(8, 3);
  const entry = (i: number, tag: number, type: number, count: number, value: number) => {
    view.setUint16(10 + 12 * i, tag);
    view.setUint16(12 + 12 * i, type);
    view.setUint32(14 + 12 * i, count);
    view.setUint32(18 + 12 * i, value);
  };
  entry(0, 274, 3, 1, 6 << 16);
  entry(1, 273, 4, 0xffffffff, 8);
  entry(2, 700, 4, 4, 60);
  const directory = new Directory(bytes);
  expect([directory.number(274), directory.numbers(273), directory.data(700)]).toEqual([
    6,
    undefined,
    undefined,
  ]);
  expect(() => new Directory(bytes.subarray(0, 6))).toThrow(/no TIFF header/);
});
