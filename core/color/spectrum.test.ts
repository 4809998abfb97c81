import { describe, expect, it } from 'vitest';
import { spectrumToLab } from './spectrum.ts';

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
