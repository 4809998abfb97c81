import { describe, expect, it } from 'vitest';
import { convert, deltaE00, type Oklch, oklabToLab, oklchToOklab, parseColor } from '../color/index.ts';
import { coated } from '../testing.ts';
import { recovered } from './finder-trial.ts';
import { CIRCLES, findRule, pulled, SRGB } from './index.ts';

const lch = (text: string) => convert(parseColor(text), 'oklch', coated).components as Oklch;
const lab = (c: Oklch) => oklabToLab(oklchToOklab(c));

describe('the rule finder', () => {
  it('recovers the rule of families with noise of ΔE00 2 in at least 95 % of cases', () => {
    const { right, all } = recovered(600, 11);
    expect(right / all).toBeGreaterThanOrEqual(0.95);
  }, 120_000);

  it('says how far each colour is from its rule, and pulls it there', () => {
    const colors: Oklch[] = [
      [0.6, 0.1, 20],
      [0.55, 0.09, 204],
      [0.75, 0.02, 200],
    ];
    const found = findRule(colors, 'perceptual')!;
    expect(found.rule).toBe('complementary');
    const there = pulled(colors, found, 1, SRGB);
    const half = pulled(colors, found, 0.5, SRGB);
    found.members.forEach((m, i) => {
      expect(deltaE00(lab(colors[i]!), lab(there[i]!))).toBeCloseTo(m.deltaE00, 6);
      if (m.deltaE00 > 0.1) expect(deltaE00(lab(colors[i]!), lab(half[i]!))).toBeLessThan(m.deltaE00);
    });
    expect(pulled(colors, found, 0, SRGB)).toEqual(colors);
    // what was pulled all the way follows the rule
    expect(findRule(there, 'perceptual')).toMatchObject({ rule: 'complementary', off: expect.closeTo(0, 1) });
  });

  it('finds something for palettes of the sample pictures, and nothing for one colour', () => {
    // palettes of “Harbour at first light” and “Rope and enamel” as Gather gives them for five colours
    const harbour = ['#445f6d', '#27394a', '#5b777c', '#7f9998', '#e5cfa4'].map(lch);
    const rope = ['#7b4f2c', '#b8a071', '#31675a', '#3d2317', '#654223'].map(lch);
    for (const colors of [harbour, rope])
      for (const circle of CIRCLES) {
        const found = findRule(colors, circle)!;
        expect(found.members.length).toBe(5);
        expect(found.off).toBeLessThan(8);
      }
    expect(findRule([lch('#445f6d')], 'perceptual')).toBeNull();
  });

  it('copes with greys, equals and blacks', () => {
    for (const colors of [
      ['#000000', '#000000'],
      ['#808080', '#818181', '#ffffff'],
      ['#b3262b', '#b3262b', '#b3262b'],
      ['#ffffff', '#b3262b'],
    ])
      for (const circle of CIRCLES) {
        const found = findRule(colors.map(lch), circle);
        if (found) expect(found.members.every((m) => Number.isFinite(m.deltaE00))).toBe(true);
      }
  });
});
