import ColorJs from 'colorjs.io';
import { wcagContrast } from 'culori';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { type Color, deltaE00, INTERPOLATIONS, parseColor, toHex, toLab } from '../color/index.ts';
import { css } from '../formats/css/css.ts';
import { tokens } from '../formats/tokens/tokens.ts';
import { scss } from '../formats/variables/variables.ts';
import { countingIds } from '../swatch/model.ts';
import { coated, libraryOf, services } from '../testing.ts';
import { contrastScale, type Evenness, SRGB, scaleOf, stepNames, usualRatios } from './index.ts';

const red = parseColor('#b3262b');
const sea = parseColor('#2f7d6b');
const scale = (
  through: Color[],
  steps: number,
  even: Evenness = 'way',
  way: (typeof INTERPOLATIONS)[number] = 'oklab',
) => scaleOf({ through, steps, way, even }, SRGB, coated);
const labs = (colors: Color[]) => colors.map((c) => toLab(c, coated));

describe('a scale', () => {
  it('begins and ends with its colours, and meets those between', () => {
    const brass = parseColor('#d9a441');
    const steps = scale([red, brass, sea], 5);
    expect([steps[0], steps[2], steps[4]]).toEqual([red, brass, sea]);
  });

  it.each([
    ['oklab', 'oklab', undefined],
    ['oklch', 'oklch', 'shorter'],
    ['oklch-longer', 'oklch', 'longer'],
    ['lab', 'lab', undefined],
    ['linear', 'srgb-linear', undefined],
  ] as const)('in %s goes where colorjs.io goes', (way, space, hue) => {
    const [a, b] = ['#9a5a50', '#5d7f74'];
    const range = new ColorJs(a!).range(new ColorJs(b!), { space, ...(hue ? { hue } : {}) });
    scale([parseColor(a!), parseColor(b!)], 7, 'way', way).forEach((color, i) => {
      const theirs = range(i / 6);
      if (!theirs.inGamut('srgb')) return;
      const lab = theirs.to('lab').coords as [number, number, number];
      expect(deltaE00(toLab(color, coated), lab)).toBeLessThan(0.05);
    });
  });

  it('is even in ΔE00, or in lightness', () => {
    fc.assert(
      fc.property(fc.integer({ min: 3, max: 24 }), fc.constantFrom(...INTERPOLATIONS), (steps, way) => {
        const L = labs(
          scale([parseColor('#f2e6d0'), red, parseColor('#1a1020')], steps, 'lightness', way),
        ).map((l) => l[0]);
        const falls = L.slice(1).map((l, i) => L[i]! - l);
        for (const fall of falls) expect(Math.abs(fall - falls[0]!)).toBeLessThan(0.6);
        const even = labs(scale([red, sea], steps, 'difference', way));
        const apart = even.slice(1).map((l, i) => deltaE00(even[i]!, l));
        for (const d of apart) expect(Math.abs(d / apart[0]! - 1)).toBeLessThan(0.05);
      }),
      { numRuns: 30 },
    );
  });

  it('of one colour leads from near white through it to near black', () => {
    const L = labs(scale([red], 11)).map((l) => l[0]);
    expect([L[0]! > 90, L[10]! < 25]).toEqual([true, true]);
    expect([...L].sort((a, b) => b - a)).toEqual(L);
    expect(scale([red], 11).map((c) => toHex(c, coated))).toContain('#b3262b');
  });
});

describe('a contrast scale', () => {
  it('has its ratios on the ground to 0.02 in 8 bits, never less, by culori', () => {
    fc.assert(
      fc.property(
        fc.tuple(...[0, 1, 2].map(() => fc.integer({ min: 0, max: 255 }))),
        fc.constantFrom('#ffffff', '#000000', '#f4efe6', '#1a1a1a', '#2d2d2d'),
        fc.double({ min: 1, max: 20.9, noNaN: true }),
        ([r, g, b], ground, ratio) => {
          const color: Color = { space: 'rgb', components: [r! / 255, g! / 255, b! / 255] };
          const [step] = contrastScale(color, parseColor(ground), [ratio], coated);
          const most = Math.max(wcagContrast(ground, '#000000'), wcagContrast(ground, '#ffffff'));
          if (!step) {
            expect(ratio).toBeGreaterThan(most - 1e-3);
            return;
          }
          // culori rounds the weights of the channels to four places
          const theirs = wcagContrast(toHex(step.color, coated), ground);
          expect(Math.abs(theirs - step.contrast)).toBeLessThan(0.002);
          expect(theirs - ratio).toBeGreaterThan(-0.002);
          expect(theirs - ratio).toBeLessThan(0.022);
        },
      ),
      { numRuns: 500 },
    );
  });

  it('has the same ratios for several hues', () => {
    const ratios = usualRatios(11);
    const [one, two] = [red, sea].map((c) =>
      contrastScale(c, parseColor('#fff'), ratios, coated).map((s) => s!.contrast),
    );
    one!.forEach((r, i) => {
      expect(Math.abs(r - two![i]!)).toBeLessThanOrEqual(0.02);
    });
  });
});

describe('names of steps', () => {
  it('follow a pattern, and survive into tokens, CSS and SCSS', async () => {
    const steps = scale([red], 11).map((color) => ({ lightness: toLab(color, coated)[0] }));
    const names = stepNames('{name}-{step}', 'hull', steps);
    expect(names).toEqual(steps.map((s) => `hull-${Math.round(s.lightness)}`));
    const ratios = usualRatios(3).map((contrast) => ({ lightness: 50, contrast }));
    expect(stepNames('', 'hull', ratios)).toEqual(['hull-1.07', 'hull-4.01', 'hull-15']);
    expect(stepNames('{name} {lightness}', 'hull', ratios)).toEqual(['hull 50', 'hull 50-2', 'hull 50-3']);
    expect(stepNames('step {n} of {name}', '$& {n}', ratios)[1]).toBe('step 2 of $& {n}');
    const library = libraryOf('Hull', { '': names.map((n, i) => [n, toHex(scale([red], 11)[i]!, coated)]) });
    for (const format of [css, scss, tokens]) {
      const there = format.decode(await format.encode(library, services), countingIds()).library;
      expect(there.groups.flatMap((g) => g.swatches.map((s) => s.name))).toEqual(names);
    }
  });
});
