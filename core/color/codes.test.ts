import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { coated } from '../testing.ts';
import { answered, type CodeLine, codeLines, readCodes, toHex } from './index.ts';

const hexes = ({ codes }: CodeLine) =>
  codes.flatMap((code) => answered(code).map((c) => toHex(c.color, coated)));
const named = (line: string) =>
  readCodes(line).codes.map((code) => [
    code.name,
    answered(code).map((c) => toHex(c.color, coated))[0] ?? null,
  ]);
const unread = (line: string) =>
  readCodes(line)
    .parts.filter((p) => p.is === 'unread')
    .map((p) => line.slice(p.from, p.to).trim());
const asks = (line: string) =>
  readCodes(line).codes.map(({ question, readings }) => ({
    question,
    readings: Object.fromEntries(
      readings.map((r) => [
        r.id,
        r.colors.map((c) => toHex(c.color, coated) + (c.alpha === undefined ? '' : ` ${c.alpha.toFixed(2)}`)),
      ]),
    ),
  }));

describe('one code', () => {
  // CSS Color Module Level 4: sections 5.2 (hex), 6.1 (named), 7 (hsl) and its examples of the same green, #00ff00;
  // Level 5, section on device-cmyk(), where firebrick is about device-cmyk(0 0.81 0.81 0.3)
  it.each([
    ['#00ff00', '#00ff00'],
    ['#0f0', '#00ff00'],
    ['00FF00', '#00ff00'],
    ['0x00ff00', '#00ff00'],
    ['lime', '#00ff00'],
    ['rgb(0 255 0)', '#00ff00'],
    ['RGB (0, 255, 0)', '#00ff00'],
    ['rgb(0% 100% 0%)', '#00ff00'],
    ['hsl(120deg 100% 50%)', '#00ff00'],
    ['HSL(120, 100%, 50%)', '#00ff00'],
    ['hwb(120 0% 0%)', '#00ff00'],
    ['color(srgb 0 1 0)', '#00ff00'],
    ['oklch(0.8664 0.2948 142.5)', '#00ff00'],
    ['H 120 S 100 L 50', '#00ff00'],
    ['R 0 G 255 B 0', '#00ff00'],
    ['0, 255, 0', '#00ff00'],
    ['0 1 0', '#000100'],
    ['0.0 1.0 0.0', '#00ff00'],
    ['device-cmyk(0 0.81 0.81 0.3)', '#b54128'],
    ['cmyk(0 81 81 30)', '#b54128'],
    ['C 0 M 81 Y 81 K 30', '#b54128'],
    ['C=0 M=81 Y=81 K=30', '#b54128'],
    ['0% 81% 81% 30%', '#b54128'],
  ])('reads %s', (text, hex) => {
    expect(hexes(readCodes(text))).toEqual([hex]);
  });

  it('keeps the space of what is written in CMYK, Lab and grey', () => {
    const color = (line: string) => readCodes(line).codes[0].readings[0].colors[0].color;
    expect(color('C 20 M 0 Y 80 K 0')).toEqual({ space: 'cmyk', components: [0.2, 0, 0.8, 0] });
    expect(color('L* 39 a* 55 b* 34')).toEqual({ space: 'lab', components: [39, 55, 34] });
    expect(color('lab(39% 55 34)')).toEqual({ space: 'lab', components: [39, 55, 34] });
    expect(color('39 -12 34')).toEqual({ space: 'lab', components: [39, -12, 34] });
    expect(color('Mist: grey 40')).toEqual({ space: 'gray', components: [0.4] });
  });

  it.each([
    '#8a1c24',
    '#8a 1c 24',
    '# 8a1c24',
    '# 8 a 1 c 2 4',
    '8a 1c 24',
    '8 a 1 c 2 4',
    '#8A1C 24',
    '0x 8a1c24',
  ])('reads “%s” with the spaces it has', (text) => {
    expect(hexes(readCodes(text))).toEqual(['#8a1c24']);
  });

  it('keeps what lies outside sRGB, and the alpha', () => {
    const [p3] = readCodes('color(display-p3 1 0 0 / 0.5)').codes[0].readings[0].colors;
    expect(p3.color).toEqual({ space: 'p3', components: [1, 0, 0] });
    expect(p3.alpha).toBe(0.5);
  });
});

describe('a code that could mean two things', () => {
  it('asks whether alpha stands first or last', () => {
    expect(asks('#80ff0000')).toEqual([
      { question: 'alpha', readings: { last: ['#80ff00 0.00'], first: ['#ff0000 0.50'] } },
    ]);
    expect(asks('0x80ff0000')[0].question).toBe('alpha');
    expect(asks('80 ff 00 00')[0].question).toBe('alpha');
    expect(asks('#f00f')[0].readings).toEqual({ last: ['#ff0000'], first: ['#0000ff'] });
  });

  it('does not ask where the standard says so: in a style sheet alpha stands last', () => {
    expect(asks('--veil: #80ff0080;')).toEqual([
      { question: undefined, readings: { only: ['#80ff00 0.50'] } },
    ]);
    expect(asks('<path fill="#80ff0080"/>')[0].question).toBeUndefined();
  });

  it('asks whether pairs of digits are hex or RGB', () => {
    expect(asks('12 34 56')[0]).toEqual({
      question: 'hex-or-rgb',
      readings: { rgb: ['#0c2238'], hex: ['#123456'] },
    });
    expect(asks('212 34 56')[0].question).toBeUndefined();
  });

  it('asks whether four numbers are inks or RGB and alpha', () => {
    expect(asks('20 0 80 0')[0].question).toBe('cmyk-or-alpha');
    expect(asks('200 0 80 128')).toEqual([{ question: undefined, readings: { only: ['#c80050 0.50'] } }]);
  });

  it('asks whether a short code is followed by a word or by its second half', () => {
    expect(asks('#fff bad')[0]).toEqual({
      question: 'one-or-two',
      readings: { one: ['#fffbad'], two: ['#ffffff'] },
    });
  });

  it('asks whether a hex code, RGB and CMYK side by side are one colour', () => {
    const [code] = asks('Hull red #8A1C24  R 138 G 28 B 36  C 20 M 90 Y 80 K 30');
    expect(code.question).toBe('ways');
    expect(Object.keys(code.readings)).toEqual(['hex', 'rgb', 'cmyk', 'each']);
    expect(code.readings.each).toHaveLength(3);
  });

  it('gives no colour before it is answered', () => {
    const [code] = readCodes('#80ff0000').codes;
    expect(answered(code)).toEqual([]);
    expect(toHex(answered(code, 'first')[0].color, coated)).toBe('#ff0000');
    expect(answered(code, 'third')).toEqual([]);
  });
});

describe('names beside codes', () => {
  it.each([
    ['Hull red: #8a1c24', 'Hull red'],
    ['#8a1c24 Hull red', 'Hull red'],
    ['1. Hull red — #8a1c24', 'Hull red'],
    ['Hull red\t#8a1c24', 'Hull red'],
    ['| Hull red | `#8a1c24` |', 'Hull red'],
    ['138 28 36\tHull red', 'Hull red'],
    ['Pale 2 138 28 36', 'Pale 2'],
    ['hull red 8a1c24', 'hull red'],
    ['Hull red 8a 1c 24', 'Hull red'],
    ['--hull-red: #8a1c24;', 'hull-red'],
    ['$hull-red: #8a1c24 !default;', 'hull-red'],
    ['"hull red": "#8a1c24",', 'hull red'],
    ['const hullRed = "#8a1c24";', 'hullRed'],
    ['#define HULL_RED 0x8a1c24', 'HULL_RED'],
    ['<color name="hull_red">#8a1c24</color>', 'hull_red'],
    ['<td>Hull red</td><td>#8a1c24</td>', 'Hull red'],
    ['أحمر البدن #8a1c24', 'أحمر البدن'],
    ['.boot { background: #8a1c24 }', ''],
    ['<rect id="abc" fill="#8a1c24" x="1"/>', ''],
  ])('%s', (line, name) => {
    expect(named(line)).toEqual([[name, '#8a1c24']]);
  });

  it('goes with each of several codes in a line, in their order', () => {
    expect(named('Hull #8a1c24, sea #14304a, brass #d9a441')).toEqual([
      ['Hull', '#8a1c24'],
      ['sea', '#14304a'],
      ['brass', '#d9a441'],
    ]);
    expect(named('$hull: #8a1c24; $sea: #14304a;')).toEqual([
      ['hull', '#8a1c24'],
      ['sea', '#14304a'],
    ]);
  });
});

describe('what is not a code', () => {
  it.each([
    'Sky and water',
    'Warm grey 100',
    'Version 1.2.3',
    'Printed on 12 May 2024',
    '&#123; and &#8212;',
    'fill: url(#fade)',
    'Deed of sale',
  ])('finds none in “%s”, and says it is not read', (line) => {
    expect(readCodes(line).codes).toEqual([]);
    expect(unread(line).join(' ')).not.toBe('');
  });

  it('says which words beside a code were not read', () => {
    expect(unread('Hull red: #8a1c24 (two coats)')).toEqual(['(two coats)']);
    expect(unread('Hull red: #8a1c24;')).toEqual([]);
  });

  it.each([
    ['#8a1c2', '5 digits'],
    ['rgb(300 0 0)', 'R is 300'],
    ['C 120 M 0 Y 0 K 0', 'C is 120'],
    ['rgb(1 2', 'bracket'],
    ['hsl(12 nonsense)', 'does not belong'],
  ])('says what is wrong with %s', (line, problem) => {
    const [code] = readCodes(line).codes;
    expect(code.readings).toEqual([]);
    expect(code.problem).toContain(problem);
  });

  it('offers the digit a letter was taken for', () => {
    expect(readCodes('Hull #8A1C2O').codes[0]).toMatchObject({ readings: [], instead: '#8a1c20' });
    expect(readCodes('#sold').codes).toEqual([]);
  });
});

describe('lines', () => {
  it('are taken out of any text, and long ones are cut between declarations', () => {
    expect(codeLines('\ufeff#fff\r\n\r\n  ＃８ａ１ｃ２４\u00a0\n')).toEqual(['#fff', '#8a1c24']);
    expect(codeLines('rgb(\n 138,\n 28,\n 36\n)')).toHaveLength(1);
    const sheet = `:root{${Array.from({ length: 40 }, (_, i) => `--c${i}:#8a1c${10 + i}`).join(';')}}`;
    expect(codeLines(sheet).flatMap((line) => named(line))).toEqual(
      Array.from({ length: 40 }, (_, i) => [`c${i}`, `#8a1c${10 + i}`]),
    );
  });

  it('lose no character: each lies in one part', () => {
    const piece = fc.oneof(
      fc.constantFrom(
        '#8a1c24',
        '#fff',
        ' ',
        '\t',
        'Hull',
        ': ',
        'rgb(1 2 3)',
        '<a b="c">',
        '{',
        ';',
        '20 0 80 0',
        '0x',
        '&#1;',
      ),
      fc.string({ unit: 'grapheme', maxLength: 8 }),
    );
    fc.assert(
      fc.property(fc.array(piece, { maxLength: 12 }), (pieces) => {
        const line = pieces.join('');
        const { parts, codes } = readCodes(line);
        expect(parts.map((p) => line.slice(p.from, p.to)).join('')).toBe(line);
        expect(parts.filter((p) => p.is === 'code')).toHaveLength(codes.length);
      }),
      { numRuns: 2000 },
    );
  });

  it('give every code of a list, however it is separated', () => {
    const hex = fc.integer({ min: 0, max: 0xffffff }).map((n) => `#${n.toString(16).padStart(6, '0')}`);
    fc.assert(
      fc.property(
        fc.array(hex, { minLength: 1 }),
        fc.constantFrom(', ', '; ', ' | ', '\t', ' / '),
        (list, by) => {
          expect(hexes(readCodes(list.join(by)))).toEqual(list);
        },
      ),
    );
  });
});
