import { describe, expect, it } from 'vitest';
import * as sheets from 'xlsx';
import { toHex } from '../../color/index.ts';
import { coated, fleet, readBy, recognisedAs, services } from '../../testing.ts';
import { pack } from '../archive.ts';
import { ods } from './ods.ts';

describe('ODS', () => {
  it('is read by the package xlsx: a sheet for each group, and every cell', async () => {
    const book = sheets.read(await ods.encode(fleet, services), { type: 'array' });
    expect(book.SheetNames).toEqual(['Swatches', ...fleet.groups.slice(1).map((g) => g.name)]);
    book.SheetNames.forEach((name, n) => {
      const rows = sheets.utils.sheet_to_json<Record<string, string>>(book.Sheets[name]!);
      expect(rows.map((r) => [r.Name, r.Hex])).toEqual(
        fleet.groups[n]!.swatches.map((s) => [s.name, toHex(s.color, coated)]),
      );
    });
  });

  it('reads what that package writes, a group for each sheet', () => {
    const book = sheets.utils.book_new();
    const add = (name: string, rows: unknown[][]) =>
      sheets.utils.book_append_sheet(book, sheets.utils.aoa_to_sheet(rows), name);
    add('Hull', [
      ['Nom', 'R', 'V', 'B'],
      ['Signal', 200, 16, 46],
      ['Mer', 20, 48, 74],
    ]);
    add('Deck', [
      ['Name', 'Hex'],
      ['Teak', '#b5835a'],
    ]);
    const bytes = new Uint8Array(sheets.write(book, { type: 'array', bookType: 'ods' }));
    expect(readBy(ods, bytes).lines).toEqual([
      'Hull | Signal #c8102e',
      'Hull | Mer #14304a',
      'Deck | Teak #b5835a',
    ]);
    expect(recognisedAs(bytes)).toBe('ods');
  });

  it('reads filled cells, repeated ones too (OpenDocument 1.3, part 3, 9.1.4)', () => {
    const content = `<office:document-content xmlns:office="o" xmlns:table="t" xmlns:text="x" xmlns:style="s" xmlns:fo="f"><office:automatic-styles>
      <style:style style:name="ce1" style:family="table-cell"><style:table-cell-properties fo:background-color="#14304a"/></style:style></office:automatic-styles>
      <office:body><office:spreadsheet><table:table table:name="Chart"><table:table-row><table:table-cell table:style-name="ce1"><text:p>Hull</text:p></table:table-cell>
      <table:table-cell table:number-columns-repeated="1000000"/></table:table-row><table:table-row table:number-rows-repeated="1048575"><table:table-cell table:number-columns-repeated="16384"/></table:table-row></table:table></office:spreadsheet></office:body></office:document-content>`;
    const bytes = pack([
      { path: 'mimetype', bytes: new TextEncoder().encode('application/vnd.oasis.opendocument.spreadsheet') },
      { path: 'content.xml', bytes: new TextEncoder().encode(content) },
    ]);
    expect(readBy(ods, bytes).lines).toEqual(['Hull #14304a']);
  });
});
