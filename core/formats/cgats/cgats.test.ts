import { describe, expect, it } from 'vitest';
import { fleet, readBy, writeBy } from '../../testing.ts';
import { cgats } from './cgats.ts';

/** Laid out as ISO 28178 describes its tables; written by hand, values invented. */
const table = `CGATS.17
ORIGINATOR	"made up"
DESCRIPTOR	"Harbour chart"
# a remark
KEYWORD "SAMPLE_LOC"
NUMBER_OF_FIELDS 9
BEGIN_DATA_FORMAT
SAMPLE_ID SAMPLE_NAME CMYK_C CMYK_M CMYK_Y CMYK_K
LAB_L LAB_A LAB_B
END_DATA_FORMAT
NUMBER_OF_SETS 2
BEGIN_DATA
1 "Paper white" 0 0 0 0 95.02 0.9 -4.1
2 "Red # 2" 0 100 90 0 47.1 68.3 48.0
END_DATA
`;

describe('CGATS', () => {
  it('reads quoted names, fields over several lines, Lab first and ink beside it', () => {
    const { library, swatches } = readBy(cgats, table);
    expect(library.name).toBe('Harbour chart');
    expect(swatches.map((s) => [s.name, s.color.space, s.color.components])).toEqual([
      ['Paper white', 'lab', [95.02, 0.9, -4.1]],
      ['Red # 2', 'lab', [47.1, 68.3, 48]],
    ]);
    expect(swatches[1].alternates).toEqual([{ space: 'cmyk', components: [0, 1, 0.9, 0] }]);
  });

  it('reads XYZ, RGB, and spectra in percent', () => {
    const one = (fields: string, values: string) =>
      readBy(
        cgats,
        `X\nBEGIN_DATA_FORMAT\nSAMPLE_ID ${fields}\nEND_DATA_FORMAT\nBEGIN_DATA\nA1 ${values}\nEND_DATA\n`,
      ).swatches[0];
    // the D50 white of ICC.1 as XYZ
    expect(
      one('XYZ_X XYZ_Y XYZ_Z', '96.42 100 82.49').color.components.every(
        (v, i) => Math.abs(v - [100, 0, 0][i]) < 0.03,
      ),
    ).toBe(true);
    expect(one('RGB_R RGB_G RGB_B', '255 0 51').color).toEqual({ space: 'rgb', components: [1, 0, 0.2] });
    expect(one('SPECTRAL_NM400 SPECTRAL_NM410 SPECTRAL_NM420', '50 50 50')).toMatchObject({
      name: 'A1',
      spectrum: { start: 400, step: 10, values: [0.5, 0.5, 0.5] },
    });
  });

  it('writes a table whose counts are true', () => {
    const lines = writeBy(cgats, fleet).split('\n');
    const fields = lines[lines.indexOf('BEGIN_DATA_FORMAT') + 1].split('\t');
    expect(lines).toContain(`NUMBER_OF_FIELDS\t${fields.length}`);
    expect(lines).toContain('NUMBER_OF_SETS\t5');
    expect(lines[lines.indexOf('BEGIN_DATA') + 3]).toBe('3\t"Boot-top red"\t40\t57\t33');
  });

  it('says what is wrong and where', () => {
    expect(() => readBy(cgats, table.replace('68.3', ''))).toThrow(
      /line 14 has 8 values, but the format names 9/,
    );
    expect(() => readBy(cgats, table.replace('68.3', 'x'))).toThrow(/line 14: LAB_A “x” is no number/);
    expect(() => readBy(cgats, table.replace('SETS 2', 'SETS 3'))).toThrow(
      /promises 3 sets of values, but has 2/,
    );
  });
});
