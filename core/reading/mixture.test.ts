import { describe, expect, it } from 'vitest';
import { deltaE00 } from '../color/index.ts';
import { throughSurface } from '../spectral/index.ts';
import type { MeasuredInk, Step } from '../swatch/reading.ts';
import { filmOf, GLOSS, labOfSpectrum, mixedOver, overprint, recipesFor } from './index.ts';

const nms = Array.from({ length: 31 }, (_, i) => 400 + 10 * i);

/** What a film reflects over a backing: Kubelka and Munk's own differential equation, dR/dX = S − 2(K + S)R + S·R², in small steps. */
function layer(backing: number, k: number, s: number, parts = 400): number {
  const slope = (r: number) => s - 2 * (k + s) * r + s * r * r;
  const h = 1 / parts;
  let r = backing;
  for (let i = 0; i < parts; i++) {
    const a = slope(r);
    const b = slope(r + (h / 2) * a);
    const c = slope(r + (h / 2) * b);
    r += (h / 6) * (a + 2 * b + 2 * c + slope(r + h * c));
  }
  return r;
}

interface Pigment {
  k(nm: number): number;
  s(nm: number): number;
}
const WHITE = () => 0.82;
const BLACK = () => 0.02;
const seen = (below: (nm: number) => number) => ({
  start: 400,
  step: 10,
  values: nms.map((nm) => throughSurface(below(nm), GLOSS)),
});
const step = (percent: number, backing: 'white' | 'black', below: (nm: number) => number): Step => ({
  percent,
  backing,
  name: `${percent}`,
  spectrum: seen(below),
});
/** An ink drawn down on a white and a black card, by the differential equation alone. */
const drawn = (name: string, { k, s }: Pigment, more: Step[] = []): MeasuredInk => ({
  name,
  conditions: {},
  steps: [
    step(0, 'white', WHITE),
    ...more,
    step(100, 'white', (nm) => layer(WHITE(), k(nm), s(nm))),
    step(0, 'black', BLACK),
    step(100, 'black', (nm) => layer(BLACK(), k(nm), s(nm))),
  ],
});
const orange: Pigment = { k: (nm) => 2.5 / (1 + Math.exp((nm - 570) / 12)) + 0.01, s: () => 0.6 };
const blue: Pigment = { k: (nm) => 2 * Math.exp(-(((nm - 620) / 70) ** 2)) + 0.02, s: () => 0.15 };
const yellow: Pigment = { k: (nm) => 2.2 / (1 + Math.exp((nm - 490) / 9)), s: () => 0.3 };
const black: Pigment = { k: () => 3, s: () => 0.05 };
const clear: Pigment = { k: (nm) => 1.5 / (1 + Math.exp((nm - 550) / 15)), s: () => 0 };

describe('a film over white and black', () => {
  it.each([
    ['orange', orange],
    ['blue', blue],
    ['yellow', yellow],
  ])('of %s is found in what the differential equation makes of it', (name, pigment) => {
    const film = filmOf(drawn(name, pigment))!;
    nms.forEach((nm, i) => {
      expect(film.absorption[i]).toBeCloseTo(pigment.k(nm), 3);
      expect(film.scattering[i]).toBeCloseTo(pigment.s(nm), 3);
    });
  });

  it('that scatters nothing is a filter, passed twice', () => {
    const film = filmOf(drawn('clear', clear))!;
    nms.forEach((nm, i) => {
      expect(film.absorption[i]).toBeCloseTo(clear.k(nm), 2);
      expect(film.scattering[i]).toBeLessThan(0.01);
    });
  });

  it('is null for an ink that was not measured over black, or in other bands', () => {
    const { steps, ...rest } = drawn('half', orange);
    expect(filmOf({ ...rest, steps: steps.filter((s) => s.backing === 'white') })).toBeNull();
    const other = steps.map((s) =>
      s.backing === 'black' ? { ...s, spectrum: { ...s.spectrum, start: 390 } } : s,
    );
    expect(filmOf({ ...rest, steps: other })).toBeNull();
  });
});

describe('an overprint of two inks', () => {
  const [one, two] = [drawn('Orange', orange), drawn('Blue', blue)];

  it('of solids is what the equation says of one film over the other', () => {
    const estimate = overprint({ ink: one, percent: 100 }, { ink: two, percent: 100 })!;
    const below = (nm: number) => layer(layer(WHITE(), orange.k(nm), orange.s(nm)), blue.k(nm), blue.s(nm));
    expect(deltaE00(labOfSpectrum(estimate.spectrum), labOfSpectrum(seen(below)))).toBeLessThan(0.1);
    expect(estimate.from).toContain('Blue over Orange');
  });

  it('is the measured step itself where one of the two is not there', () => {
    const bare = overprint({ ink: one, percent: 100 }, { ink: two, percent: 0 })!;
    expect(bare.spectrum.values).toEqual(
      one.steps.find((s) => s.percent === 100)!.spectrum.values.map((v) => expect.closeTo(v, 9)),
    );
    const alone = overprint({ ink: one, percent: 0 }, { ink: two, percent: 100 })!;
    const solid = two.steps.find((s) => s.percent === 100)!.spectrum;
    expect(deltaE00(labOfSpectrum(alone.spectrum), labOfSpectrum(solid))).toBeLessThan(0.1);
  });

  it('uses measured tints: a dot that grew on paper grows in the overprint', () => {
    // a tint of 50 % that prints like 70: Yule and Nielsen with n = 2 between paper and solid, by hand
    const grown = step(50, 'white', () => 0);
    const solid = two.steps.find((s) => s.percent === 100)!.spectrum;
    const sheet = two.steps[0]!.spectrum;
    grown.spectrum = {
      ...sheet,
      values: sheet.values.map((p, i) => (0.7 * Math.sqrt(solid.values[i]!) + 0.3 * Math.sqrt(p)) ** 2),
    };
    const ramp = drawn('Blue', blue, [grown]);
    const full = overprint({ ink: one, percent: 100 }, { ink: ramp, percent: 100 })!.spectrum.values;
    const under = one.steps.find((s) => s.percent === 100)!.spectrum.values;
    const half = overprint({ ink: one, percent: 100 }, { ink: ramp, percent: 50 })!.spectrum.values;
    half.forEach((v, i) => {
      expect(v).toBeCloseTo((0.7 * Math.sqrt(full[i]!) + 0.3 * Math.sqrt(under[i]!)) ** 2, 6);
    });
  });

  it('is not made up where the second ink was never measured over black', () => {
    const without = { ...two, steps: two.steps.filter((s) => s.backing === 'white') };
    expect(overprint({ ink: one, percent: 50 }, { ink: without, percent: 50 })).toBeNull();
  });
});

describe('recipes', () => {
  const bases = [
    drawn('Orange', orange),
    drawn('Blue', blue),
    drawn('Yellow', yellow),
    drawn('Black', black),
  ];
  const sheet = bases[0]!.steps[0]!.spectrum;

  it('find a mixture that the differential equation made, in its parts and without metamerism', () => {
    const k = (nm: number) => 0.5 * yellow.k(nm) + 0.2 * blue.k(nm) + 0.02 * black.k(nm);
    const s = (nm: number) => 0.5 * yellow.s(nm) + 0.2 * blue.s(nm) + 0.02 * black.s(nm);
    const target = seen((nm) => layer(WHITE(), k(nm), s(nm)));
    const [best] = recipesFor(target, bases);
    expect(best!.deltaE00).toBeLessThan(0.1);
    expect(best!.metamerism).toBeLessThan(0.3);
    const parts = Object.fromEntries(best!.shares.map((p) => [p.name, p.percent]));
    expect(parts.Yellow).toBeCloseTo(50, -1);
    expect(parts.Blue).toBeCloseTo(20, -1);
  });

  it('have at most four bases, no more than one film, and say how far off they are', () => {
    for (const recipe of recipesFor([30, 60, -70], bases, 10)) {
      expect(recipe.shares.length).toBeLessThanOrEqual(4);
      expect(recipe.shares.reduce((sum, p) => sum + p.percent, 0)).toBeLessThanOrEqual(100 + 1e-6);
      expect(recipe.metamerism).toBeNull();
      // a violet that none of them makes
      expect(recipe.deltaE00).toBeGreaterThan(5);
      const again = mixedOver(
        sheet,
        recipe.shares.map((p) => ({
          film: filmOf(bases.find((b) => b.name === p.name)!)!,
          amount: p.percent / 100,
        })),
      );
      expect(deltaE00(labOfSpectrum(again), [30, 60, -70])).toBeCloseTo(recipe.deltaE00, 9);
    }
  });

  it('come of nothing where no base can be used', () => {
    expect(recipesFor([50, 0, 0], [])).toEqual([]);
  });
});
