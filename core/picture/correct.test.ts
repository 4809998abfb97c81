import { describe, expect, it } from 'vitest';
import { deltaE00, type Lab } from '../color/index.ts';
import { labOfSpectrum } from '../reading/index.ts';
import type { Spectrum } from '../swatch/index.ts';
import {
  correctedLab,
  correctionFrom,
  correctionOf,
  findChart,
  linearToSrgb,
  type Picture,
  SRGB,
  termsOf,
  verifyCorrection,
} from './index.ts';

// A camera whose three bell-shaped receivers differ from the eye's, under a lamp that differs from daylight. Spectra are smooth and made up.

const nms = Array.from({ length: 36 }, (_, i) => 380 + 10 * i);
const bell = (at: number, width: number) => (nm: number) => Math.exp(-(((nm - at) / width) ** 2));
const RECEIVERS = [bell(600, 42), bell(540, 46), bell(455, 32)];
const lamp = (nm: number) => 0.4 + 0.6 / (1 + Math.exp(-(nm - 520) / 60));
const noise = (i: number) => {
  const x = Math.sin(i * 127.1 + 11.7) * 43758.5453;
  return x - Math.floor(x);
};
/** A smooth reflectance: an edge or two hills on a ground. */
function spectrum(i: number): Spectrum {
  const [a, b, c, d] = [0, 1, 2, 3].map((k) => noise(4 * i + k)) as [number, number, number, number];
  const ground = 0.04 + 0.25 * a;
  const of =
    i % 3 === 0
      ? (nm: number) =>
          ground + ((0.75 - ground) * (0.3 + 0.7 * c)) / (1 + Math.exp(-(nm - 430 - 220 * b) / 18))
      : i % 3 === 1
        ? (nm: number) => ground + 0.5 * c * bell(430 + 220 * b, 35 + 45 * d)(nm)
        : (nm: number) => 0.03 + 0.82 * c ** 2 + 0.08 * b * bell(500, 120)(nm);
  return { start: 380, step: 10, values: nms.map((nm) => Math.min(0.9, of(nm))) };
}
/** Linear, so that the white sheet comes to 0.8. */
function seenBy({ values }: Spectrum, exposure = 1): number[] {
  return RECEIVERS.map((receiver) => {
    const sum = (of: (i: number) => number) =>
      nms.reduce((s, nm, i) => s + of(i) * lamp(nm) * receiver(nm), 0);
    return (exposure * 0.88 * sum((i) => values[i]!)) / sum(() => 1);
  });
}
const eightBit = (linear: number[]) => linear.map((v) => Math.round(255 * Math.min(1, linearToSrgb(v))));
const chart = Array.from({ length: 60 }, (_, i) => spectrum(i));
const known = chart.map((s) => labOfSpectrum(s));
const read = chart.map((s) => eightBit(seenBy(s)));
const errors = (list: Spectrum[], of: (s: Spectrum) => Lab) =>
  list.map((s) => deltaE00(labOfSpectrum(s), of(s)));
const mean = (values: number[]) => values.reduce((a, b) => a + b, 0) / values.length;

describe('root polynomials', () => {
  it('have the numbers of terms that are published, and grow as the light does', () => {
    expect(([1, 2, 3, 4] as const).map((d) => termsOf([0.2, 0.3, 0.4], d).length)).toEqual([3, 6, 13, 22]);
    for (const d of [1, 2, 3, 4] as const) {
      const once = termsOf([0.2, 0.3, 0.4], d);
      const twice = termsOf([0.4, 0.6, 0.8], d);
      once.forEach((t, i) => {
        expect(twice[i]).toBeCloseTo(2 * t, 12);
      });
    }
  });
});

describe('a photograph of a reference chart', () => {
  const correction = correctionFrom(read, known, SRGB, 'chart.txt');
  const others = Array.from({ length: 200 }, (_, i) => spectrum(1000 + i));

  it('tells colours far nearer than the camera did', () => {
    const raw = mean(chart.map((_, i) => deltaE00(known[i]!, asSeen(read[i]!))));
    expect(correction.mean).toBeLessThan(raw / 3);
    expect(correction.mean).toBeLessThan(3);
  });

  it('says how far off it is of colours that are not on the chart', () => {
    const off = errors(others, (s) => correctedLab(eightBit(seenBy(s)), SRGB, correction));
    // what was said of patches that the fit had not seen is true of others
    expect(mean(off)).toBeLessThan(correction.mean * 1.5);
    expect(mean(off)).toBeGreaterThan(correction.mean / 2);
    const sorted = off.toSorted((a, b) => a - b);
    expect(sorted[Math.floor(sorted.length * 0.9)]).toBeLessThan(correction.p95 * 1.5);
  });

  it('is right for twice the light, as a plain polynomial is not', () => {
    const dim = chart.map((s) => eightBit(seenBy(s, 0.5)));
    const bright = correctionFrom(dim, known, SRGB, 'dim.txt');
    expect(bright.mean).toBeLessThan(correction.mean * 1.6);
    // and the same colour at half the exposure has half its Y: L* by CIE 015
    const one = correctedLab([120, 130, 90], SRGB, correction);
    const half = correctedLab(
      [120, 130, 90].map((v) => 255 * linearToSrgb(SRGB.curves[0][v]! / 2)),
      SRGB,
      correction,
    );
    const y = (L: number) => ((L + 16) / 116) ** 3;
    expect(y(half[0]) / y(one[0])).toBeCloseTo(0.5, 3);
  });

  it('leaves out patches that are too bright for the camera, or lie in a shadow, and says how many', () => {
    const spoilt = read.map((rgb, i) => {
      if (i < 3) return [255, 255, 250];
      return i < 6 ? rgb.map((v) => v * 0.45) : rgb;
    });
    const found = correctionFrom(spoilt, known, SRGB, 'chart.txt');
    expect(found.clipped).toBe(3);
    expect(found.shadowed).toBeGreaterThanOrEqual(1);
    expect(found.patches + found.clipped + found.shadowed).toBe(60);
    expect(found.mean).toBeLessThan(correction.mean * 2);
  });

  it('needs patches enough, and says what to do', () => {
    expect(() => correctionFrom(read.slice(0, 5), known, SRGB, 'x')).toThrow(
      /only 5 patches .* 8 are needed. Photograph/,
    );
  });
});

/** What the numbers of the camera say, taken for sRGB. */
const asSeen = (rgb: number[]): Lab => correctedLab(rgb, SRGB, { ...PLAIN });
const PLAIN = {
  ...{ reference: '', degree: 1 as const, mean: 0, p95: 0, max: 0, patches: 0, clipped: 0, shadowed: 0 },
  // linear sRGB to XYZ D50 (IEC 61966-2-1, Bradford)
  matrix: [0.4360747, 0.3850649, 0.1430804, 0.2225045, 0.7168786, 0.0606169, 0.0139322, 0.0971045, 0.7141733],
};

describe('a picture with a chart in it', () => {
  const [ROWS, COLUMNS, SIDE, GAP] = [6, 10, 26, 6];
  const [width, height] = [COLUMNS * (SIDE + GAP) + GAP + 40, ROWS * (SIDE + GAP) + GAP + 40];
  function photograph(order: (row: number, column: number) => number, patches = read): Picture {
    const data = new Uint8ClampedArray(4 * width * height).fill(255);
    const page = eightBit(seenBy({ start: 380, step: 10, values: nms.map(() => 0.9) }));
    for (let y = 0; y < height; y++)
      for (let x = 0; x < width; x++) {
        const [u, v] = [x - 20 - GAP, y - 20 - GAP];
        const [column, row] = [Math.floor(u / (SIDE + GAP)), Math.floor(v / (SIDE + GAP))];
        const isChip =
          u >= 0 &&
          v >= 0 &&
          column < COLUMNS &&
          row < ROWS &&
          u % (SIDE + GAP) < SIDE &&
          v % (SIDE + GAP) < SIDE;
        data.set([...(isChip ? patches[order(row, column)]! : page), 255], 4 * (y * width + x));
      }
    return { width, height, data };
  }

  it.each([
    ['as its list is', (r: number, c: number) => r * COLUMNS + c],
    ['turned upside down', (r: number, c: number) => (ROWS - 1 - r) * COLUMNS + (COLUMNS - 1 - c)],
    ['listed by columns', (r: number, c: number) => c * ROWS + r],
  ])('%s is found and corrected', (_, order) => {
    const { correction, grid } = correctionOf(photograph(order), known, 'chart.txt');
    expect([grid.rows, grid.columns]).toEqual([ROWS, COLUMNS]);
    expect(correction.mean).toBeLessThan(4);
  });

  it('is held against a second chart, which had no part in it', () => {
    const first = correctionOf(
      photograph((r, c) => r * COLUMNS + c),
      known,
      'chart.txt',
    ).correction;
    // other colours in another picture of the same light
    const others = Array.from({ length: 60 }, (_, i) => spectrum(2000 + i));
    const seen = others.map((s) => eightBit(seenBy(s)));
    const second = photograph((r, c) => r * COLUMNS + c, seen);
    const grid = findChart(second)!;
    const verified = verifyCorrection(
      second,
      first,
      others.map((s) => labOfSpectrum(s)),
      'other.txt',
      grid,
    );
    expect(verified.patches).toBe(60);
    expect(verified.mean).toBeGreaterThan(first.mean / 2);
    expect(verified.mean).toBeLessThan(first.mean * 2);
    expect(() => verifyCorrection(second, first, known.slice(0, 9), 'x', grid)).toThrow(
      /has 60 patches, and x has 9/,
    );
  });

  it('of another number of patches, or another chart, is refused with the reason', () => {
    const picture = photograph((r, c) => r * COLUMNS + c);
    expect(() => correctionOf(picture, known.slice(0, 24), 'small.txt')).toThrow(
      /has 60 patches, and small\.txt has 24/,
    );
    const wrong = known.map((_, i) => known[(i * 37 + 11) % 60]!);
    expect(() => correctionOf(picture, wrong, 'wrong.txt')).toThrow(
      /does not look like wrong\.txt|can be used/,
    );
    const blank = { width: 40, height: 40, data: new Uint8ClampedArray(6400).fill(200) };
    expect(() => correctionOf(blank, known, 'x')).toThrow(/no chart was found/);
  });
});
