import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  absorptionOf,
  belowSurface,
  mixOn,
  reflectanceOf,
  spectrumToLab,
  throughSurface,
  tintOf,
} from './index.ts';

const surface = { outside: 0.04, inside: 0.6, caught: 0 };
const matt = { ...surface, caught: 0.5 };
const part = fc.double({ min: 0.005, max: 0.99, noNaN: true });

describe('Kubelka and Munk', () => {
  it('gives the values of its own tables', () => {
    // K/S of 0.5 and 0.1, worked by hand from (1 − R)² / 2R: 0.25 / 1 and 0.81 / 0.2
    expect(absorptionOf(0.5)).toBeCloseTo(0.25, 12);
    expect(absorptionOf(0.1)).toBeCloseTo(4.05, 12);
    expect(reflectanceOf(0.25)).toBeCloseTo(0.5, 12);
    expect(reflectanceOf(0)).toBe(1);
  });

  it('comes back from absorption, and from below the surface', () => {
    fc.assert(
      fc.property(part, fc.constantFrom(surface, matt), (r, over) => {
        expect(reflectanceOf(absorptionOf(r))).toBeCloseTo(r, 9);
        expect(belowSurface(throughSurface(r, over), over)).toBeCloseTo(r, 9);
      }),
    );
  });

  it('lets a surface darken what is below it, all the more in the middle', () => {
    // all that comes in goes out of a perfect white but for what the surface throws back before
    expect(throughSurface(1, surface)).toBeCloseTo(0.96, 12);
    expect(throughSurface(0, surface)).toBe(0);
    expect(throughSurface(0, matt)).toBeCloseTo(0.02, 12);
    expect(throughSurface(0.5, surface)).toBeCloseTo((0.96 * 0.4 * 0.5) / 0.7, 12);
  });
});

describe('mixes and tints', () => {
  const paper = [0.8, 0.85, 0.9];
  const anyInk = fc.record({
    absorption: fc.tuple(...paper.map(() => fc.double({ min: 0, max: 30, noNaN: true }))),
    amount: fc.double({ min: 0, max: 3, noNaN: true }),
  });

  it('stay within 0–1 and are never paler than their paper', () => {
    fc.assert(
      fc.property(fc.array(anyInk, { maxLength: 5 }), part, (inks, coverage) => {
        const solid = mixOn(paper, surface, inks);
        const tint = tintOf(paper, solid, coverage, { spread: 1.7, gain: 0.08 });
        for (const [i, white] of paper.entries()) {
          expect(solid[i]).toBeGreaterThanOrEqual(0);
          expect(solid[i]).toBeLessThanOrEqual(white + 1e-12);
          expect(tint[i]).toBeGreaterThanOrEqual(solid[i]! - 1e-12);
          expect(tint[i]).toBeLessThanOrEqual(white + 1e-12);
        }
      }),
    );
  });

  it('run from the paper to the solid without turning back', () => {
    const solid = mixOn(paper, surface, [{ absorption: [8, 0.2, 0.01], amount: 1 }]);
    const steps = Array.from({ length: 21 }, (_, i) =>
      tintOf(paper, solid, i / 20, { spread: 2, gain: 0.1 }),
    );
    expect(steps[0]!.map((v) => v.toFixed(9))).toEqual(paper.map((v) => v.toFixed(9)));
    expect(steps[20]!.map((v) => v.toFixed(9))).toEqual(solid.map((v) => v.toFixed(9)));
    for (let i = 1; i <= 20; i++)
      for (const w of [0, 1, 2]) expect(steps[i]![w]).toBeLessThan(steps[i - 1]![w]! + 1e-12);
  });

  it('are Murray and Davies’ plain mean where light does not spread', () => {
    expect(tintOf([0.8], [0.2], 0.5, { spread: 1, gain: 0 })[0]).toBeCloseTo(0.5, 12);
    // Yule and Nielsen with n = 2, by hand: ((√0.8 + √0.2) / 2)²
    expect(tintOf([0.8], [0.2], 0.5, { spread: 2, gain: 0 })[0]).toBeCloseTo(
      ((Math.sqrt(0.8) + Math.sqrt(0.2)) / 2) ** 2,
      12,
    );
  });

  it('a mix of nothing is the paper', () => {
    expect(mixOn(paper, surface, []).map((v) => v.toFixed(9))).toEqual(paper.map((v) => v.toFixed(9)));
    const grey = { start: 380, step: 10, values: Array(36).fill(0.5) as number[] };
    // L* of half the light is 76.07 (CIE 15)
    expect(spectrumToLab(grey)[0]).toBeCloseTo(76.069, 2);
  });
});
