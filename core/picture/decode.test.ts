import { fileURLToPath } from 'node:url';
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
