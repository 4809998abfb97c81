import ColorJs from 'colorjs.io';
import { clampChroma, converter } from 'culori';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  type Color,
  deltaE00,
  type Lab,
  nearestPrints,
  type Oklch,
  oklabToLab,
  oklchToOklab,
  toLab,
} from '../color/index.ts';
import { coated, uncoated } from '../testing.ts';
import {
  AS_BASE,
  type Asked,
  around,
  CIRCLES,
  type CircleId,
  circleById,
  DISPLAY_P3,
  EXTRAS,
  edgeOf,
  familyOf,
  fitted,
  type Gamut,
  type Member,
  movedTo,
  PIGMENTS,
  paintRibbon,
  plainAsked,
  pressGamutOf,
  reachOn,
  rules,
  SRGB,
  turnOf,
  usualAreas,
} from './index.ts';

const oklch = (...components: Oklch): Color => ({ space: 'oklch', components });
const asked = (rule: string, more: Partial<Asked> = {}): Asked => ({
  bases: [{ color: oklch(0.62, 0.08, 25) }],
  rule,
  circle: 'perceptual',
  lightness: AS_BASE,
  chroma: AS_BASE,
  ...more,
});
const members = (rule: string, more: Partial<Asked> = {}, gamut: Gamut = SRGB) =>
  familyOf(asked(rule, more), gamut, coated);
const labOf = ({ lch }: Pick<Member, 'lch'>): Lab => oklabToLab(oklchToOklab(lch));
const inside = (gamut: Gamut, [L, C, h]: Oklch) => gamut.holds(...oklchToOklab([L, C, h]));

const anyBase = fc
  .tuple(
    fc.double({ min: 0, max: 1, noNaN: true }),
    fc.double({ min: 0, max: 0.37, noNaN: true }),
    fc.double({ min: 0, max: 359.9, noNaN: true }),
  )
  .map(([L, C, h]) => oklch(L, C, h));

/** Where a member lies inside: a base itself may lie outside. */
const insideOf = (m: Member) => (m.inside?.components ?? m.lch) as Member['lch'];

describe('rules', () => {
  // turns from the base, as the trade defines them (common practice, no source)
  const TURNS: Record<string, number[]> = {
    complementary: [0, 180],
    'near-complementary': [0, 210],
    split: [0, 150, 210],
    analogous: [0, 330, 30],
    triadic: [0, 120, 240],
    tetradic: [0, 60, 180, 240],
    square: [0, 90, 180, 270],
    'neighbour-split': [0, 30, 150, 210],
    freely: [0, 90, 180, 270],
  };

  it('stand at their angles in OKLCh, by a second reckoning', () => {
    const toOklch = converter('oklch');
    for (const [rule, turns] of Object.entries(TURNS)) {
      const hues = members(rule).map(({ color }) => {
        const { r, g, b } = converter('rgb')({
          mode: 'oklch',
          l: color.components[0]!,
          c: color.components[1]!,
          h: color.components[2]!,
        });
        return toOklch({ mode: 'rgb', r, g, b }).h!;
      });
      expect(hues.length).toBe(turns.length);
      hues.forEach((h, i) => {
        expect([rule, Math.abs(turnOf(25 + turns[i]!, h))]).toEqual([
          rule,
          expect.toSatisfy((v: number) => v < 0.01),
        ]);
      });
    }
  });

  it('stand at their angles in HSL on the screen’s circle, by culori', () => {
    const hsl = converter('hsl');
    for (const [rule, turns] of Object.entries(TURNS)) {
      const all = members(rule, { circle: 'screen' });
      const hues = all.map(({ lch }) => hsl({ mode: 'oklch', l: lch[0], c: lch[1], h: lch[2] }).h!);
      hues.forEach((h, i) => {
        expect([rule, Math.abs(turnOf(hues[0]! + turns[i]!, h))]).toEqual([
          rule,
          expect.toSatisfy((v: number) => v < 0.01),
        ]);
      });
    }
  });

  it('pair red with green, yellow with violet and blue with orange on the pigments’ circle', () => {
    // the painters' pairs: common practice, no source
    const hue = (name: string) => PIGMENTS.find((p) => p[1] === name)![2];
    for (const [one, other] of [
      ['red', 'green'],
      ['yellow', 'violet'],
      ['blue', 'orange'],
    ] as const)
      for (const [from, to] of [
        [one, other],
        [other, one],
      ] as const) {
        const [, companion] = members('complementary', {
          circle: 'pigment',
          bases: [{ color: oklch(0.6, 0.05, hue(from)) }],
        });
        expect([from, companion!.lch[2]]).toEqual([from, expect.closeTo(hue(to), 6)]);
      }
  });

  it('know every place of every circle both ways', () => {
    fc.assert(
      fc.property(
        fc.constantFrom(...CIRCLES),
        fc.double({ min: 0, max: 359.99, noNaN: true }),
        fc.double({ min: 0.2, max: 0.9, noNaN: true }),
        (id, place, L) => {
          const circle = circleById(id);
          const h = circle.hueAt(place, L, 0.04);
          expect(Math.abs(turnOf(circle.placeOf([L, 0.04, h]), place))).toBeLessThan(1e-5);
        },
      ),
      { numRuns: 2000 },
    );
  });

  it('lead from colour to colour, through each of them', () => {
    const bases = [oklch(0.4, 0.1, 20), oklch(0.7, 0.05, 120), oklch(0.8, 0.1, 250)].map((color) => ({
      color,
    }));
    const all = members('between', { bases, count: 3 });
    expect(all.map((m) => m.isBase)).toEqual([true, false, false, false, true, false, false, false, true]);
    all
      .filter((m) => m.isBase)
      .forEach((m, i) => {
        expect(m.color).toBe(bases[i]!.color);
      });
    expect(
      members('between', { bases: [bases[0]!, { color: oklch(0.95, 0, 0) }] }).every(
        (m) => Math.abs(turnOf(m.lch[2], 20)) < 1e-3 || m.lch[1] < 1e-3,
      ),
    ).toBe(true);
  });

  it('have every base’s own companions, each with its own key and role', () => {
    const bases = [20, 110, 200, 290].map((h) => ({ color: oklch(0.6, 0.08, h) }));
    for (const { id, bases: wanted } of rules) {
      const all = members(id, { bases, also: [...EXTRAS] });
      expect(new Set(all.map((m) => m.key)).size).toBe(all.length);
      expect(all.every((m) => m.role !== '')).toBe(true);
      expect(all.length).toBeGreaterThan(wanted.min);
    }
  });
});

describe('lightness and chroma', () => {
  it('follow the base, are spread to both sides, or go along a curve', () => {
    expect(members('square').map((m) => m.lch[0])).toEqual(Array(4).fill(0.62));
    const spread = members('square', { lightness: { by: 'spread', amount: 0.1, bend: 1 } }).map(
      (m) => m.lch[0] - 0.62,
    );
    expect([Math.max(...spread), Math.min(...spread)]).toEqual([
      expect.closeTo(0.05, 6),
      expect.closeTo(-0.1, 6),
    ]);
    const curve = members('square', { chroma: { by: 'curve', amount: 0.5, bend: 2 } }).map((m) => m.lch[1]);
    expect(curve[1]).toBeLessThan(curve[2]!);
    expect(curve[2]).toBeLessThan(curve[3]!);
    expect(curve[0]).toBe(0.08);
  });

  it('go in even steps where that is asked: ΔE00 from each to the next within 5 %', () => {
    fc.assert(
      fc.property(
        fc.constantFrom('one-hue', 'shades', 'tints', 'tones', 'between', 'neutral'),
        fc.tuple(
          fc.double({ min: 0.25, max: 0.85, noNaN: true }),
          fc.double({ min: 0.05, max: 0.2, noNaN: true }),
          fc.double({ min: 0, max: 359, noNaN: true }),
        ),
        fc.integer({ min: 3, max: 9 }),
        fc.constantFrom(...CIRCLES),
        (rule, base, count, circle) => {
          const bases = [
            { color: oklch(...(base as Oklch)) },
            { color: oklch(1 - base[0] * 0.8, 0.06, around(base[2] + 70)) },
          ];
          const all = members(rule, {
            bases: rule === 'between' ? bases : bases.slice(0, 1),
            count,
            even: true,
            circle,
          });
          // a base outside is stepped to as it would be inside
          const labs = all.map((m) => labOf({ lch: insideOf(m) }));
          const steps = labs.slice(1).map((lab, i) => deltaE00(labs[i]!, lab));
          const mean = steps.reduce((a, b) => a + b, 0) / steps.length;
          for (const step of steps) expect(Math.abs(step / mean - 1)).toBeLessThan(0.05);
        },
      ),
      { numRuns: 150 },
    );
  });

  it('goes evenly past the bases in the middle', () => {
    const bases = [oklch(0.3, 0.08, 20), oklch(0.45, 0.1, 60), oklch(0.9, 0.05, 120)].map((color) => ({
      color,
    }));
    const all = members('between', { bases, even: true, count: 3 });
    const steps = all.slice(1).map((m, i) => deltaE00(labOf(all[i]!), labOf(m)));
    for (const step of steps) expect(Math.abs(step / steps[0]! - 1)).toBeLessThan(0.05);
    expect(new Set(all.map((m) => m.key)).size).toBe(all.length);
    expect(all.map((m) => m.isBase)).toEqual(all.map((_, i) => i === 0 || i === all.length - 1));
  });

  it('puts neighbours evenly, too', () => {
    const all = members('analogous', { count: 5, even: true });
    const order = ['0.3', '0.1', '0', '0.2', '0.4'].map((key) => all.find((m) => m.key === key)!);
    const steps = order.slice(1).map((m, i) => deltaE00(labOf(order[i]!), labOf(m)));
    for (const step of steps) expect(Math.abs(step / steps[0]! - 1)).toBeLessThan(0.05);
  });
});

describe('gamuts', () => {
  it('lose no member: 10,000 bases on screens', () => {
    const cases = rules.filter((r) => r.id !== 'between');
    fc.assert(
      fc.property(
        anyBase,
        fc.constantFrom(...cases),
        fc.constantFrom(...CIRCLES),
        fc.constantFrom(SRGB, DISPLAY_P3),
        (color, rule, circle, gamut) => {
          for (const m of members(rule.id, { bases: [{ color }], circle, also: [...EXTRAS] }, gamut)) {
            expect(inside(gamut, insideOf(m))).toBe(true);
            expect(m.gaveUp).toBeGreaterThanOrEqual(0);
          }
        },
      ),
      { numRuns: 10_000 },
    );
  }, 120_000);

  it('of sRGB and Display P3 are those that colorjs.io knows', () => {
    fc.assert(
      fc.property(
        anyBase,
        fc.constantFrom([SRGB, 'srgb'] as const, [DISPLAY_P3, 'p3'] as const),
        ({ components }, [gamut, id]) => {
          const { lch } = fitted(
            [components[0]!, components[1]!, components[2]!],
            circleById('perceptual'),
            gamut,
          );
          expect(new ColorJs('oklch', lch).inGamut(id, { epsilon: 1e-5 })).toBe(true);
        },
      ),
      { numRuns: 1000 },
    );
  });

  it('keep as much chroma as culori finds room for, at the same lightness and hue', () => {
    fc.assert(
      fc.property(anyBase, ({ components: [light, c, h] }) => {
        // the very ends leave nothing to compare
        const l = 0.03 + 0.94 * light!;
        const theirs = clampChroma({ mode: 'oklch', l, c: c!, h: h! }, 'oklch', 'rgb') as { c: number };
        const { lch, gaveUp } = fitted([l, c!, h!], circleById('perceptual'), SRGB);
        // culori stops within 0.4 thousandths of the range, and looks at a hair more room
        expect(Math.abs(lch[1] - theirs.c)).toBeLessThan(0.001);
        expect(lch[0]).toBe(l);
        expect(c! - lch[1]).toBeCloseTo(gaveUp, 9);
      }),
      { numRuns: 1000 },
    );
  });

  it('of a press hold what the search for the nearest print reaches', () => {
    for (const condition of [coated, uncoated]) {
      const press = pressGamutOf(condition);
      const all = fc
        .sample(anyBase, { numRuns: 400, seed: 7 })
        .flatMap((color) => members('tetradic', { bases: [{ color }], also: ['neutral'] }, press));
      for (const m of all) expect(inside(press, insideOf(m))).toBe(true);
      const prints = nearestPrints(
        all.map((m) => toLab(m.inside ?? m.color, condition)),
        condition,
        condition.setting.inkLimit / 100,
      );
      const off = prints.filter((p) => p.deltaE00 > 0.5);
      // the search itself stops short now and then; all that it finds so is within what an eye sees
      expect(off.length).toBeLessThan(all.length * 0.005);
      for (const p of off) expect(p.deltaE00).toBeLessThan(2.5);
    }
  });

  it('leave a base as it was typed, and say what it would be inside', () => {
    const color: Color = { space: 'oklch', components: [0.7, 0.3, 150] };
    for (const gamut of [SRGB, pressGamutOf(coated)]) {
      const [base, other] = members('complementary', { bases: [{ color }] }, gamut);
      expect([base!.color, base!.gaveUp, base!.lightened]).toEqual([color, 0, 0]);
      const { components } = base!.inside!;
      expect(components[0]).toBeCloseTo(0.7, 9);
      expect(components[1]).toBeLessThan(0.25);
      expect([inside(gamut, insideOf(base!)), inside(gamut, other!.lch)]).toEqual([true, true]);
    }
    const small: Color = { space: 'oklch', components: [0.7, 0.05, 150] };
    expect(members('complementary', { bases: [{ color: small }] }, SRGB)[0]!.inside).toBeUndefined();
  });

  it('leave an ink of the press as it is', () => {
    const color: Color = { space: 'cmyk', components: [0, 1, 1, 0.1] };
    const [base] = members('complementary', { bases: [{ color }] }, pressGamutOf(coated));
    expect([base!.color, base!.gaveUp]).toEqual([color, 0]);
  });
});

describe('a family', () => {
  const put = (
    a: Asked,
    key: string,
    change: (m: Member) => [number, number, number],
    drag: 'turn' | 'bend',
  ) => {
    const all = familyOf(a, SRGB, coated);
    return movedTo(a, all, key, change(all.find((m) => m.key === key)!), drag, coated);
  };
  const places = (a: Asked) => familyOf(a, SRGB, coated).map((m) => Math.round(m.place * 100) / 100);

  it('turns with a companion that is dragged, or bends its angle', () => {
    const split = asked('split');
    expect(places(put(split, '0.1', (m) => [m.lch[0], m.lch[1], m.place + 10], 'turn'))).toEqual([
      35, 185, 245,
    ]);
    expect(places(put(split, '0.2', (m) => [m.lch[0], m.lch[1], m.place + 10], 'bend'))).toEqual([
      25, 165, 245,
    ]);
    // no further than the rule allows
    expect(places(put(split, '0.2', (m) => [m.lch[0], m.lch[1], m.place + 100], 'bend'))).toEqual([
      25, 150, 260,
    ]);
  });

  it('lets a companion have its own lightness and chroma, and one that is held stay', () => {
    const moved = put(asked('triadic'), '0.1', (m) => [m.lch[0] + 0.1, 0.05, m.place], 'turn');
    const all = familyOf(moved, SRGB, coated);
    expect(all.map((m) => Number(m.lch[0].toFixed(4)))).toEqual([0.62, 0.72, 0.62]);
    expect(all[1]!.lch[1]).toBeCloseTo(0.05, 6);
    const held: Asked = { ...moved, held: { '0.2': [0.5, 0.03, 77] } };
    const turned = put(held, '0', (m) => [m.lch[0], m.lch[1], 100], 'turn');
    const after = familyOf(turned, SRGB, coated);
    expect([after[2]!.place, after[2]!.held]).toEqual([77, true]);
    expect(after[1]!.place).toBeCloseTo(220, 6);
  });

  it('goes freely where it is put', () => {
    const free = put(asked('freely'), '0.2', (m) => [m.lch[0], m.lch[1], 300], 'turn');
    expect(places(free)).toEqual([25, 115, 300, 295]);
  });

  it('begins with a whole set from one colour', () => {
    const all = familyOf(plainAsked(oklch(0.5, 0.17, 25), 'Hull red'), SRGB, coated);
    expect(all.map((m) => m.role)).toEqual([
      'base',
      'left companion',
      'right companion',
      'lighter',
      'neutral',
    ]);
    expect(usualAreas(5).reduce((a, b) => a + b)).toBeCloseTo(1, 9);
  });
});

describe('the ribbon', () => {
  const paint = (circle: CircleId, C: number) => {
    const pixels = new Uint8ClampedArray(720 * 100 * 4);
    paintRibbon({ pixels, width: 720, height: 100 }, circleById(circle), C, 'rgb');
    return pixels;
  };

  it.each(CIRCLES)('is painted in the colours of its places, and clear where there are none (%s)', (id) => {
    const circle = circleById(id);
    const pixels = paint(id, 0.12);
    const rgb = converter('rgb');
    let worst = 0;
    for (let y = 2; y < 98; y += 5)
      for (let x = 1; x < 720; x += 29) {
        const L = 1 - (y + 0.5) / 100;
        const h = circle.hueAt(((x + 0.5) / 720) * 360, L, 0.12);
        const { r, g, b } = rgb({ mode: 'oklch', l: L, c: 0.12, h });
        const at = (y * 720 + x) * 4;
        const clear = pixels[at + 3] === 0;
        const room = Math.min(r, g, b, 1 - r, 1 - g, 1 - b);
        // within a hair of the edge either will do
        if (Math.abs(room) > 0.03) expect(clear).toBe(room < 0);
        if (!clear && room > 0.03)
          worst = Math.max(worst, ...[r, g, b].map((v, i) => Math.abs(pixels[at + i]! - v * 255)));
      }
    expect(worst).toBeLessThan(id === 'screen' ? 10 : 6);
  });

  it('shows where the press ends', () => {
    const press = pressGamutOf(coated);
    const [whole] = reachOn(circleById('perceptual'), 0.03, press, 90);
    expect(whole!.edges.length).toBe(91);
    // green and blue of full chroma are beyond it
    expect(reachOn(circleById('perceptual'), 0.2, press, 90).every((r) => r.edges.length < 60)).toBe(true);
    for (const [L, part] of edgeOf(circleById('perceptual'), 25, 0.34, press, 20))
      expect(inside(press, [L, Math.max(0, part * 0.34 - 0.002), 25])).toBe(true);
  });
});
