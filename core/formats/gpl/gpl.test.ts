import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { toHex } from '../../color/index.ts';
import { countingIds, type Library } from '../../swatch/model.ts';
import { anyColor, anyLibrary, anyName, coated, readBy, services } from '../../testing.ts';
import type { PlainFormat } from '../index.ts';
import { gpl } from './gpl.ts';

const bytes = (text: string) => new TextEncoder().encode(text);
const text = (format: PlainFormat, library: Library) =>
  new TextDecoder().decode(format.encode(library, services));
const read = (format: PlainFormat, source: string) => format.decode(bytes(source), countingIds()).library;
const entries = (l: Library) =>
  l.groups.flatMap((g) => g.swatches.map((s) => [toHex(s.color, coated), s.name]));

describe('GPL', () => {
  it('writes the lines that other readers expect', () => {
    const library: Library = {
      id: 'l',
      name: 'Rope',
      columns: 4,
      groups: [
        {
          id: 'g',
          name: '',
          swatches: [
            { id: 's', name: 'New rope', kind: 'process', color: { space: 'rgb', components: [1, 0.2, 0] } },
          ],
        },
      ],
    };
    expect(text(gpl, library)).toBe('GIMP Palette\nName: Rope\nColumns: 4\n#\n255  51   0\tNew rope\n');
    // a second reader, as plain as can be: numbers, then the rest of the line
    const second = text(gpl, library)
      .split('\n')
      .flatMap((line) => /^\s*(\d+)\s+(\d+)\s+(\d+)\s+(.*)$/.exec(line)?.slice(1, 5) ?? []);
    expect(second).toEqual(['255', '51', '0', 'New rope']);
  });

  it('keeps every name without control characters, and the columns', () => {
    const oneLine = anyName.filter((n) => !/[\0-\x08\n-\x1f\x7f\u2028\u2029]/.test(n) && n.isWellFormed());
    fc.assert(
      fc.property(anyLibrary(anyColor(['rgb'], 255), oneLine), (library) => {
        const there = read(gpl, text(gpl, { ...library, columns: 7 }));
        expect(entries(there)).toEqual(entries(library));
        expect([there.name, there.columns]).toEqual([library.name, 7]);
      }),
    );
  });

  it('opens without name, columns, remarks, names or a last line break', () => {
    expect(entries(read(gpl, 'GIMP Palette\r\n0 0 0\r\n255 255 255 White deck\r\n  1\t2   3'))).toEqual([
      ['#000000', ''],
      ['#ffffff', 'White deck'],
      ['#010203', ''],
    ]);
  });

  it('reads the line that says colours have an opacity', () => {
    const { swatches } = readBy(
      gpl,
      'GIMP Palette\nName: x\nChannels: RGBA\n#\n1 2 3 255\tFull\n1 2 3 51 Faint',
    );
    expect(swatches.map((s) => [s.name, s.alpha])).toEqual([
      ['Full', undefined],
      ['Faint', 0.2],
    ]);
  });

  it('reads Latin-1 as well as UTF-8', () => {
    const latin = Uint8Array.from([...'GIMP Palette\n1 2 3\tGr\xfcn'].map((c) => c.charCodeAt(0)));
    expect(gpl.decode(latin, countingIds()).library.groups[0].swatches[0].name).toBe('Grün');
    expect(entries(read(gpl, 'GIMP Palette\n1 2 3\tGrün'))[0][1]).toBe('Grün');
  });

  it.each([
    ['1 2 x', /line 3 .*is not a colour/],
    ['1 2 300 loud', /line 3 has the value 300/],
  ])('passes over %j and tells its line, unless there is nothing else', (line, message) => {
    const { lines, warnings } = readBy(gpl, `GIMP Palette\n1 2 3\tok\n${line}\n4 5 6\ttoo\n`);
    expect(lines).toEqual(['ok #010203', 'too #040506']);
    expect(warnings).toEqual([expect.stringMatching(message)]);
    expect(() => read(gpl, `GIMP Palette\n\n${line}\n`)).toThrow(message);
  });
});
