import { strToU8, zipSync } from 'fflate';
import { describe, expect, it } from 'vitest';
import { readBy, recognisedAs } from '../../testing.ts';
import { kpl } from './kpl.ts';

describe('KPL', () => {
  it('reads entries where their places say, in every space and depth', () => {
    const entry = (name: string, inside: string, row: number, column: number, more = '') =>
      `<ColorSetEntry name="${name}" id="" bitdepth="U8" ${more}>${inside}<Position row="${row}" column="${column}"/></ColorSetEntry>`;
    const zip = zipSync({
      mimetype: strToU8('x'),
      'colorset.xml': strToU8(
        `<?xml version="1.0"?><ColorSet version="1.0" name="Sea" comment="made up" columns="8" rows="2">${entry('Second', '<CMYK space="x" c="0.1" m="0.2" y="0.3" k="0.4"/>', 0, 3, 'spot="true"')}${entry('First', '<sRGB r="1" g="0.2" b="0"/>', 0, 0)}<Group name="Night" rows="1">${entry('Lab', '<Lab space="x" L="0.5" a="0.5" b="0.6"/>', 0, 0)}${entry('Odd', '<XYZ x="1"/>', 0, 1)}</Group></ColorSet>`,
      ),
    });
    const { library, swatches, warnings } = readBy(kpl, zip);
    expect([library.name, library.note, library.columns]).toEqual(['Sea', 'made up', 8]);
    expect(swatches.map((s) => [s.name, s.kind, s.color.space])).toEqual([
      ['First', 'process', 'rgb'],
      ['Second', 'spot', 'cmyk'],
      ['Lab', 'process', 'lab'],
    ]);
    expect(swatches[2]!.color.components.map((v) => Math.round(v * 10) / 10)).toEqual([50, 0, 25.6]);
    expect(warnings).toEqual([expect.stringMatching(/“Odd” has no values/)]);
    expect(recognisedAs(zip)).toBe('kpl');
  });
});
