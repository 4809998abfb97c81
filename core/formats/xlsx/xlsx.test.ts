import ExcelJS from 'exceljs';
import { describe, expect, it } from 'vitest';
import { toHex } from '../../color/index.ts';
import { coated, fleet, readBy, recognisedAs, services } from '../../testing.ts';
import { xlsx } from './xlsx.ts';

/** A workbook as the package exceljs writes it. */
async function workbook(fill: (book: ExcelJS.Workbook) => void): Promise<Uint8Array> {
  const book = new ExcelJS.Workbook();
  fill(book);
  return new Uint8Array(await book.xlsx.writeBuffer());
}

describe('XLSX', () => {
  it('is read by exceljs: a sheet for each group, every cell, and the codes filled with their colours', async () => {
    const book = new ExcelJS.Workbook();
    await book.xlsx.load((await xlsx.encode(fleet, services)).buffer as ArrayBuffer);
    expect(book.worksheets.map((s) => s.name)).toEqual([
      'Swatches',
      ...fleet.groups.slice(1).map((g) => g.name),
    ]);
    book.worksheets.forEach((sheet, n) => {
      const headings = sheet.getRow(1).values as string[];
      const [name, hex] = ['Name', 'Hex'].map((h) => headings.indexOf(h)) as [number, number];
      fleet.groups[n]!.swatches.forEach((swatch, i) => {
        const row = sheet.getRow(i + 2);
        expect(row.getCell(name).text).toBe(swatch.name);
        const code = toHex(swatch.color, coated);
        expect(row.getCell(hex).text).toBe(code);
        expect(row.getCell(hex).fill).toMatchObject({
          fgColor: { argb: `FF${code.slice(1).toUpperCase()}` },
        });
      });
    });
  });

  it('reads tables under a title, percent as it is shown, several sheets as groups', async () => {
    const bytes = await workbook((book) => {
      const one = book.addWorksheet('Hull');
      one.addRow(['Harbour fleet']);
      one.addRow([]);
      one.addRow(['Bezeichnung', 'C', 'M', 'Y', 'K']);
      const row = one.addRow(['Signal', 0, 1, 0.85, 0.05]);
      for (const i of [2, 3, 4, 5]) row.getCell(i).numFmt = '0%';
      const two = book.addWorksheet('Deck');
      two.addRow(['Name', 'Hex', 'Note']);
      two.addRow(['Teak', '#b5835a', { richText: [{ text: 'oiled' }, { text: ' twice' }] }]);
      book.addWorksheet('Empty');
    });
    const { library, swatches } = readBy(xlsx, bytes);
    expect(library.groups.filter((g) => g.swatches.length > 0).map((g) => g.name)).toEqual(['Hull', 'Deck']);
    expect(swatches).toMatchObject([
      { name: 'Signal', color: { space: 'cmyk', components: [0, 1, 0.85, 0.05] } },
      { name: 'Teak', note: 'oiled twice' },
    ]);
    expect(recognisedAs(bytes)).toBe('xlsx');
  });

  it('reads filled cells, named by what stands in them or beside them', async () => {
    const bytes = await workbook((book) => {
      const sheet = book.addWorksheet('Chart');
      const paint = (at: string, argb: string) => {
        sheet.getCell(at).fill = { type: 'pattern', pattern: 'solid', fgColor: { argb } };
      };
      sheet.getCell('A1').value = 'Hull';
      paint('A1', 'FF14304A');
      paint('A2', 'FFC8102E');
      sheet.getCell('B2').value = 'Signal';
      paint('C3', 'FFFFFFFF');
    });
    expect(readBy(xlsx, bytes).lines).toEqual(['Hull #14304a', 'Signal #c8102e']);
  });

  it('says when there is neither', async () => {
    const bytes = await workbook((book) => book.addWorksheet('x').addRow(['Dear', 'crew']));
    // exceljs writes the theme that all workbooks have, which is the last resort
    expect(readBy(xlsx, bytes).swatches.length).toBeGreaterThan(0);
  });
});
