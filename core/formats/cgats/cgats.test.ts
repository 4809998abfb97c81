import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import Reference from 'colorjs.io';
import { describe, expect, it } from 'vitest';
import { SHIPPED, toLab } from '../../color/index.ts';
import { coated, fleet, readBy, services, uncoated, writeBy } from '../../testing.ts';
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
  it('goes on with a set of values in the next lines', () => {
    const table =
      'CGATS.17\nBEGIN_DATA_FORMAT\nSAMPLE_NAME LAB_L LAB_A\nLAB_B\nEND_DATA_FORMAT\nNUMBER_OF_SETS 2\nBEGIN_DATA\n"Hull" 40\n57 33\n"Sea"\n30 -5 -20\nEND_DATA\n';
    expect(readBy(cgats, table).swatches.map((s) => [s.name, s.color.components])).toEqual([
      ['Hull', [40, 57, 33]],
      ['Sea', [30, -5, -20]],
    ]);
  });

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
    expect(readBy(cgats, table.replace('68.3', '')).warnings).toEqual([
      expect.stringMatching(/line 14 has 8 values, but the format names 9/),
    ]);
    expect(readBy(cgats, table.replace('68.3', 'x')).warnings).toEqual([
      expect.stringMatching(/line 14: LAB_A “x” is not a number/),
    ]);
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

  const inTable = (fields: string, ...rows: string[]) =>
    readBy(
      cgats,
      `X\nBEGIN_DATA_FORMAT\nSAMPLE_ID ${fields}\nEND_DATA_FORMAT\nBEGIN_DATA\n${rows.map((r, i) => `A${i} ${r}\n`).join('')}END_DATA\n`,
    );

  it('reads LCh and xyY, as colorjs.io has them', () => {
    const xyY = new Reference('lab', [60, -40, 30]).to('xyz-d50').coords.map(Number);
    const sum = xyY[0]! + xyY[1]! + xyY[2]!;
    for (const { swatches } of [
      inTable('LAB_L LAB_C LAB_H', '60 50 143.13010235'),
      inTable('XYY_X XYY_Y XYY_CAPY', `${xyY[0]! / sum} ${xyY[1]! / sum} ${xyY[1]! * 100}`),
    ])
      toLab(swatches[0]!.color, coated).forEach((v, i) => {
        expect(v).toBeCloseTo([60, -40, 30][i]!, 3);
      });
  });

  it('reads RGB on the scale it is on', () => {
    const first = (...rows: string[]) => inTable('RGB_R RGB_G RGB_B', ...rows).swatches[0]!.color.components;
    expect(first('255 0 51', '0 0 0')).toEqual([1, 0, 0.2]);
    expect(first('100 0 20', '0 0 0')).toEqual([1, 0, 0.2]);
    expect(first('33.3 0 66.6', '0 0 0')).toEqual([33.3 / 100, 0, 66.6 / 100]);
    expect(first('1 0 0.2', '0 0 0')).toEqual([1, 0, 0.2]);
    expect(first('51 0 0', '0 0 51')).toEqual([0.2, 0, 0]);
    const dark = {
      ...fleet,
      groups: [
        {
          id: 'g',
          name: '',
          swatches: [
            {
              ...fleet.groups[0]!.swatches[1]!,
              color: { space: 'rgb' as const, components: [0.1, 0.2, 0.3] },
            },
          ],
        },
      ],
    };
    expect(
      readBy(cgats, writeBy(cgats, dark)).swatches[0]!.color.components.map((v) => Math.round(v * 1e9) / 1e9),
    ).toEqual([0.1, 0.2, 0.3]);
  });

  // transicc is the command of Little CMS, whose reader of such tables refuses the whole file for one slip
  it('writes names with quotes as Little CMS and we read them', () => {
    const names = [
      '19" stripe',
      "the captain's",
      `5' 4" tall`,
      'a # b',
      '',
      'Мост 🚢',
      'x'.repeat(300),
      'BEGIN_DATA',
      "'",
      '"',
    ];
    const swatches = names.map((name, i) => ({ ...fleet.groups[1]!.swatches[0]!, id: `${i}`, name }));
    const bytes = cgats.encode(
      { ...fleet, name: 'A "made up" chart', groups: [{ id: 'g', name: '', swatches }] },
      services,
    );
    expect(readBy(cgats, bytes).swatches.map((s) => s.name)).toEqual(
      names.map((n) => (n === `5' 4" tall` ? `5' 4” tall` : n)),
    );
    const folder = mkdtempSync(join(tmpdir(), 'cgats-'));
    try {
      writeFileSync(join(folder, 'in.txt'), bytes);
      execFileSync(
        'transicc',
        ['-i', '*Lab', '-o', '*sRGB', join(folder, 'in.txt'), join(folder, 'out.txt')],
        { stdio: 'pipe' },
      );
      const back = readFileSync(join(folder, 'out.txt'), 'utf8');
      expect(/NUMBER_OF_SETS\s+(\d+)/.exec(back)?.[1]).toBe(String(names.length));
    } finally {
      rmSync(folder, { recursive: true });
    }
  });
});
