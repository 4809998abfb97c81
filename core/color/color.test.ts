import ColorJs from 'colorjs.io';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { coated } from '../testing.ts';
import {
  type Color,
  convert,
  deltaE00,
  inkOn,
  luminance,
  NotationError,
  notations,
  parseColor,
  type Space,
  toCss,
  toHex,
  toLab,
  typedColor,
} from './index.ts';

/** Sharma, Wu and Dalal (2005), The CIEDE2000 color-difference formula, table 1; values from memory of the table. */
const SHARMA = `
50 2.6772 -79.7751 50 0 -82.7485 2.0425
50 3.1571 -77.2803 50 0 -82.7485 2.8615
50 2.8361 -74.0200 50 0 -82.7485 3.4412
50 -1.3802 -84.2814 50 0 -82.7485 1.0000
50 -1.1848 -84.8006 50 0 -82.7485 1.0000
50 -0.9009 -85.5211 50 0 -82.7485 1.0000
50 0 0 50 -1 2 2.3669
50 -1 2 50 0 0 2.3669
50 2.4900 -0.0010 50 -2.4900 0.0009 7.1792
50 2.4900 -0.0010 50 -2.4900 0.0010 7.1792
50 2.4900 -0.0010 50 -2.4900 0.0011 7.2195
50 2.4900 -0.0010 50 -2.4900 0.0012 7.2195
50 -0.0010 2.4900 50 0.0009 -2.4900 4.8045
50 -0.0010 2.4900 50 0.0010 -2.4900 4.8045
50 -0.0010 2.4900 50 0.0011 -2.4900 4.7461
50 2.5 0 50 0 -2.5 4.3065
50 2.5 0 73 25 -18 27.1492
50 2.5 0 61 -5 29 22.8977
50 2.5 0 56 -27 -3 31.9030
50 2.5 0 58 24 15 19.4535
50 2.5 0 50 3.1736 0.5854 1.0000
50 2.5 0 50 3.2972 0 1.0000
50 2.5 0 50 1.8634 0.5757 1.0000
50 2.5 0 50 3.2592 0.3350 1.0000
60.2574 -34.0099 36.2677 60.4626 -34.1751 39.4387 1.2644
63.0109 -31.0961 -5.8663 62.8187 -29.7946 -4.0864 1.2630
61.2901 3.7196 -5.3901 61.4292 2.2480 -4.9620 1.8731
35.0831 -44.1164 3.7933 35.0232 -40.0716 1.5901 1.8645
22.7233 20.0904 -46.6940 23.0331 14.9730 -42.5619 2.0373
36.4612 47.8580 18.3852 36.2715 50.5065 21.2231 1.4146
90.8027 -2.0831 1.4410 91.1528 -1.6435 0.0447 1.4441
90.9257 -0.5406 -0.9208 88.6381 -0.8985 -0.7239 1.5381
6.7747 -0.2908 -2.4247 5.8714 -0.0985 -2.2286 0.6377
2.0776 0.0795 -1.1350 0.9033 -0.0636 -0.5514 0.9082`
  .trim()
  .split('\n')
  .map((line) => line.split(' ').map(Number));

describe('CIEDE2000', () => {
  it.each(SHARMA)('published pair %#', (L1, a1, b1, L2, a2, b2, expected) => {
    expect(deltaE00([L1, a1, b1], [L2, a2, b2])).toBeCloseTo(expected, 4);
    expect(deltaE00([L2, a2, b2], [L1, a1, b1])).toBeCloseTo(expected, 4);
  });

  it('agrees with colorjs.io on any pair', () => {
    const lab = fc.tuple(
      ...[100, 127, 127].map((m, i) => fc.double({ min: i ? -m : 0, max: m, noNaN: true })),
    );
    fc.assert(
      fc.property(lab, lab, (one, two) => {
        const reference = new ColorJs('lab', one as never).deltaE(new ColorJs('lab', two as never), '2000');
        expect(deltaE00(one as never, two as never)).toBeCloseTo(reference, 6);
      }),
    );
  });
});

describe('conversions', () => {
  const reference: [Space, string, number[]][] = [
    ['rgb', 'srgb', [1, 1, 1]],
    ['hsb', 'hsv', [1, 100, 100]],
    ['lab', 'lab', [1, 1, 1]],
  ];
  const unit = fc.double({ min: 0, max: 1, noNaN: true });

  it.each(reference)('%s agrees with colorjs.io to 1e-6', (space, id, scale) => {
    fc.assert(
      fc.property(unit, unit, unit, (r, g, b) => {
        const ours = convert({ space: 'rgb', components: [r, g, b] }, space, coated).components;
        const theirs = new ColorJs('srgb', [r, g, b]).to(id).coords;
        const back = convert({ space, components: ours }, 'rgb', coated).components;
        if (space === 'lab') {
          const srgb = new ColorJs('lab', ours as never).to('srgb').coords.map(Number);
          convert({ space, components: ours }, 'rgb', coated).components.forEach((v, i) => {
            expect(Math.abs(v - srgb[i])).toBeLessThan(1e-6);
          });
        }
        ours.forEach((v, i) => {
          // the hue of a neutral means nothing
          if (!(space === 'hsb' && i === 0 && (ours[1] < 1e-9 || ours[2] < 1e-9)))
            expect(Math.abs(v * scale[i] - Number(theirs[i] ?? 0)) % 360).toBeLessThan(
              1e-6 * Math.max(1, scale[i]),
            );
          expect(back[i]).toBeCloseTo([r, g, b][i], 6);
        });
        expect(luminance({ space: 'rgb', components: [r, g, b] }, coated)).toBeCloseTo(
          new ColorJs('srgb', [r, g, b]).luminance as number,
          6,
        );
      }),
    );
  });

  it('OKLCh, as the readout shows it, agrees with colorjs.io', () => {
    fc.assert(
      fc.property(unit, unit, unit, (r, g, b) => {
        const [l, c] = notations({ space: 'rgb', components: [r, g, b] }, coated)
          .find((n) => n.id === 'oklch')!
          .text.split(' ')
          .map(Number);
        const theirs = new ColorJs('srgb', [r, g, b]).to('oklch').coords.map(Number);
        expect(Math.abs(l - theirs[0])).toBeLessThan(0.00051);
        expect(Math.abs(c - theirs[1])).toBeLessThan(0.00051);
      }),
    );
  });

  it('leaves a colour in its own space untouched', () => {
    const color: Color = { space: 'cmyk', components: [0.1 + 0.2, 0, 0.7, 0.1] };
    expect(convert(color, 'cmyk', coated)).toBe(color);
  });

  it('knows the Lab of sRGB white and red (by colorjs.io)', () => {
    expect(toLab(parseColor('#fff'), coated)[0]).toBeCloseTo(100, 4);
    new ColorJs('red').to('lab').coords.forEach((v, i) => {
      expect(toLab(parseColor('#f00'), coated)[i]).toBeCloseTo(Number(v), 7);
    });
  });

  it('inks: paper is white, and black is what coated paper makes of it', () => {
    expect(toHex({ space: 'cmyk', components: [0, 0, 0, 0] }, coated)).toBe('#ffffff');
    expect(toHex({ space: 'gray', components: [1] }, coated)).toBe('#ffffff');
  });

  it('puts black on yellow and white on navy', () => {
    expect(inkOn(parseColor('#ffe000'), coated)).toBe('#000000');
    expect(inkOn(parseColor('#14324a'), coated)).toBe('#ffffff');
  });
});

describe('typed colours', () => {
  it('are distinguished from numbers and names where both may stand', () => {
    for (const text of [
      '#8a1c24',
      'Lab 40 57 33',
      'lab(40 57 33)',
      'C 10 M 90 Y 80 K 0',
      'HSB 80 4 93',
      'gray 40',
    ])
      expect(typedColor(text), text).toEqual(parseColor(text));
    for (const text of ['612', 'KW 612', 'c 7', 'red', 'Lab', '#12', 'gra', ''])
      expect(typedColor(text), text).toBeNull();
  });

  it.each<[string, Space, number[]]>([
    ['#8a1c24', 'rgb', [0x8a / 255, 0x1c / 255, 0x24 / 255]],
    ['8A1C24', 'rgb', [0x8a / 255, 0x1c / 255, 0x24 / 255]],
    ['#f08', 'rgb', [1, 0, 0x88 / 255]],
    ['rgb(255 0 51)', 'rgb', [1, 0, 0.2]],
    ['C 20 M 0 Y 80 K 0', 'cmyk', [0.2, 0, 0.8, 0]],
    ['c20 m0 y80 k0', 'cmyk', [0.2, 0, 0.8, 0]],
    ['cmyk(20%, 0%, 80%, 0%)', 'cmyk', [0.2, 0, 0.8, 0]],
    ['Lab 39.4 55.2 -34', 'lab', [39.4, 55.2, -34]],
    ['lab(39.4 55.2 -34)', 'lab', [39.4, 55.2, -34]],
    ['L 39.4 a 55.2 b -34', 'lab', [39.4, 55.2, -34]],
    ['HSB 12 80 60', 'hsb', [12, 0.8, 0.6]],
    ['RGB 255 0 51', 'rgb', [1, 0, 0.2]],
    ['gray 40', 'gray', [0.4]],
  ])('%s', (text, space, components) => {
    const color = parseColor(text);
    expect(color.space).toBe(space);
    color.components.forEach((v, i) => {
      expect(v).toBeCloseTo(components[i], 12);
    });
  });

  it.each(['', 'hull red', '#12345', 'C 20 M 0 Y 180 K 0', 'Lab 139 0 0', 'RGB 300 0 0'])(
    'refuses “%s” with a reason',
    (text) => {
      expect(() => parseColor(text)).toThrow(NotationError);
    },
  );

  it('writes CSS that reads back to the same colour', () => {
    const component = fc.double({ min: 0, max: 1, noNaN: true });
    fc.assert(
      fc.property(component, component, component, (r, g, b) => {
        const back = parseColor(toCss({ space: 'rgb', components: [r, g, b] }, coated)).components;
        expect(back).toEqual([r, g, b].map((v) => v + 0));
      }),
    );
    expect(toCss(parseColor('#8a1c24'), coated)).toBe('#8a1c24');
  });

  it('reads out in every notation, with its own numbers first', () => {
    const rows = notations({ space: 'cmyk', components: [0, 1, 1, 0] }, coated);
    expect(rows[0]).toEqual({
      id: 'cmyk',
      label: 'CMYK',
      text: '0 100 100 0 %',
      through: 'Coated offset (FOGRA39L)',
    });
    const text = Object.fromEntries(notations(parseColor('#ff0000'), coated).map((r) => [r.id, r.text]));
    // CSS Color 4 lists red as lch(54.29 106.84 40.85) and oklch(0.628 0.258 29.23)
    expect(text).toMatchObject({
      hex: '#FF0000',
      rgb: '255 0 0',
      hsb: '0° 100 % 100 %',
      hsl: '0° 100 % 50 %',
      lch: '54.3 106.8 40.9°',
      oklch: '0.628 0.258 29.2°',
      luminance: '0.213',
    });
  });
});
