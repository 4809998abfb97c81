import { readFile } from 'node:fs/promises';
import { createRequire } from 'node:module';
import { fileURLToPath } from 'node:url';
import { initializeCanvas, readPsd, writePsdUint8Array } from 'ag-psd';
import qoijs from 'qoijs';
import sharp, { type Sharp } from 'sharp';
import { describe, expect, it } from 'vitest';
import { deltaE00, fromRgb8, screenOnly, toLab, toRgb } from '../color/index.ts';
import { decoders, coated as paper } from '../testing.ts';
import { decodeHere, type Picture, PictureRefusedError, pictureType, sizeOf, spaceOf } from './index.ts';
import { HEIC, JXL, PSD } from './testing.ts';

/** All that its encoder wants to be told. */
const LOSSLESS = {
  effort: 3,
  quality: 100,
  progressive: false,
  epf: -1,
  lossyPalette: false,
  decodingSpeedTier: 0,
  photonNoiseIso: 0,
  lossyModular: false,
  lossless: true,
};

const coated = fileURLToPath(new URL('../../profiles/coated-offset.icc', import.meta.url));
const decode = (file: Buffer) => decodeHere(new Uint8Array(file), pictureType(file), decoders);

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
    const file = Buffer.from(qoijs.encode(pixels, { width: 64, height: 32, channels: 4, colorspace: 0 }));
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

/** Each cut of a file is refused in words of its own, and none of them is taken for more than it is. */
async function cutShort(file: Buffer): Promise<void> {
  for (let length = 30; length < file.length - 1; length += Math.ceil(file.length / 60)) {
    const part = file.subarray(0, length);
    spaceOf(part, pictureType(part));
    await expect(decode(part)).rejects.toThrow();
  }
}

describe('a layered picture (PSD)', () => {
  const brass = [217, 164, 65];
  const blue = [20, 48, 74];
  const ink = (components: number[]) =>
    toRgb({ space: 'cmyk', components }, paper).map((v) => Math.round(255 * v));
  it.each([
    // ImageMagick's inks of the two colours without a profile are the plain ones
    ['CMYK', ink([0, 0.244, 0.7, 0.149]), 7, 0, ink([0.73, 0.351, 0, 0.71])],
    ['16 bits', brass, 0, 3, blue],
    ['PSB', brass, 7, 0, blue],
    ['Lab', brass, 7, 0, blue],
    ['greys', [168, 168, 168], 7, 0, [44, 44, 44]],
  ])('of %s has the colours it was written with', async (name, first, x, y, other) => {
    const file = Buffer.from(PSD[name]!, 'base64');
    expect(sizeOf(file, pictureType(file))).toEqual({ width: 8, height: 4 });
    const { data } = (await decode(file))!;
    expect(apart(at(data, 0, 0, 8), first)).toBeLessThan(0.7);
    expect(apart(at(data, x, y, 8), other)).toBeLessThan(0.7);
    await cutShort(file);
  });

  it('with an opacity is as the package ag-psd reads it', async () => {
    initializeCanvas(
      (width, height) =>
        ({
          width,
          height,
          getContext: () => ({
            createImageData: (w: number, h: number) => ({
              width: w,
              height: h,
              data: new Uint8ClampedArray(4 * w * h),
            }),
            putImageData: () => undefined,
          }),
        }) as never,
    );
    const [width, height] = [5, 3];
    const data = Uint8ClampedArray.from({ length: 4 * width * height }, (_, i) => (i * 37) & 255);
    const imageData = { width, height, data };
    const file = writePsdUint8Array({ width, height, imageData, children: [{ name: 'One', imageData }] });
    const theirs = readPsd(file, { useImageData: true }).imageData!.data;
    expect([...(await decode(Buffer.from(file)))!.data]).toEqual([...theirs]);
  });

  it('without a composite says how to get one', async () => {
    const file = Buffer.from(PSD.PSB!, 'base64');
    // a resource that says so, before the layers
    const said = Buffer.from('3842494d042100000000000500000001000000', 'hex');
    const at = 34;
    const without = Buffer.concat([file.subarray(0, at), said, file.subarray(at + file.readUInt32BE(30))]);
    without.writeUInt32BE(said.length, 30);
    await expect(decode(without)).rejects.toThrow(PictureRefusedError);
    await expect(decode(without)).rejects.toThrow(/without the composite of its layers.*Save it again/);
  });
});

describe('HEIC', () => {
  const file = Buffer.from(HEIC, 'base64');

  it('has the colours it was written with, and its size', async () => {
    expect(pictureType(file)).toBe('HEIC');
    expect(sizeOf(file, 'HEIC')).toEqual({ width: 64, height: 64 });
    const { data, width } = (await decode(file))!;
    // the coding loses a step of 255 here and there
    expect(apart(at(data, 8, 8, width), [217, 164, 65])).toBeLessThan(1.5);
    expect(apart(at(data, 56, 8, width), [20, 48, 74])).toBeLessThan(1.5);
    await cutShort(file);
  });

  it('is distinguished from AVIF by the brands in its header', () => {
    const box = (main: string, ...others: string[]) =>
      Buffer.from(
        `\0\0\0${String.fromCharCode(16 + 4 * others.length)}ftyp${main}\0\0\0\0${others.join('')}`,
        'latin1',
      );
    expect(pictureType(box('mif1', 'mif1', 'heic'))).toBe('HEIC');
    expect(pictureType(box('mif1', 'avif', 'miaf'))).toBe('AVIF');
    expect(pictureType(box('isom', 'mp42'))).toBeNull();
  });

  it('says what its numbers mean, also without a profile', () => {
    const colr = Buffer.from('\0\0\0\x13colrnclx\0\x0c\0\x0d\0\x06\x80', 'latin1');
    expect(spaceOf(Buffer.concat([file.subarray(0, 32), colr]), 'HEIC').space?.name).toBe('Display P3');
  });
});

describe('JPEG XL', () => {
  it('is what its reference encoder wrote without loss, whatever its size', async () => {
    const { default: open } = await import('@jsquash/jxl/codec/enc/jxl_enc.js');
    const { resolve } = createRequire(import.meta.url);
    const { buffer } = new Uint8Array(await readFile(resolve('@jsquash/jxl/codec/enc/jxl_enc.wasm')));
    const encoder = await open({ wasmBinary: buffer, noInitialRun: true });
    for (const [width, height] of [
      [5, 3],
      [24, 16],
      [320, 240],
      [301, 300],
    ] as const) {
      const data = Uint8ClampedArray.from({ length: 4 * width * height }, (_, i) =>
        i % 4 === 3 ? 255 : (i * 7) & 255,
      );
      const file = Buffer.from(encoder.encode(data, width, height, LOSSLESS));
      expect(pictureType(file)).toBe('JPEG XL');
      expect(sizeOf(file, 'JPEG XL')).toEqual({ width, height });
      const picture = (await decode(file))!;
      expect(Buffer.compare(Buffer.from(picture.data.buffer), Buffer.from(data.buffer))).toBe(0);
    }
  });

  it('says when its colours were brought to sRGB, and only then', async () => {
    for (const hex of Object.values(JXL)) {
      const picture = (await decode(Buffer.from(hex, 'hex')))!;
      expect([picture.width, picture.height, picture.note]).toEqual([8, 8, undefined]);
    }
    // the last with one bit of its transfer function changed: PQ (ISO/IEC 18181-1, ColorEncoding)
    const bright = Buffer.from(JXL.linear.replace('142d', '143d'), 'hex');
    expect((await decode(bright))!.note).toMatch(/not in sRGB.*clipped/);
  });
});
