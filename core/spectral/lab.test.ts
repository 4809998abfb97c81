import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { findShared } from '../../scripts/tools.mjs';
import { deltaE00, type Lab, xyz50ToLab } from '../color/index.ts';
import { spectrumToLab } from './lab.ts';

const curve = (value: (nm: number) => number, start = 380, step = 10, n = 36) => ({
  start,
  step,
  values: Array.from({ length: n }, (_, i) => value(start + step * i)),
});

const apart = (a: number[], b: number[]) => Math.max(...a.map((v, i) => Math.abs(v - b[i])));

describe('spectrumToLab', () => {
  // worked out with Argyll CMS 2.3.1, spec2cie -i D50 -o 1931_2, from the same 36 values
  it.each([
    [
      'a red edge',
      (nm: number) => 0.05 + 0.8 / (1 + Math.exp(-(nm - 560) / 18)),
      [72.7777, 37.3487, 75.7351],
    ],
    [
      'a blue hump',
      (nm: number) => 0.04 + 0.5 * Math.exp(-(((nm - 460) / 45) ** 2)),
      [35.1644, 12.0207, -64.3226],
    ],
    ['a wave', (nm: number) => 0.3 + 0.25 * Math.sin(nm / 60), [63.1449, -30.3503, -24.9234]],
  ])('agrees with Argyll for %s', (_, value, lab) => {
    expect(apart(spectrumToLab(curve(value)), lab)).toBeLessThan(0.06);
  });

  it('gives a perfect white 100 0 0, and hardly minds the sampling', () => {
    expect(apart(spectrumToLab(curve(() => 1)), [100, 0, 0])).toBeLessThan(1e-9);
    const fine = spectrumToLab(curve((nm) => 0.3 + 0.25 * Math.sin(nm / 60), 380, 5, 71));
    const short = spectrumToLab(curve((nm) => 0.3 + 0.25 * Math.sin(nm / 60), 400, 10, 31));
    expect(apart(fine, short)).toBeLessThan(0.3);
  });
});

const TABLES = findShared('colord');

describe.skipIf(!TABLES)('the CIE’s own tables agree', () => {
  // CIE tables as Debian’s package colord-data carries them: illuminant D50, the 1931 observer, and the test-colour samples of
  // CIE 13.3, summed up every 5 nm from 380 to 780 without any of our own weights
  const table = (file: string) => {
    if (!TABLES) return [];
    const text = readFileSync(`${TABLES}/${file}`, 'utf8');
    const start = Number(/SPECTRAL_START_NM\s+(\S+)/.exec(text)![1]);
    const rows = text.split('BEGIN_DATA\n')[1]!.split('END_DATA')[0]!.trim().split('\n');
    return rows.map((row) => {
      const cells = row.trim().split(/\s+/);
      const named = Number.isNaN(Number(cells[0]));
      const values = (named ? cells.slice(1) : cells).map(Number);
      return { name: named ? cells[0]! : '', at: (nm: number) => values[(nm - start) / 5]! };
    });
  };
  const [light] = table('illuminant/CIE-D50.sp');
  const observer = table('cmf/CIE1931-2deg-XYZ.cmf');
  const nms = Array.from({ length: 81 }, (_, i) => 380 + 5 * i);
  const xyz = (sample: (nm: number) => number) => {
    const white = nms.reduce((sum, nm) => sum + light!.at(nm) * observer[1]!.at(nm), 0);
    return observer.map(
      (o) => nms.reduce((sum, nm) => sum + light!.at(nm) * o.at(nm) * sample(nm), 0) / white,
    );
  };

  it('gives a perfect diffuser the XYZ of D50', () => {
    // ASTM E308: 96.42, 100.00, 82.52; the tables have three digits
    const [x, y, z] = xyz(() => 1);
    expect(x).toBeCloseTo(0.9642, 3);
    expect(y).toBe(1);
    expect(z).toBeCloseTo(0.8252, 3);
  });

  it.each(table('ref/CIE-TCS.sp').map((sample) => [sample.name, sample] as const))(
    'finds the CIE test-colour sample %s where the CIE tables put it',
    (_, sample) => {
      const ours = spectrumToLab(curve(sample.at));
      const white = xyz(() => 1);
      const theirs = xyz(sample.at).map(
        (v, i) => (v / white[i]!) * [0.3457 / 0.3585, 1, 0.2958 / 0.3585][i]!,
      );
      // the samples are given to a hundredth, which is an eighth of the darkest, and every other of them is looked at
      expect(deltaE00(ours, xyz50ToLab(theirs) as Lab)).toBeLessThan(0.3);
    },
  );
});
