import { fileURLToPath } from 'node:url';
import { encode as encodeQoi } from 'qoijs';
import sharp, { type Sharp } from 'sharp';
import { describe, expect, it } from 'vitest';
import { deltaE00, fromRgb8, screenOnly, toLab } from '../color/index.ts';
import { engine } from '../testing.ts';
import { decodeHere, type Picture, pictureType } from './index.ts';

const coated = fileURLToPath(new URL('../../profiles/coated-offset.icc', import.meta.url));
const decode = (file: Buffer) => decodeHere(new Uint8Array(file), pictureType(file), async () => engine);

/** Brass on the left, deep blue on the right. */
const flag = () =>
  sharp({ create: { width: 40, height: 24, channels: 3, background: '#d9a441' } }).composite([
    { input: { create: { width: 20, height: 24, channels: 3, background: '#14304a' } }, left: 20, top: 0 },
  ]);
/** libvips is the second decoder: what it makes of the same file, as sRGB. */
const elsewhere = async (file: Sharp | Buffer) =>
  sharp(Buffer.isBuffer(file) ? file : await file.toBuffer())
    .rotate()
    .toColourspace('srgb')
    .ensureAlpha()
    .raw({ depth: 'uchar' })
    .toBuffer({ resolveWithObject: true });
const at = (data: ArrayLike<number>, x: number, y: number, width = 40) =>
  [0, 1, 2].map((c) => data[4 * (y * width + x) + c]);
const apart = (a: number[], b: number[]) =>
  deltaE00(toLab(fromRgb8(a[0], a[1], a[2]), screenOnly), toLab(fromRgb8(b[0], b[1], b[2]), screenOnly));

describe('a TIFF of floating-point numbers', () => {
  // as the Python package tifffile writes them: black, white, halves, 18 % grey, beyond white, near black
  it.each([
    [
      '32 bits',
      'SUkqAAgAAAAOAAABBAABAAAAAwAAAAEBBAABAAAAAgAAAAIBAwADAAAAtgAAAAMBAwABAAAAAQAAAAYBAwABAAAAAgAAABEBBAABAAAA4AAAABUBAwABAAAAAwAAABYBBAABAAAAAgAAABcBBAABAAAASAAAABoBBQABAAAAvAAAABsBBQABAAAAxAAAABwBAwABAAAAAQAAACgBAwABAAAAAQAAAFMBAwADAAAAzAAAAAAAAAAgACAAIAABAAAAAQAAAAEAAAABAAAAAwADAAMAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAIA/AACAPwAAgD8AAAA/AACAPgAAQD+XLVs+ly1bPpctWz4AAMA/zczMPc3MzL0cLk07AAAAAAAAAAA=',
    ],
    [
      '16 bits',
      'SUkqAAgAAAAOAAABBAABAAAAAwAAAAEBBAABAAAAAgAAAAIBAwADAAAAtgAAAAMBAwABAAAAAQAAAAYBAwABAAAAAgAAABEBBAABAAAA4AAAABUBAwABAAAAAwAAABYBBAABAAAAAgAAABcBBAABAAAAJAAAABoBBQABAAAAvAAAABsBBQABAAAAxAAAABwBAwABAAAAAQAAACgBAwABAAAAAQAAAFMBAwADAAAAzAAAAAAAAAAQABAAEAABAAAAAQAAAAEAAAABAAAAAwADAAMAAAAAAAAAAAAAAAAAAAAAAAAAAAAAPAA8ADwAOAA0ADrZMtky2TIAPmYuZq5pGgAAAAA=',
    ],
  ])('of %s is linear light, as libvips has it, and says so', async (_, base64) => {
    const file = Buffer.from(base64, 'base64');
    const picture = await decode(file);
    const theirs = await sharp(file).toColourspace('srgb').ensureAlpha().raw({ depth: 'uchar' }).toBuffer();
    picture!.data.forEach((v, i) => {
      expect(Math.abs(v - theirs[i]!)).toBeLessThanOrEqual(1);
    });
    expect(picture!.note).toMatch(
      /linear light.*What is brighter than white \(up to 1\.5 times\) became white/,
    );
  });
});

describe('QOI', () => {
  it('is what the package qoijs wrote, whatever the pixels', async () => {
    let state = 7;
    const next = () => {
      state = (Math.imul(state, 1664525) + 1013904223) >>> 0;
      return state >>> 24;
    };
    // runs, small and middling steps, colours seen before, and noise
    const pixels = new Uint8ClampedArray(4 * 64 * 32);
    for (let i = 0; i < 64 * 32; i++) {
      const row = Math.floor(i / 64);
      const like = row < 4 ? 0 : row < 12 ? i % 3 : row < 20 ? (i * 7) % 60 : next();
      pixels.set([like, (2 * like) & 255, row < 20 ? 40 : next(), row % 5 === 0 ? next() : 255], 4 * i);
    }
    const file = Buffer.from(encodeQoi(pixels, { width: 64, height: 32, channels: 4, colorspace: 0 }));
    expect(pictureType(file)).toBe('QOI');
    const picture = await decode(file);
    expect([picture!.width, picture!.height]).toEqual([64, 32]);
    expect(Buffer.from(picture!.data).equals(Buffer.from(pixels))).toBe(true);
    await expect(decode(file.subarray(0, 400))).rejects.toThrow(/not all there/);
  });
});

describe('BMP', () => {
  // as Pillow and ImageMagick write them, and the pixels as ImageMagick reads them
  it.each([
    [
      '24 bits',
      'Qk1mAAAAAAAAADYAAAAoAAAABQAAAAMAAAABABgAAAAAADAAAADEDgAAxA4AAAAAAAAAAAAATfAATfA8TfB4TfC0TfDwAE14AE14PE14eE14tE148ABNAABNADxNAHhNALRNAPAA',
      '00004dff3c004dff78004dffb4004dfff0004dff00784dff3c784dff78784dffb4784dfff0784dff00f04dff3cf04dff78f04dffb4f04dfff0f04dff',
    ],
    [
      '1 bit',
      'Qk1KAAAAAAAAAD4AAAAoAAAABQAAAAMAAAABAAEAAAAAAAwAAADEDgAAxA4AAAIAAAACAAAAAAAAAP///wC4AAAAWAAAAAAAAAA=',
      '000000ff000000ff000000ff000000ff000000ff000000ffffffffff000000ffffffffffffffffffffffffff000000ffffffffffffffffffffffffff',
    ],
    [
      'a palette',
      'Qk1WAAAAAAAAAD4AAAAoAAAABQAAAAMAAAABAAgAAAAAABgAAADEDgAAxA4AAAIAAAACAAAAQaTZAEowFAABAQEBAQAAAAEAAAABAAAAAQEBAQEAAAA=',
      '14304aff14304aff14304aff14304aff14304aff14304affd9a441ffd9a441ffd9a441ff14304aff14304aff14304aff14304aff14304aff14304aff',
    ],
    [
      '16 bits and masks',
      'Qk2uAAAAAAAAAIoAAAB8AAAABQAAAAMAAAABABAAAwAAACQAAADDDgAAww4AAAAAAAAAAAAAAPgAAOAHAAAfAAAAAAAAAEJHUnMAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAEAAAAAAAAAAAAAAAAAAAAaQdpP2l3aa9p7wAAqQOpO6lzqaup6wAACQAJOAlwCagJ6AAA',
      '00004aff39004aff73004affad004affef004aff00754aff39754aff73754affad754affef754aff00ef4aff39ef4aff73ef4affadef4affefef4aff',
    ],
    [
      'OS/2’s header',
      'Qk1KAAAAAAAAABoAAAAMAAAABQADAAEAGABN8ABN8DxN8HhN8LRN8PAATXgATXg8TXh4TXi0TXjwAE0AAE0APE0AeE0AtE0A8AA=',
      '00004dff3c004dff78004dffb4004dfff0004dff00784dff3c784dff78784dffb4784dfff0784dff00f04dff3cf04dff78f04dffb4f04dfff0f04dff',
    ],
    [
      'opacity',
      'Qk3GAAAAAAAAAIoAAAB8AAAABQAAAAMAAAABACAAAwAAADwAAADDDgAAww4AAAAAAAAAAAAAAAD/AAD/AAD/AAAAAAAA/0JHUnMAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAEAAAAAAAAAAAAAAAAAAAATfAAgE3wPIBN8HiATfC0gE3w8IBNeACATXg8gE14eIBNeLSATXjwgE0AAIBNADyATQB4gE0AtIBNAPCA',
      '00004d803c004d8078004d80b4004d80f0004d8000784d803c784d8078784d80b4784d80f0784d8000f04d803cf04d8078f04d80b4f04d80f0f04d80',
    ],
    [
      'run lengths',
      'Qk1OBAAAAAAAADYEAAAoAAAABQAAAAMAAAABAAgAAQAAABgAAADDDgAAww4AAAABAAAAAQAAQaTZAEowFAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAUBAwAAAAEBAwABAQMAAAAFAQMAAAAAAQ==',
      '14304aff14304aff14304aff14304aff14304aff14304affd9a441ffd9a441ffd9a441ff14304aff14304aff14304aff14304aff14304aff14304aff',
    ],
  ])('with %s', async (_, base64, pixels) => {
    const { width, height, data } = (await decode(Buffer.from(base64, 'base64')))!;
    expect([width, height]).toEqual([5, 3]);
    // five and six bits are brought to eight by rounding here, as in browsers
    Buffer.from(pixels, 'hex').forEach((v, i) => {
      expect(Math.abs(data[i]! - v)).toBeLessThanOrEqual(1);
    });
  });

  it('that is cut short, or of no known kind, is refused', async () => {
    const file = Buffer.from(
      'Qk1mAAAAAAAAADYAAAAoAAAABQAAAAMAAAABABgAAAAAADAAAADEDgAAxA4AAAAAAAAAAAAATfAATfA8TfB4TfC0TfDwAE14AE14PE14eE14tE148ABNAABNADxNAHhNALRNAPAA',
      'base64',
    );
    await expect(decode(file.subarray(0, -8))).rejects.toThrow(/not all there/);
    file[28] = 7;
    await expect(decode(file)).rejects.toThrow(/7 bits/);
  });
});

describe('JPEG in CMYK', () => {
  const jpeg = () =>
    flag().withIccProfile(coated).toColourspace('cmyk').jpeg({ quality: 100, chromaSubsampling: '4:4:4' });

  it('goes through the profile inside, as libvips does it', async () => {
    const file = await jpeg().toBuffer();
    const here = (await decode(file)) as Picture;
    const { data } = await elsewhere(file);
    for (const x of [5, 30]) expect(apart(at(here.data, x, 10), at(data, x, 10))).toBeLessThan(2);
    // what was coated brass comes back as brass
    expect(apart(at(here.data, 5, 10), [0xd9, 0xa4, 0x41])).toBeLessThan(2);
  });

  it('without a profile is read as coated offset', async () => {
    const whole = await jpeg().toBuffer();
    const profile = whole.indexOf(Buffer.from([0xff, 0xe2]));
    const file = Buffer.concat([
      whole.subarray(0, profile),
      whole.subarray(whole.lastIndexOf(Buffer.from([0xff, 0xdb]))),
    ]);
    expect(apart(at(((await decode(file)) as Picture).data, 5, 10), [0xd9, 0xa4, 0x41])).toBeLessThan(2);
  });

  it('is known by its frame; other JPEG are left to the decoders that are there', async () => {
    expect(await decode(await flag().jpeg().toBuffer())).toBeNull();
    expect(await decode(await flag().png().toBuffer())).toBeNull();
  });
});

describe('TIFF', () => {
  const kinds: [string, () => Sharp][] = [
    ['LZW', () => flag().tiff({ compression: 'lzw' })],
    ['deflate', () => flag().tiff({ compression: 'deflate' })],
    ['plain', () => flag().tiff({ compression: 'none' })],
    ['PackBits', () => flag().tiff({ compression: 'packbits' })],
    ['one bit', () => flag().threshold(100).toColourspace('b-w').tiff({ bitdepth: 1, compression: 'none' })],
    ['half transparent', () => flag().ensureAlpha(0.5).tiff({ compression: 'lzw', predictor: 'horizontal' })],
    ['16 bits a channel', () => flag().toColourspace('rgb16').tiff({ compression: 'lzw' })],
    ['grey', () => flag().toColourspace('b-w').tiff({ compression: 'lzw' })],
    ['tiles', () => flag().tiff({ compression: 'lzw', tile: true, tileWidth: 16, tileHeight: 16 })],
  ];
  it.each(kinds)('%s: the same pixels as libvips reads', async (_, make) => {
    const file = await make().toBuffer();
    const here = (await decode(file)) as Picture;
    const { data, info } = await elsewhere(file);
    expect([here.width, here.height]).toEqual([info.width, info.height]);
    expect(Buffer.from(here.data).equals(data)).toBe(true);
  });

  it('with a JPEG inside, in colour and in grey', async () => {
    for (const make of [flag(), flag().toColourspace('b-w')]) {
      const file = await make.tiff({ compression: 'jpeg', quality: 100 }).toBuffer();
      const { data } = await elsewhere(file);
      const here = (await decode(file)) as Picture;
      for (const x of [5, 34]) expect(apart(at(here.data, x, 10), at(data, x, 10))).toBeLessThan(1.5);
    }
  });

  it('with a JPEG inside whose tables and depth are damaged is refused, and no failure is left to nobody', async () => {
    const file = await flag().tiff({ compression: 'jpeg' }).toBuffer();
    for (let at = file.indexOf('ffdb', 0, 'hex'); at >= 0; at = file.indexOf('ffdb', at, 'hex'))
      file.write('7af5', at, 'hex');
    // bits a sample: the tag is another now
    file.write('ffff', file.indexOf('0201030003000000', 0, 'hex'), 'hex');
    await expect(decode(file)).rejects.toThrow();
    // a failure that nobody waits for would end the program; it is found when the loop comes round
    const ended: unknown[] = [];
    const note = (error: unknown) => ended.push(error);
    process.on('unhandledRejection', note);
    await new Promise((done) => setTimeout(done, 20));
    process.off('unhandledRejection', note);
    expect(ended).toEqual([]);
  });

  it('in CMYK goes through the profile', async () => {
    for (const depth of ['cmyk']) {
      const file = await flag()
        .withIccProfile(coated)
        .toColourspace(depth)
        .tiff({ compression: 'lzw' })
        .toBuffer();
      const here = (await decode(file)) as Picture;
      expect(apart(at(here.data, 5, 10), [0xd9, 0xa4, 0x41])).toBeLessThan(2);
      expect(apart(at(here.data, 30, 10), at((await elsewhere(file)).data, 30, 10))).toBeLessThan(2);
    }
  });

  it.each([1, 2, 3, 4, 5, 6, 7, 8])('turned as orientation %i says', async (orientation) => {
    const file = await flag().tiff({ compression: 'lzw' }).withMetadata({ orientation }).toBuffer();
    const here = (await decode(file)) as Picture;
    const { data, info } = await elsewhere(file);
    expect([here.width, here.height]).toEqual([info.width, info.height]);
    expect(Buffer.from(here.data).equals(data)).toBe(true);
  });
});
