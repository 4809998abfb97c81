import { readFileSync } from 'node:fs';
import { crc32 } from 'node:zlib';
import { converter } from 'culori';
import { instantiate } from 'lcms-wasm';
import sharp from 'sharp';
import { describe, expect, it } from 'vitest';
import { decodePicture } from '../../cli/picture.ts';
import { deltaE00, toLab, toOpenRgb } from '../color/index.ts';
import { coated } from '../testing.ts';
import {
  colorOfPixel,
  embeddedProfile,
  histogram,
  inSrgb,
  type PixelSpace,
  pictureType,
  pixelOfColor,
  pixelSpaceOf,
  prepare,
  reduce,
  SRGB,
  spaceOf,
} from './index.ts';

const flat = (rgb: number[]) =>
  sharp(Buffer.from(Array.from({ length: 64 }, () => rgb).flat()), {
    raw: { width: 8, height: 8, channels: 3 },
  });

function profileOf(bytes: Uint8Array): PixelSpace {
  const icc = embeddedProfile(bytes, pictureType(bytes));
  const space = icc && pixelSpaceOf(icc);
  if (!space) throw new Error('no profile');
  return space;
}

describe('a Display P3 picture', () => {
  const toSrgb = converter('rgb');
  it.each(['png', 'jpeg', 'webp', 'avif', 'tiff'] as const)(
    'as %s means what culori says it means',
    async (type) => {
      const file = await flat([250, 20, 30]).toFormat(type).withIccProfile('p3').toBuffer();
      const space = profileOf(file);
      for (const rgb of [
        [250, 20, 30],
        [0, 255, 0],
        [12, 12, 12],
        [255, 255, 255],
      ]) {
        const [r, g, b] = rgb.map((v) => v / 255);
        // the profile that sharp ships keeps its curve in a few points, which shows in the darkest
        const theirs = toSrgb({ mode: 'p3', r, g, b });
        const ours = colorOfPixel(rgb, space);
        expect(
          deltaE00(
            toLab(ours, coated),
            toLab({ space: 'rgb', components: [theirs.r, theirs.g, theirs.b] }, coated),
          ),
        ).toBeLessThan(0.6);
        pixelOfColor(ours.components, space).forEach((v, c) => {
          expect(v).toBeCloseTo(rgb[c], 1);
        });
      }
    },
  );

  it('gives swatches that keep what lies beyond sRGB', async () => {
    // a P3 profile on numbers that stay as they are: the segment is taken over from another JPEG
    const tagged = await flat([90, 90, 90]).jpeg().withIccProfile('p3').toBuffer();
    const at = tagged.indexOf('ICC_PROFILE') - 4;
    const segment = tagged.subarray(at, at + 2 + tagged.readUInt16BE(at + 2));
    const plain = await flat([0, 255, 0]).jpeg({ quality: 100, chromaSubsampling: '4:4:4' }).toBuffer();
    const picture = await decodePicture(
      'p3.jpg',
      Buffer.concat([plain.subarray(0, 2), segment, plain.subarray(2)]),
    );
    const [{ color, rgb }] = reduce(prepare(histogram(picture)), { count: 5 });
    rgb.forEach((v, c) => {
      expect(Math.abs(v - [0, 255, 0][c])).toBeLessThan(3);
    });
    // CSS Color 4: color(display-p3 0 1 0) is color(srgb -0.511605 1.01827 -0.310675)
    toOpenRgb(color, coated).forEach((v, i) => {
      expect(v).toBeCloseTo([-0.5116, 1.0183, -0.3107][i], 1);
    });
  });
});

describe('profiles', () => {
  it('of sRGB leave the numbers alone', async () => {
    const file = await flat([1, 2, 3]).png().withIccProfile('srgb').toBuffer();
    expect(profileOf(file)).toBe(SRGB);
    expect(spaceOf(await flat([1, 2, 3]).png().toBuffer(), 'PNG')).toEqual({ space: SRGB });
  });

  it('agree with Little CMS on tables, gammas and primaries', async () => {
    const lcms = await instantiate();
    const file = await flat([1, 2, 3]).png().withIccProfile('p3').toBuffer();
    const icc = embeddedProfile(file, 'PNG');
    if (!icc) throw new Error('no profile');
    const float = (space: number) => (1 << 22) | (space << 16) | (3 << 3) | 4;
    const transform = lcms.cmsCreateTransform(
      lcms.cmsOpenProfileFromMem(icc, icc.length),
      float(4),
      lcms.cmsCreateLab4Profile(),
      float(10),
      1,
      0,
    );
    const space = pixelSpaceOf(icc);
    if (!space) throw new Error('no space');
    for (const rgb of [
      [200, 30, 90],
      [3, 90, 240],
      [120, 120, 120],
    ]) {
      const lab = lcms.cmsDoTransform(
        transform,
        Float32Array.from(rgb, (v) => v / 255),
        1,
      );
      expect(deltaE00(toLab(colorOfPixel(rgb, space), coated), [lab[0], lab[1], lab[2]])).toBeLessThan(0.1);
    }
  });

  it('of inks or tables are left to a colour engine', () => {
    const cmyk = readFileSync(new URL('../../profiles/coated-offset.icc', import.meta.url));
    expect(pixelSpaceOf(cmyk)).toBeNull();
  });

  it('that are damaged are named, and the picture read as sRGB', async () => {
    const file = await flat([1, 2, 3]).jpeg().withIccProfile('p3').toBuffer();
    const at = file.indexOf('acsp');
    file.write('xxxx', at, 'latin1');
    expect(spaceOf(file, 'JPEG')).toEqual({
      space: SRGB,
      note: expect.stringMatching(/profile inside is damaged \(it has no ICC header\).*sRGB/),
    });
  });
});

/** A PNG of these pixels in one row, with chunks before its data. */
async function pngWith(
  rgb: number[],
  ...chunks: [name: string, data: number[]][]
): Promise<Uint8Array<ArrayBuffer>> {
  const plain = await sharp(Buffer.from(rgb), { raw: { width: rgb.length / 3, height: 1, channels: 3 } })
    .png()
    .toBuffer();
  const made = chunks.map(([name, data]) => {
    const body = Buffer.concat([Buffer.from(name, 'latin1'), Buffer.from(data)]);
    const chunk = Buffer.alloc(body.length + 8);
    chunk.writeUInt32BE(data.length);
    body.copy(chunk, 4);
    chunk.writeUInt32BE(crc32(body), body.length + 4);
    return chunk;
  });
  return new Uint8Array(Buffer.concat([plain.subarray(0, 33), ...made, plain.subarray(33)]));
}
const u32 = (...numbers: number[]) =>
  numbers.flatMap((v) => [v >>> 24, (v >> 16) & 255, (v >> 8) & 255, v & 255]);
const WIDE = u32(31270, 32900, 64000, 33000, 21000, 71000, 15000, 6000);
const D50_WIDE = u32(34567, 35850, 73470, 26530, 15960, 84040, 3660, 10);

describe('what a PNG says of its pixels in its own words', () => {
  const pixels = [200, 30, 90, 3, 90, 240, 120, 120, 120, 128, 64, 32];
  // what Chromium 156 paints of the same files on a canvas of sRGB
  it.each<[string, [string, number[]][], number[]]>([
    ['cICP of Display P3', [['cICP', [12, 13, 0, 1]]], [218, 0, 89, 0, 92, 249, 120, 120, 120, 138, 59, 21]],
    ['cICP of Rec. 2020', [['cICP', [9, 13, 0, 1]]], [249, 0, 90, 0, 93, 251, 120, 120, 120, 155, 49, 20]],
    [
      'cICP with the curve of video',
      [['cICP', [1, 1, 0, 1]]],
      [197, 18, 81, 0, 81, 239, 113, 113, 113, 121, 54, 20],
    ],
    [
      'gAMA of linear light',
      [['gAMA', u32(100000)]],
      [229, 96, 160, 28, 160, 248, 183, 183, 183, 188, 137, 99],
    ],
    ['gAMA of 1.8', [['gAMA', u32(55556)]], [210, 40, 109, 1, 109, 243, 139, 139, 139, 146, 81, 43]],
    [
      'gAMA and cHRM of a wide space',
      [
        ['gAMA', u32(45455)],
        ['cHRM', WIDE],
      ],
      [233, 24, 91, 0, 90, 244, 121, 121, 121, 146, 62, 23],
    ],
    [
      'cHRM with another white',
      [
        ['gAMA', u32(55556)],
        ['cHRM', D50_WIDE],
      ],
      [255, 0, 114, 0, 120, 255, 139, 139, 139, 191, 53, 29],
    ],
    [
      'sRGB, whatever else it says',
      [
        ['sRGB', [0]],
        ['gAMA', u32(100000)],
      ],
      pixels,
    ],
  ])('%s', async (_, chunks, seen) => {
    const file = await pngWith(pixels, ...chunks);
    const { space, note } = spaceOf(file, 'PNG');
    expect(note).toBeUndefined();
    const { picture } = inSrgb({ ...(await decodePicture('x.png', file)), space: space! });
    picture.data
      .filter((_, i) => i % 4 < 3)
      .forEach((v, i) => {
        expect(Math.abs(v - seen[i]!), `value ${i}`).toBeLessThanOrEqual(1);
      });
  });

  it('give a warning when they name a space that is not converted', async () => {
    const file = await pngWith(pixels, ['cICP', [9, 16, 0, 1]]);
    expect((await decodePicture('x.png', file)).note).toMatch(/cICP 9, 16, 0, 1.*read as sRGB/);
  });
});
