import { describe, expect, it } from 'vitest';
import { toHex } from '../../color/index.ts';
import { countingIds, type Library } from '../../swatch/model.ts';
import { coated, fleet, libraryOf, readBy, recognisedAs, services, writeBy } from '../../testing.ts';
import { aco } from '../aco/aco.ts';
import { FormatError, openSwatchFile, type PlainFormat } from '../index.ts';
import { hex } from './hex.ts';

const bytes = (text: string) => new TextEncoder().encode(text);
const read = (format: PlainFormat, source: string) => format.decode(bytes(source), countingIds()).library;
const entries = (l: Library) =>
  l.groups.flatMap((g) => g.swatches.map((s) => [toHex(s.color, coated), s.name]));

describe('hex list', () => {
  it('takes the ways people write one', () => {
    const list = read(hex, '; ropes\n#8a1c24 #fff\n2F7D6B, 0x112233\n#00ff0080\n');
    expect(entries(list).map(([h]) => h)).toEqual(['#8a1c24', '#ffffff', '#2f7d6b', '#112233', '#00ff00']);
    expect(list.groups[0].swatches[4].alpha).toBeCloseTo(128 / 255);
  });

  it('names the line of a slip, and goes on', async () => {
    const { warnings, library } = await openSwatchFile(
      bytes('#112233\n#445566\n#77889g\n#aabbcc\n'),
      'a.txt',
      countingIds(),
    );
    expect(entries(library).map(([h]) => h)).toEqual(['#112233', '#445566', '#aabbcc']);
    expect(warnings).toEqual([expect.stringMatching(/line 3: “#77889g”/)]);
  });

  it('is not seen in prose or numbers', async () => {
    await expect(
      openSwatchFile(bytes('Dear crew, 100 200 300'), 'letter.txt', countingIds()),
    ).rejects.toThrow(FormatError);
  });
});

describe('lists of codes', () => {
  it('read opacity in front, and names beside codes', () => {
    const { lines, swatches, warnings } = readBy(hex, '; a remark\nFF8A1C24\n8014304A\n');
    expect(lines).toEqual([' #8a1c24', ' #14304a']);
    expect(swatches.map((s) => s.alpha)).toEqual([undefined, 128 / 255]);
    expect(warnings).toEqual(['2 codes have an alpha value, read from the first digits.']);
    expect(recognisedAs('; a remark\nFF8A1C24\n8014304A\n')).toBe('hex');
    for (const list of [
      'Hull red #8a1c24\nDeep sea #14304a\n',
      '#8a1c24 Hull red\n#14304a Deep sea\n',
      'Hull red: #8a1c24\nDeep sea: #14304a',
      'Hull red = "#8a1c24"\nDeep sea = "#14304a"\n',
      '- Hull red – 0x8a1c24\n- Deep sea – 0x14304a\n',
    ])
      expect([recognisedAs(list), ...readBy(hex, list).lines]).toEqual([
        'hex',
        'Hull red #8a1c24',
        'Deep sea #14304a',
      ]);
  });

  it('write case, prefix, opacity and names as they are asked for', () => {
    const library = libraryOf('x', { '': [['Hull', '#8a1c24']] });
    expect(writeBy(hex, library)).toBe('#8a1c24\n');
    expect(writeBy(hex, library, { before: '', letters: 'capital' })).toBe('8A1C24\n');
    expect(writeBy(hex, library, { before: '0x', opacity: 'first', names: true })).toBe('Hull 0xff8a1c24\n');
  });

  it('ACO for old programs has its first section alone', () => {
    const [old, both] = [true, false].map((o) => aco.encode(fleet, services, { old: o }));
    expect(old!.length).toBe(4 + 5 * 10);
    expect(both!.subarray(0, old!.length)).toEqual(old);
    expect(readBy(aco, old!).swatches.map((s) => s.name)).toEqual(['', '', '', '', '']);
  });
});
