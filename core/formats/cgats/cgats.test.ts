import { describe, expect, it } from 'vitest';
import { SHIPPED, toLab } from '../../color/index.ts';
import { coated, fleet, readBy, uncoated, writeBy } from '../../testing.ts';
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

describe('CGATS that says what its Lab is for', () => {
  const table = (...keywords: string[]) =>
    [
      'CGATS.17',
      ...keywords,
      'BEGIN_DATA_FORMAT',
      'SAMPLE_NAME LAB_L LAB_A LAB_B',
      'END_DATA_FORMAT',
      'BEGIN_DATA',
      'Red 50 60 40',
      'END_DATA',
      '',
    ].join('\n');
  const D65 = ['WEIGHTING_FUNCTION "ILLUMINANT, D65"', 'WEIGHTING_FUNCTION "OBSERVER, 10 degree"'];

  it('keeps numbers and white, and adapts them where they are used', () => {
    const { swatches, warnings } = readBy(cgats, table(...D65));
    expect(swatches[0].color).toEqual({ space: 'lab', components: [50, 60, 40], white: 'D65/10' });
    expect(warnings.join()).toMatch(/D65\/10°.*adapted to D50/);
    expect(toLab(swatches[0].color, coated)[0]).not.toBe(50);
    const plain = readBy(cgats, table('ILLUMINATION_NAME "D50"', 'OBSERVER_ANGLE "2"'));
    expect([plain.swatches[0].color.white, plain.warnings]).toEqual([undefined, []]);
  });

  it('writes it so again, and as D50 beside other Lab', () => {
    const { library } = readBy(cgats, table(...D65));
    expect(readBy(cgats, writeBy(cgats, library)).swatches[0].color).toEqual(
      library.groups[0].swatches[0].color,
    );
    const mixed = structuredClone(library);
    mixed.groups[0].swatches.push({
      ...mixed.groups[0].swatches[0],
      id: 'x',
      color: { space: 'lab', components: [1, 2, 3] },
    });
    const back = readBy(cgats, writeBy(cgats, mixed)).swatches.map((s) => s.color);
    expect(back.map((c) => c.white)).toEqual([undefined, undefined]);
    expect(back[0].components[0]).toBeCloseTo(toLab(library.groups[0].swatches[0].color, coated)[0], 6);
  });

  it('says so where it does not know it', () => {
    const { warnings } = readBy(cgats, table('WEIGHTING_FUNCTION "ILLUMINANT, candle"'));
    expect(warnings.join()).toMatch(/candle.*taken for D50/);
  });

  it('reads inks through the print condition it names', () => {
    const inks =
      'CGATS.17\nDESCRIPTOR "FOGRA29L"\nBEGIN_DATA_FORMAT\nSAMPLE_ID CMYK_C CMYK_M CMYK_Y CMYK_K\nEND_DATA_FORMAT\nBEGIN_DATA\n1 0 100 0 0\nEND_DATA\n';
    const { swatches, warnings } = readBy(cgats, inks);
    expect(swatches[0].color.profile).toBe(SHIPPED.uncoated);
    expect(warnings.join()).toMatch(/Uncoated offset/);
    // under the coated condition of a library, too
    expect(toLab(swatches[0].color, coated)).toEqual(
      toLab({ space: 'cmyk', components: [0, 1, 0, 0] }, uncoated),
    );
  });
});
