import ColorJs from 'colorjs.io';
import { adapt as theirAdapt } from 'colorjs.io/src/CATs.js';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { type Color, contrast, convert, deltaE00, fromRgb8, nearestPrints, toLab } from '../color/index.ts';
import { DISPLAY_P3, pressGamutOf, SRGB } from '../harmony/index.ts';
import type { Swatch } from '../swatch/model.ts';
import { coated } from '../testing.ts';
import {
  adapt,
  contrastAfter,
  LIGHT_NAMES,
  LIGHTS,
  relighter,
  spreadOf,
  type Tuning,
  toProcess,
  tune,
  VARIATION_STEPS,
  VARIATIONS,
  variationOf,
} from './index.ts';

type Xyz = [number, number, number];

let n = 0;
const swatch = (color: Color, more: Partial<Swatch> = {}): Swatch => ({
  id: String(n++),
  name: '',
  kind: 'process',
  color,
  ...more,
});
const rgb = (r: number, g: number, b: number) => swatch(fromRgb8(r, g, b));
const lchOf = (color: Color) => convert(color, 'oklch', coated).components as [number, number, number];
const turned = (a: number, b: number) => Math.abs(((a - b + 540) % 360) - 180);
const run = (swatches: Swatch[], tuning: Tuning, gamut = SRGB) => tune(swatches, tuning, gamut, coated);
const eightBits = fc.integer({ min: 0, max: 255 });
const anyRgb = fc.tuple(eightBits, eightBits, eightBits);

describe('a shift', () => {
  it('is that of OKLCh as colorjs.io has it, to a millionth', () => {
    fc.assert(
      fc.property(anyRgb, ([r, g, b]) => {
        const [own] = run([rgb(r, g, b)], { lightness: -2.5, chroma: 0.6, hue: 20 });
        const theirs = new ColorJs('srgb', [r / 255, g / 255, b / 255]).to('oklch');
        const [L, C, h] = theirs.coords.map((v) => Number(v) || 0) as [number, number, number];
        // black has nothing below it, and a grey no hue
        fc.pre(L > 0.05 && C > 0.01 && own!.lostChroma === 0);
        const [l, c, t] = lchOf(own!.color);
        expect(Math.abs(l - (L - 0.025))).toBeLessThan(1e-6);
        expect(Math.abs(c - C * 0.6)).toBeLessThan(1e-6);
        expect(turned(t, h + 20)).toBeLessThan(1e-3);
      }),
      { numRuns: 500 },
    );
  });

  it('of nothing leaves every digit, and inks and lines are left alone', () => {
    const odd: Color = { space: 'lab', components: [50.123456789, 80, -100] };
    const [same] = run([swatch(odd)], { lightness: 0, chroma: 1 });
    expect(same).toMatchObject({ deltaE00: 0, lostChroma: 0 });
    expect(same!.color).toBe(odd);
    const list = [
      swatch(fromRgb8(20, 90, 160), { kind: 'spot' }),
      swatch(fromRgb8(20, 90, 160), { kind: 'technical' }),
      rgb(20, 90, 160),
    ];
    expect(run(list, { lightness: 5 }).map((t) => t.swatch)).toEqual([list[2]]);
  });

  it('of one ink changes that ink alone, to the last digit', () => {
    const inks: Color = { space: 'cmyk', components: [0.2, 0.6, 0.9, 0.1] };
    const values: Color = { space: 'cmyk', components: [0.2, 0.61, 0.9, 0.1] };
    const [one] = run([swatch(inks)], { values });
    expect(one!.color).toBe(values);
    expect(one!.deltaE00).toBeCloseTo(deltaE00(toLab(inks, coated), toLab(values, coated)), 9);
    // of several they say nothing
    const list = [swatch(inks), rgb(1, 2, 3)];
    expect(run(list, { values }).map((t) => t.color)).toEqual(list.map((s) => s.color));
  });

  it('keeps the space that a swatch was authored in', () => {
    const list: Color[] = [
      { space: 'cmyk', components: [0.2, 0.6, 0.9, 0.1] },
      { space: 'lab', components: [40, 30, 20] },
      { space: 'hsb', components: [200, 0.5, 0.5] },
      { space: 'gray', components: [0.5] },
    ];
    const made = run(
      list.map((c) => swatch(c)),
      { lightness: 4 },
    );
    expect(made.map((t) => t.color.space)).toEqual(['cmyk', 'lab', 'hsb', 'gray']);
    for (const [i, t] of made.entries()) {
      expect(lchOf(t.color)[0]).toBeCloseTo(lchOf(list[i]!)[0] + 0.04, i === 0 ? 1 : 4);
      expect(t.deltaE00).toBeCloseTo(deltaE00(toLab(list[i]!, coated), toLab(t.color, coated)), 9);
    }
    // a gray that is given a hue is none
    const [blended] = run([swatch(list[3]!)], { blend: { toward: fromRgb8(255, 0, 0), percent: 50 } });
    expect(blended!.color.space).toBe('rgb');
  });
});

describe('what leaves a gamut', () => {
  it('keeps lightness and hue, and says how much chroma it lost: 10,000 colours', () => {
    const colors = fc.sample(anyRgb, { numRuns: 10_000, seed: 11 }).map(([r, g, b]) => rgb(r, g, b));
    for (const [gamut, id] of [
      [SRGB, 'srgb'],
      [DISPLAY_P3, 'p3'],
    ] as const) {
      const made = tune(
        colors.map((s) => ({ ...s, color: convert(s.color, 'oklch', coated) })),
        { chroma: 3 },
        gamut,
        coated,
      );
      expect(made.filter((t) => t.lostChroma > 0).length).toBeGreaterThan(5000);
      made.forEach((t, i) => {
        const [was, now] = [lchOf(colors[i]!.color), lchOf(t.color)];
        expect(Math.abs(now[0] - was[0])).toBeLessThan(1e-9);
        if (was[1] > 1e-4) expect(turned(now[2], was[2])).toBeLessThan(1e-6);
        expect(now[1] + t.lostChroma).toBeCloseTo(3 * was[1], 6);
        if (i % 50 === 0) expect(new ColorJs('oklch', now).inGamut(id, { epsilon: 1e-5 })).toBe(true);
      });
    }
  });

  it('stays on the press, too', () => {
    const press = pressGamutOf(coated);
    for (const t of run([rgb(0, 255, 0), rgb(0, 60, 255)], { lightness: 1 }, press)) {
      expect(t.lostChroma).toBeGreaterThan(0.02);
      const [print] = nearestPrints([toLab(t.color, coated)], coated, coated.setting.inkLimit / 100);
      expect(print!.deltaE00).toBeLessThan(2.5);
    }
  });
});

describe('light', () => {
  it('is adapted by Bradford as ICC.1 annex E prints it, from D65 to D50', () => {
    // the matrix of the standard's example, to its four decimals
    const printed = [
      [1.0479, 0.0229, -0.0501],
      [0.0296, 0.9904, -0.0171],
      [-0.0092, 0.0151, 0.7517],
    ];
    const whites = [
      [95.047, 100, 108.883],
      [96.422, 100, 82.521],
    ] as const;
    for (let c = 0; c < 3; c++) {
      const column = adapt(
        [0, 1, 2].map((i) => (i === c ? 1 : 0)),
        ...whites,
        'bradford',
      );
      for (let r = 0; r < 3; r++) expect(Math.abs(column[r]! - printed[r]![c]!)).toBeLessThan(6e-4);
    }
  });

  it('by Bradford and CAT16 is what colorjs.io makes of it', () => {
    for (const [cones, id] of [
      ['bradford', 'Bradford'],
      ['cat16', 'CAT16'],
    ] as const)
      for (const from of LIGHT_NAMES)
        for (const to of LIGHT_NAMES) {
          const [a, b] = [from, to].map((l) => [LIGHTS[l][0] / 100, 1, LIGHTS[l][1] / 100]) as [Xyz, Xyz];
          const theirs = theirAdapt(a, b, id);
          for (const xyz of [
            [0.2, 0.3, 0.4],
            [0.7, 0.6, 0.1],
          ])
            adapt(xyz, a, b, cones).forEach((v, i) => {
              expect(v).toBeCloseTo(
                theirs[i]!.reduce((sum, w, k) => sum + w * xyz[k]!, 0),
                5,
              );
            });
        }
  });

  it('of a lamp makes white yellowish, and back again white', () => {
    const white = [1, 0, 0];
    const lit = relighter('D65', 'A', 'cat16')(white);
    expect(lit[2]).toBeGreaterThan(0.05);
    relighter(
      'A',
      'D65',
      'cat16',
    )(lit).forEach((v, i) => {
      expect(v).toBeCloseTo(white[i]!, 6);
    });
  });
});

describe('reversed', () => {
  it('light is dark, and the contrast of any two is what it was, by colorjs.io', () => {
    const list = [
      rgb(255, 255, 255),
      rgb(20, 48, 74),
      rgb(179, 38, 43),
      rgb(231, 207, 166),
      rgb(47, 125, 107),
      rgb(0, 0, 0),
    ];
    const made = run(list, { reverse: true });
    const css = (color: Color) =>
      new ColorJs('srgb', convert(color, 'rgb', coated).components as [number, number, number]);
    for (let i = 0; i < list.length; i++)
      for (let k = 0; k < i; k++) {
        const was = css(list[i]!.color).contrast(css(list[k]!.color), 'WCAG21');
        const is = css(made[i]!.color).contrast(css(made[k]!.color), 'WCAG21');
        expect(Math.abs(was - is), `${i} on ${k}`).toBeLessThan(0.1);
        expect(is).toBeCloseTo(contrast(made[i]!.color, made[k]!.color, coated), 2);
      }
    expect(lchOf(made[0]!.color)[0]).toBeLessThan(0.05);
    // a hue stays where there is room for one
    expect(turned(lchOf(made[1]!.color)[2], lchOf(list[1]!.color)[2])).toBeLessThan(1);
  });
});

it('pairs of text and ground that begin and cease to pass are counted', () => {
  const list = [
    { ...rgb(130, 130, 130), role: 'text' },
    { ...rgb(20, 20, 20), role: 'text' },
    { ...rgb(255, 255, 255), role: 'background' },
  ];
  // 3.9 : 1 and 18 : 1 on white, by WCAG 2.2
  expect(contrastAfter(list, new Map(), 4.5, coated)).toEqual({ starts: 0, stops: 0, pairs: [] });
  const darker = new Map(run(list.slice(0, 2), { lightness: -10 }).map((t) => [t.swatch.id, t.color]));
  const { pairs, ...counts } = contrastAfter(list, darker, 4.5, coated);
  expect(counts).toEqual({ starts: 1, stops: 0 });
  // each pair that changes, as colorjs.io has its contrast
  const theirs = (text: Color) =>
    new ColorJs('oklab', convert(text, 'oklab', coated).components as Xyz).contrast('white', 'WCAG21');
  for (const [i, pair] of pairs.entries()) {
    expect(pair.was).toBeCloseTo(theirs(list[i]!.color), 2);
    expect(pair.is).toBeCloseTo(theirs(darker.get(list[i]!.id)!), 2);
  }
  expect(pairs.map((p) => p.text.id)).toEqual([list[0]!.id, list[1]!.id]);
  const grey = new Map([[list[2]!.id, fromRgb8(90, 90, 90)]]);
  expect(contrastAfter(list, grey, 4.5, coated)).toMatchObject({ starts: 0, stops: 1 });
});

describe('many at once', () => {
  const list = [rgb(20, 30, 40), rgb(200, 60, 60), rgb(60, 160, 80), rgb(230, 220, 120)];

  it('are evened by a share, in the order that there is, with the ends where they were', () => {
    const at = (percent: number) =>
      run(list, { even: { lightness: percent } }, DISPLAY_P3).map((t) => lchOf(t.color)[0]);
    const was = list.map((s) => lchOf(s.color)[0]);
    const order = was.map((_, i) => i).sort((a, b) => was[a]! - was[b]!);
    const whole = at(100);
    const steps = order.slice(1).map((i, k) => whole[i]! - whole[order[k]!]!);
    for (const step of steps) expect(step).toBeCloseTo(steps[0]!, 6);
    expect([whole[order[0]!], whole[order.at(-1)!]]).toEqual([
      expect.closeTo(was[order[0]!]!, 6),
      expect.closeTo(was[order.at(-1)!]!, 6),
    ]);
    at(50).forEach((v, i) => {
      expect(v).toBeCloseTo((was[i]! + whole[i]!) / 2, 6);
    });
  });

  it('hues are evened across the circle without closing its widest gap', () => {
    const hues = [350, 0, 30, 80].map((h) => swatch({ space: 'oklch', components: [0.6, 0.08, h] }));
    const made = run(hues, { even: { hue: 100 } }).map((t) => lchOf(t.color)[2]);
    [350, 20, 50, 80].forEach((h, i) => {
      expect(turned(made[i]!, h)).toBeLessThan(1e-6);
    });
  });

  it('take on the mean and the spread of others', () => {
    const others = [rgb(120, 90, 60), rgb(140, 120, 100), rgb(90, 70, 80)];
    const spread = spreadOf(
      others.map((s) => s.color),
      coated,
    );
    const made = run(list, { match: { spread, percent: 100 } }, DISPLAY_P3);
    const own = spreadOf(
      made.map((t) => convert(t.color, 'oklch', coated)),
      coated,
    );
    for (let i = 0; i < 3; i++) {
      expect(own.mean[i]).toBeCloseTo(spread.mean[i]!, 3);
      expect(own.deviation[i]).toBeCloseTo(spread.deviation[i]!, 3);
    }
    const none = run(list, { match: { spread, percent: 0 } });
    expect(none.every((t) => t.deltaE00 < 1e-9)).toBe(true);
  });

  it('blend towards a colour in a straight line of OKLab', () => {
    const [half] = run([rgb(0, 0, 0)], { blend: { toward: fromRgb8(255, 255, 255), percent: 50 } });
    expect(lchOf(half!.color)[0]).toBeCloseTo(0.5, 6);
  });
});

describe('warmth', () => {
  it('moves all by the same way, so that their distances stay', () => {
    const pair = [rgb(90, 110, 120), rgb(140, 120, 130)];
    const oklab = (color: Color) => convert(color, 'oklab', coated).components;
    const [a, b] = run(pair, { warmth: 2 });
    const apart = (p: readonly number[], q: readonly number[]) => p.map((v, i) => v - q[i]!);
    apart(oklab(a!.color), oklab(b!.color)).forEach((v, i) => {
      expect(v).toBeCloseTo(apart(oklab(pair[0]!.color), oklab(pair[1]!.color))[i]!, 6);
    });
    // by colorjs.io: redder and yellower, as light as it was
    const theirs = (color: Color) => new ColorJs('oklab', oklab(color) as Xyz).to('lab').coords as number[];
    const [was, is] = [theirs(pair[0]!.color), theirs(a!.color)];
    expect(is[1]! - was[1]!).toBeGreaterThan(1);
    expect(is[2]! - was[2]!).toBeGreaterThan(1);
    expect(Math.abs(is[0]! - was[0]!)).toBeLessThan(0.7);
  });
});

describe('variations', () => {
  it('are so far off as they say, by colorjs.io, and only in what they say', () => {
    for (const { color } of [rgb(70, 110, 130), rgb(200, 60, 50), rgb(120, 120, 120)])
      for (const what of VARIATIONS)
        for (const step of VARIATION_STEPS) {
          const made = variationOf(color, what, step, SRGB, coated);
          if (what === 'hue' && color.components.every((v) => v === color.components[0])) {
            expect(made).toBeNull();
            continue;
          }
          // a strong red has no room for more
          if (!made) continue;
          const theirs = [color, made].map(
            (c) => new ColorJs('oklab', convert(c, 'oklab', coated).components as Xyz),
          );
          expect(theirs[0]!.deltaE(theirs[1]!, '2000')).toBeCloseTo(Math.abs(step), 2);
          const [p, q] = theirs.map((c) => c.to('lch').coords as Xyz);
          if (what === 'lightness') expect(Math.sign(q![0] - p![0])).toBe(Math.sign(step));
          else expect(q![0]).toBeCloseTo(p![0], 2);
          if (what === 'hue') expect(q![1]).toBeCloseTo(p![1], 2);
          if (what === 'chroma' && p![1] > 1) expect(turned(p![2], q![2])).toBeLessThan(0.05);
        }
  });

  it('end where there is nothing more', () => {
    expect(variationOf(fromRgb8(0, 0, 0), 'lightness', -1, SRGB, coated)).toBeNull();
    expect(variationOf(fromRgb8(255, 255, 255), 'lightness', 1, SRGB, coated)).toBeNull();
    expect(variationOf(fromRgb8(255, 0, 0), 'chroma', 4, SRGB, coated)).toBeNull();
  });
});

describe('an ink', () => {
  it('is converted to process when a person says so, as near as the press comes, and process colours are let alone', () => {
    const lab: Color = { space: 'lab', components: [45, 20, 15] };
    const spot = swatch(lab, { kind: 'spot', name: 'Rust' });
    const { ops, label } = toProcess([spot, rgb(1, 2, 3)], coated);
    expect(label).toBe('convert “Rust” to process');
    expect(ops).toHaveLength(1);
    const [op] = ops;
    if (op?.op !== 'set') throw new Error('It is not set.');
    const color = op.fields.color as Color;
    expect([op.fields.kind, color.space]).toEqual(['process', 'cmyk']);
    // the profile itself, through the colour engine, gives the colour back
    expect(deltaE00(toLab(color, coated), [45, 20, 15])).toBeLessThan(1);
  });
});
