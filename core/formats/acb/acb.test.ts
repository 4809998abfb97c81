import { describe, expect, it } from 'vitest';
import { fleet, readBy, services } from '../../testing.ts';
import { ByteWriter } from '../../text/bytes.ts';
import { acb } from './acb.ts';

/** A book written by hand from the layout in docs/formats.md. */
function book(space: number, entries: [name: string, code: string, values: number[]][], version = 1) {
  const writer = new ByteWriter().ascii('8BCB').u16(version).u16(3000);
  for (const text of ['$$$/books/harbour=Harbour inks', 'KF ', ' C', '"Made up"'])
    writer.u32(text.length).utf16(text);
  writer.u16(entries.length).u16(9).u16(4).u16(space);
  for (const [name, code, values] of entries) {
    writer.u32(name.length).utf16(name).ascii(code);
    for (const v of values) writer.u8(v);
  }
  return writer.done();
}

describe('ACB', () => {
  it('reads names with prefix and suffix, codes, page size and Lab', () => {
    const { library, swatches } = readBy(
      acb,
      book(7, [
        ['101', 'KF101 ', [128, 138, 118]],
        ['White', '      ', [255, 128, 128]],
      ]),
    );
    expect(library).toMatchObject({ name: 'Harbour inks', note: 'Made up', columns: 9 });
    expect(swatches.map((s) => [s.name, s.code, s.kind])).toEqual([
      ['KF 101 C', 'KF101', 'spot'],
      ['KF White C', undefined, 'spot'],
    ]);
    expect(swatches[0].color.components.map((v) => Math.round(v))).toEqual([50, 10, -10]);
    expect(swatches[1].color.components).toEqual([100, 0, 0]);
  });

  it('reads ink stored upside down, and RGB', () => {
    const [ink] = readBy(acb, book(2, [['x', 'x     ', [0, 255, 255, 255]]])).swatches;
    expect(ink.color).toEqual({ space: 'cmyk', components: [1, 0, 0, 0] });
    expect(readBy(acb, book(0, [['x', 'x     ', [255, 0, 128]]])).lines).toEqual(['KF x C #ff0080']);
  });

  it('passes over the empty places that fill a page', () => {
    const { swatches, warnings } = readBy(acb, book(7, [['', '      ', [0, 0, 0]]]));
    expect(swatches).toEqual([]);
    expect(warnings).toEqual(['1 empty place of the book’s pages held no colour.']);
  });

  it('writes one space for all: what they share, else Lab', () => {
    expect(readBy(acb, acb.encode(fleet, services)).swatches.map((s) => s.color.space)).toEqual(
      Array(5).fill('lab'),
    );
    const cmyk = { ...fleet, groups: [{ ...fleet.groups[1], swatches: fleet.groups[1].swatches.slice(1) }] };
    expect(readBy(acb, acb.encode(cmyk, services)).swatches.map((s) => s.color.space)).toEqual([
      'cmyk',
      'cmyk',
    ]);
  });

  it('says what is wrong', () => {
    expect(() => readBy(acb, book(7, [], 2))).toThrow(/version is 2/);
    expect(() => readBy(acb, book(5, []))).toThrow(/colour space number 5/);
    expect(() => readBy(acb, acb.encode(fleet, services).slice(0, 90))).toThrow(
      /colour \d of 5|cut short|ends before/,
    );
  });
});
