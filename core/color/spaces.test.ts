import ColorJs from 'colorjs.io';
import { adapt } from 'colorjs.io/src/CATs.js';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { coated } from '../testing.ts';
import {
  adaptedXyz,
  type Color,
  carried,
  convert,
  fromCss,
  inSrgb,
  type Lab,
  SPACES,
  type Space,
  spaces,
  toCss,
  toHex,
  toLab,
  toRgb,
  WHITES,
} from './index.ts';

// colorjs.io is the second opinion: other code, other people, the same standards.
const THEIRS: Partial<Record<Space, { id: string; scale: number[] }>> = {
  rgb: { id: 'srgb', scale: [1, 1, 1] },
  hsb: { id: 'hsv', scale: [1, 100, 100] },
  hsl: { id: 'hsl', scale: [1, 100, 100] },
  hwb: { id: 'hwb', scale: [1, 100, 100] },
  lab: { id: 'lab', scale: [1, 1, 1] },
  lch: { id: 'lch', scale: [1, 1, 1] },
  oklab: { id: 'oklab', scale: [1, 1, 1] },
  oklch: { id: 'oklch', scale: [1, 1, 1] },
  p3: { id: 'p3', scale: [1, 1, 1] },
  a98: { id: 'a98rgb', scale: [1, 1, 1] },
  prophoto: { id: 'prophoto', scale: [1, 1, 1] },
  rec2020: { id: 'rec2020', scale: [1, 1, 1] },
};
const theirs = ({ space, components }: Color) => {
  const { id, scale } = THEIRS[space]!;
  return new ColorJs(id, components.map((v, i) => v * scale[i]) as [number, number, number]);
};
const unit = fc.double({ min: 0, max: 1, noNaN: true });
const listed = Object.keys(THEIRS) as Space[];

it.each(listed)('%s goes to Lab as it does in colorjs.io', (space) => {
  fc.assert(
    fc.property(unit, unit, unit, (...at) => {
      const { channels } = spaces[space];
      const components = at.map((v, i) => channels[i].min + v * (channels[i].max - channels[i].min));
      // white and black together are no more than all
      if (space === 'hwb' && components[1] + components[2] > 1) return;
      const color = { space, components };
      const wanted = theirs(color).to('lab').coords.map(Number);
      toLab(color, coated).forEach((v, i) => {
        expect(Math.abs(v - wanted[i])).toBeLessThan(5e-4);
      });
      // and back, where the other space holds it
      const back = convert({ space: 'lab', components: toLab(color, coated) }, space, coated);
      const there = theirs(back).to('lab').coords.map(Number);
      if (!spaces[space].gamut || theirs(color).inGamut(THEIRS[space]!.id, { epsilon: -1e-4 }))
        there.forEach((v, i) => {
          expect(Math.abs(v - wanted[i])).toBeLessThan(2e-3);
        });
    }),
  );
});

describe('a colour that a space cannot hold', () => {
  it.each(['rgb', 'p3', 'a98', 'rec2020'] as const)(
    'comes into %s as CSS Color 4 says, by colorjs.io',
    (gamut) => {
      fc.assert(
        fc.property(unit, unit, unit, (l, c, h) => {
          const color: Color = { space: 'oklch', components: [l, c * 0.37, h * 360] };
          const ours = convert(color, gamut, coated).components;
          const wanted = theirs(color)
            .toGamut({ space: THEIRS[gamut]!.id, method: 'css' })
            .to(THEIRS[gamut]!.id)
            .coords.map((v) => Math.min(1, Math.max(0, Number(v))));
          ours.forEach((v, i) => {
            expect(Math.abs(v - wanted[i])).toBeLessThan(2e-3);
            expect(v).toBeGreaterThanOrEqual(0);
            expect(v).toBeLessThanOrEqual(1);
          });
        }),
        { numRuns: 300 },
      );
    },
  );

  it('keeps lightness and hue: the cyan of coated offset does not turn', () => {
    const cyan: Color = { space: 'cmyk', components: [1, 0, 0, 0] };
    expect(inSrgb(cyan, coated)).toBe(false);
    const [L, , h] = convert({ space: 'lab', components: coated.shown(cyan) }, 'oklch', coated).components;
    const [l, , hue] = convert({ space: 'rgb', components: toRgb(cyan, coated) }, 'oklch', coated).components;
    // clipped channel by channel it turned by 18°
    expect(Math.abs(hue - h)).toBeLessThan(4);
    expect(Math.abs(l - L)).toBeLessThan(0.02);
  });

  it('is brought inside where a format holds RGB, and stays as it is where one holds Lab', () => {
    const p3: Color = { space: 'p3', components: [0, 1, 0] };
    expect(carried(p3, ['rgb', 'lab'], coated).space).toBe('lab');
    expect(carried(p3, ['rgb'], coated).components.every((v) => v >= 0 && v <= 1)).toBe(true);
    const beyond: Color = { space: 'rgb', components: [-0.227, 0.5, 1.1] };
    expect(carried(beyond, ['rgb', 'lab'], coated).components.every((v) => v >= 0 && v <= 1)).toBe(true);
    const fits: Color = { space: 'rgb', components: [0.1, 0.2, 0.3] };
    expect(carried(fits, ['rgb'], coated)).toBe(fits);
  });
});

describe('CSS', () => {
  it.each([
    'oklch(0.62 0.15 200.123456789)',
    'oklab(0.5 -0.1 0.05)',
    'lch(50.5 30 120)',
    'lab(40 57 33)',
    'hsl(120.5 50% 25%)',
    'hwb(90 10% 20%)',
    'color(display-p3 0 1 0.123456789012)',
    'color(a98-rgb 0.1 0.2 0.3)',
    'color(prophoto-rgb 0.1 0.2 0.3)',
    'color(rec2020 0.1 0.2 0.3)',
    'color(srgb -0.227 0.5 1.1)',
  ])('%s keeps its space and its numbers, and is written so again', (css) => {
    const { color } = fromCss(css)!;
    const numbers = css
      .replace(/^color\(\S+/, '(')
      .match(/-?\d+\.?\d*/g)!
      .map(Number);
    const parts = css.includes('%') ? [1, 100, 100] : [1, 1, 1];
    expect(color.components).toEqual(numbers.map((v, i) => v / parts[i]));
    if (color.space === 'rgb') return;
    expect(fromCss(toCss(color, coated))!.color).toEqual(color);
    expect(toCss(color, coated, 0.5)).toMatch(/ \/ 0\.5\)$/);
  });

  it('of every space reads back as the same colour', () => {
    fc.assert(
      fc.property(fc.constantFrom(...SPACES), unit, unit, unit, unit, (space, ...at) => {
        const color = {
          space,
          components: spaces[space].channels.map(({ min, max }, i) => min + at[i] * (max - min)),
        };
        const back = fromCss(toCss(color, coated))!.color;
        expect(toHex(back, coated)).toBe(toHex(color, coated));
      }),
    );
  });
});

describe('Lab of another white', () => {
  it('is adapted, and not relabelled: D65 as colorjs.io does it', () => {
    fc.assert(
      fc.property(unit, unit, unit, (l, a, b) => {
        const components = [l * 100, a * 100 - 50, b * 100 - 50];
        const wanted = new ColorJs('lab-d65', components as never).to('lab').coords.map(Number);
        const ours = toLab({ space: 'lab', components, white: 'D65/2' }, coated);
        // the white of ASTM E308 has five places, that of CSS comes from a chromaticity of four
        ours.forEach((v, i) => {
          expect(Math.abs(v - wanted[i])).toBeLessThan(0.05);
        });
      }),
    );
  });

  it('leaves white white, whatever the illuminant', () => {
    for (const white of WHITES) {
      const [L, a, b] = toLab({ space: 'lab', components: [100, 0, 0], white }, coated);
      expect(L).toBeCloseTo(100, 6);
      expect(Math.hypot(a, b)).toBeLessThan(1e-6);
    }
  });

  it('goes by Bradford’s transform: illuminant A to D50, by colorjs.io', () => {
    const D50 = [0.3457 / 0.3585, 1, (1 - 0.3457 - 0.3585) / 0.3585] as [number, number, number];
    const m = adapt([1.0985, 1, 0.35585], D50);
    for (const xyz of [
      [0.2, 0.3, 0.1],
      [0.9, 0.8, 0.3],
    ])
      adaptedXyz(xyz, 'A/2').forEach((v, i) => {
        const wanted = m[i]!.reduce((sum, w, j) => sum + w * xyz[j], 0);
        expect(v).toBeCloseTo(wanted, 6);
      });
  });

  it('is written as D50 where a format knows no other', () => {
    const color: Color = { space: 'lab', components: [50, 20, 30], white: 'A/10' };
    const plain = carried(color, ['rgb', 'lab'], coated);
    expect(plain.white).toBeUndefined();
    expect(plain.components).toEqual(toLab(color, coated) as Lab);
  });
});
