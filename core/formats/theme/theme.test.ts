import { describe, expect, it } from 'vitest';
import { toHex } from '../../color/index.ts';
import { coated, fleet, readBy, recognisedAs, writeBy } from '../../testing.ts';
import { theme } from './theme.ts';

const named = (json: unknown) => readBy(theme, JSON.stringify(json));

describe('theme JSON', () => {
  it('reads nested scales, lists, objects with a value, and rows', () => {
    const source = {
      primary: '#8a1c24',
      blue: { 50: '#eef6ff', 500: 'rgb(20 48 74)', dark: { 900: 'oklch(0.3 0.05 240)' } },
      gray: ['#111111', '#222'],
      spacing: { small: '4px' },
      sea: {
        deep: { value: '#010203', type: 'color', comment: 'at night' },
        far: { value: '{sea.deep.value}' },
      },
      swatches: [
        { name: 'Rope', hex: '#c8a064' },
        { name: 'Tar', rgb: [26, 26, 26] },
      ],
    };
    const { lines, swatches } = named(source);
    expect(lines.filter((l) => !l.startsWith('blue / dark'))).toEqual([
      'primary #8a1c24',
      'blue | 50 #eef6ff',
      'blue | 500 #14304a',
      'gray | 0 #111111',
      'gray | 1 #222222',
      'sea | deep #010203',
      'sea | far #010203',
      'swatches | Rope #c8a064',
      'swatches | Tar #1a1a1a',
    ]);
    expect(swatches.find((s) => s.name === 'deep')!.note).toBe('at night');
    expect(recognisedAs(JSON.stringify(source))).toBe('theme');
  });

  it('follows references inside of a colour, and tells those that lead nowhere', () => {
    const { lines, swatches, warnings } = named({
      base: { value: '#102030' },
      thin: { value: 'rgba({base}, 0.5)' },
      lost: { value: '{gone}' },
      ring: { value: '{ring}' },
    });
    expect(lines).toEqual(['base #102030', 'thin #102030']);
    expect(swatches[1]!.alpha).toBe(0.5);
    expect(warnings).toEqual(['2 references lead nowhere, and were left out.']);
  });

  it('reads numbers in the space that their key states, on the scale the file has', () => {
    const { swatches, warnings } = named({
      ink: { name: 'Red', cmyk: [0, 100, 100, 0] },
      part: { cmyk: { c: 0.5, m: 0, y: 0, k: 0.25 } },
      text: { cmyk: '0, 50, 100, 0' },
      turn: { hsl: [210, 50, 40] },
      measured: { lab: [48.2, -68, 12] },
      ok: { oklch: [0.6, 0.1, 200] },
      unit: { rgb: [0.5, 0.25, 1] },
      bytes: { rgb: [26, 26, 1] },
      thin: { r: 255, g: 0, b: 51, a: 0.4 },
      long: { red: 0, green: 102, blue: 204 },
      both: { hex: '#e4002b', lab: [47, 71, 44] },
      wrong: { cmyk: [0, 250, 0, 0] },
    });
    expect(swatches.map((s) => [s.name, s.color.space, s.color.components, s.alpha])).toEqual([
      ['ink', 'cmyk', [0, 1, 1, 0], undefined],
      ['part', 'cmyk', [0.5, 0, 0, 0.25], undefined],
      ['text', 'cmyk', [0, 0.5, 1, 0], undefined],
      ['turn', 'hsl', [210, 0.5, 0.4], undefined],
      ['measured', 'lab', [48.2, -68, 12], undefined],
      ['ok', 'oklch', [0.6, 0.1, 200], undefined],
      ['unit', 'rgb', [0.5, 0.25, 1], undefined],
      ['bytes', 'rgb', [26 / 255, 26 / 255, 1 / 255], undefined],
      ['thin', 'rgb', [1, 0, 0.2], 0.4],
      ['long', 'rgb', [0, 0.4, 0.8], undefined],
      ['both', 'lab', [47, 71, 44], undefined],
    ]);
    expect(swatches.at(-1)!.alternates!.map((c) => toHex(c, coated))).toEqual(['#e4002b']);
    expect(warnings).toEqual(['Left out: “wrong.cmyk”: 0, 250, 0, 0 is out of range for CMYK.']);
  });

  it('takes words and bare digits for colours only where a colour is expected', () => {
    const { lines, warnings } = named({
      version: '202411',
      updated: [2026, 11, 30],
      position: [0, 50, 100],
      swatches: [
        { name: 'Red', level: 'red', id: '123456', hex: '#c8a064', at: [10, 20, 30] },
        { name: 'Tar', color: 'black' },
        { name: 'Nothing', level: 'tan' },
      ],
      colors: { brand: 'ff8000', ink: 'navy', list: [[26, 26, 26]] },
    });
    expect(lines).toEqual([
      'swatches | Red #c8a064',
      'swatches | Tar #000000',
      'colors | brand #ff8000',
      'colors | ink #000080',
      'colors / list | 0 #1a1a1a',
    ]);
    expect(warnings).toEqual([
      '2 words and numbers could be colours, but stand where none is expected, and were left out, such as “version”: “202411”.',
    ]);
  });

  it('takes bare digits where there is nothing else', () => {
    expect(named({ Name: 'ff8000', Sea: '112233' }).lines).toEqual(['Name #ff8000', 'Sea #112233']);
    expect(recognisedAs('{"Name":"ff8000"}')).toBe('theme');
    expect(named({ id: 'ff8000' }).lines).toEqual([]);
  });

  it('keeps whole numbers as names in the order of the text', () => {
    const text = '{"scale":{"900":"#111111","50":"#eeeeee","x":"#777777","500":"#808080"}}';
    expect(readBy(theme, text).lines).toEqual([
      'scale | 900 #111111',
      'scale | 50 #eeeeee',
      'scale | x #777777',
      'scale | 500 #808080',
    ]);
  });

  it('writes what any JSON reader finds under its name, in both shapes', () => {
    const plain = JSON.parse(writeBy(theme, fleet));
    expect(plain).toMatchObject({
      Paper: '#ffffff',
      Hull: { 'Boot-top red': toHex(fleet.groups[1]!.swatches[0]!.color, coated) },
    });
    const older = JSON.parse(writeBy(theme, fleet, { shape: 'value' }));
    expect(older.Hull.Cutting).toEqual({
      value: toHex(fleet.groups[1]!.swatches[2]!.color, coated),
      type: 'color',
    });
    expect(readBy(theme, writeBy(theme, fleet, { shape: 'value' })).lines).toEqual(
      readBy(theme, writeBy(theme, fleet)).lines,
    );
  });
});
