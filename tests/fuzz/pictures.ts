import qoijs from 'qoijs';
import sharp, { type Sharp } from 'sharp';
import { decodePicture as decode } from '../../cli/picture.ts';
import { FormatError } from '../../core/formats/index.ts';
import { decodeHere, pictureType, sizeOf, spaceOf } from '../../core/picture/index.ts';
import { HEIC, JXL, PSD } from '../../core/picture/testing.ts';
import { decoders } from '../../core/testing.ts';

/** Small pictures of every kind that is read. */
export async function pictures(): Promise<Uint8Array<ArrayBuffer>[]> {
  const flag = () =>
    sharp({ create: { width: 24, height: 16, channels: 3, background: '#d9a441' } }).composite([
      { input: { create: { width: 9, height: 16, channels: 4, background: '#14304ac0' } }, left: 11, top: 0 },
    ]);
  const exif = (s: Sharp) =>
    s.withMetadata({ orientation: 6, exif: { IFD0: { Copyright: 'nobody', ImageDescription: 'a flag' } } });
  const made = await Promise.all(
    [
      flag().png(),
      flag().png({ palette: true }),
      flag().withIccProfile('p3').png(),
      flag().toColourspace('rgb16').png(),
      flag().jpeg(),
      exif(flag()).jpeg({ quality: 60 }),
      exif(flag().withIccProfile('p3')).jpeg({ progressive: true }),
      flag().toColourspace('cmyk').jpeg(),
      exif(flag().toColourspace('cmyk')).jpeg(),
      ...(['none', 'lzw', 'deflate', 'packbits', 'jpeg'] as const).map((compression) =>
        flag().flatten().tiff({ compression }),
      ),
      exif(flag()).tiff({ compression: 'lzw', predictor: 'horizontal' }),
      flag().toColourspace('rgb16').tiff({ compression: 'deflate' }),
      flag().toColourspace('b-w').tiff({ compression: 'lzw' }),
      flag().threshold().toColourspace('b-w').tiff({ bitdepth: 1, compression: 'none' }),
      flag().toColourspace('cmyk').tiff({ compression: 'lzw' }),
      flag().flatten().tiff({ compression: 'lzw', tile: true, tileWidth: 16, tileHeight: 16 }),
      flag().gif(),
      flag().webp(),
      flag().webp({ lossless: true }),
      flag().avif({ effort: 0 }),
    ].map((s) => s.toBuffer()),
  );
  const pixels = await flag().ensureAlpha().raw().toBuffer();
  const qoi = (channels: 3 | 4) => {
    const data = channels === 4 ? pixels : pixels.filter((_, i) => i % 4 !== 3);
    return qoijs.encode(new Uint8ClampedArray(data), { width: 24, height: 16, channels, colorspace: 0 });
  };
  const others = [
    bitmap(),
    qoi(3),
    qoi(4),
    ...Object.values(PSD).map((base64) => Buffer.from(base64, 'base64')),
    Buffer.from(HEIC, 'base64'),
    ...Object.values(JXL).map((hex) => Buffer.from(hex, 'hex')),
  ];
  return [...made, ...others].map((bytes) => new Uint8Array(bytes));
}

/** A bitmap of 24 bits, which sharp does not write. */
function bitmap(): Uint8Array<ArrayBuffer> {
  const [width, height] = [24, 16];
  const bytes = new Uint8Array(54 + width * height * 3).map((_, i) => i * 7);
  const view = new DataView(bytes.buffer);
  bytes.set([0x42, 0x4d, 0, 0, 0, 0, 0, 0, 0, 0, 54, 0, 0, 0, 40, 0, 0, 0]);
  view.setUint32(2, bytes.length, true);
  view.setInt32(18, width, true);
  view.setInt32(22, height, true);
  view.setUint16(26, 1, true);
  view.setUint16(28, 24, true);
  view.setUint32(30, 0, true);
  view.setUint32(34, width * height * 3, true);
  return bytes;
}

/** Decodes a picture to its pixels as the command line does. False when it is refused with a reason. */
export async function decodePicture(bytes: Uint8Array): Promise<boolean> {
  try {
    await decode('fuzzed', bytes);
    return true;
  } catch (error) {
    if (error instanceof FormatError) return false;
    throw error;
  }
}

/** Pictures that promise what they do not hold, or lead in circles. */
export function pictureShapes(): { name: string; bytes: Uint8Array<ArrayBuffer> }[] {
  type Entry = [tag: number, type: 3 | 4, count: number, value: number];
  const tiff = (entries: Entry[], more: { next?: number; first?: number; length?: number } = {}) => {
    const bytes = new Uint8Array(Math.max(more.length ?? 0, 14 + 12 * entries.length));
    const view = new DataView(bytes.buffer);
    bytes.set([0x49, 0x49, 42, 0]);
    view.setUint32(4, more.first ?? 8, true);
    view.setUint16(8, entries.length, true);
    entries.forEach(([tag, type, count, value], i) => {
      const at = 10 + 12 * i;
      view.setUint16(at, tag, true);
      view.setUint16(at + 2, type, true);
      view.setUint32(at + 4, count, true);
      if (type === 3) view.setUint16(at + 8, value, true);
      else view.setUint32(at + 8, value, true);
    });
    view.setUint32(10 + 12 * entries.length, more.next ?? 0, true);
    return bytes;
  };
  const rgb = (width: number, height: number, compression = 1): Entry[] => [
    [256, 4, 1, width],
    [257, 4, 1, height],
    [258, 3, 1, 8],
    [259, 3, 1, compression],
    [262, 3, 1, 2],
    [273, 4, 1, 8],
    [277, 3, 1, 3],
    [278, 4, 1, height],
    [279, 4, 1, 100],
  ];
  const of = (name: string, bytes: Uint8Array<ArrayBuffer>) => ({ name, bytes });
  const png = (width: number, height: number) => {
    const bytes = new Uint8Array(64);
    bytes.set([0x89, 0x50, 0x4e, 0x47, 13, 10, 26, 10, 0, 0, 0, 13, 0x49, 0x48, 0x44, 0x52]);
    new DataView(bytes.buffer).setUint32(16, width);
    new DataView(bytes.buffer).setUint32(20, height);
    return bytes;
  };
  return [
    of('TIFF: a second directory that is the first', tiff(rgb(2, 2), { next: 8, length: 200 })),
    of('TIFF: a directory at its own beginning', tiff(rgb(2, 2), { first: 0 })),
    of(
      'TIFF: directories inside itself',
      tiff([[330, 4, 1, 8], [34665, 4, 1, 8], ...rgb(2, 2)], { length: 200 }),
    ),
    of('TIFF: 65535 by 65535', tiff(rgb(65535, 65535), { length: 200 })),
    of('TIFF: 6000 by 6000 of nothing', tiff(rgb(6000, 6000), { length: 200 })),
    of('TIFF: 6000 by 6000 of nothing, packed', tiff(rgb(6000, 6000, 5), { length: 200 })),
    of(
      'TIFF: strips of no rows',
      tiff(
        rgb(100, 100).map((e): Entry => (e[0] === 278 ? [278, 4, 1, 0] : e)),
        { length: 200 },
      ),
    ),
    of(
      'TIFF: four thousand million values',
      tiff([[273, 4, 0xffffffff, 8], [279, 4, 0xffffffff, 8], [34675, 4, 0xffffffff, 8], ...rgb(2, 2)]),
    ),
    of(
      'TIFF: tiles of 65535',
      tiff([[322, 4, 1, 65535], [323, 4, 1, 65535], [324, 4, 1, 8], [325, 4, 1, 100], ...rgb(2, 2)], {
        length: 200,
      }),
    ),
    of(
      'TIFF: tiles of nothing',
      tiff([[322, 4, 1, 0], [323, 4, 1, 0], [324, 4, 1, 8], [325, 4, 1, 100], ...rgb(2, 2)], { length: 200 }),
    ),
    of(
      'TIFF: sixty thousand samples',
      tiff(
        rgb(2, 2).map((e): Entry => (e[0] === 277 ? [277, 3, 1, 60000] : e)),
        { length: 200 },
      ),
    ),
    of('PNG: 65535 by 65535', png(65535, 65535)),
    of(
      'PNG: chunks of no length',
      new Uint8Array(100_000).map((_, i) => (i < 8 ? [0x89, 0x50, 0x4e, 0x47, 13, 10, 26, 10][i] : 0)),
    ),
    of(
      'JPEG: segments of no length',
      new Uint8Array(100_000).map((_, i) => (i % 2 === 0 ? 0xff : i === 1 ? 0xd8 : 0xe1)),
    ),
    of(
      'WebP: chunks of no length',
      new Uint8Array(1_000_000).map((_, i) => 'RIFF\xff\xff\xff\xffWEBP'.charCodeAt(i) || 0),
    ),
    of(
      'AVIF: nothing but sizes',
      new Uint8Array(Buffer.from(`\0\0\0\x20ftypavif${'ispe'.repeat(20_000)}`, 'latin1')),
    ),
  ];
}

/** Reads a picture as the application does, up to where a browser or a system's decoder would take over. */
export async function readPicture(
  bytes: Uint8Array<ArrayBuffer>,
): Promise<'read' | 'left to others' | 'refused'> {
  const type = pictureType(bytes);
  // these may be damaged, but never throw
  sizeOf(bytes, type);
  spaceOf(bytes, type);
  try {
    return (await decodeHere(bytes, type, decoders)) ? 'read' : 'left to others';
  } catch (error) {
    if (!(error instanceof Error)) throw error;
    return 'refused';
  }
}
