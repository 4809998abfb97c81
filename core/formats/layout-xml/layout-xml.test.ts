import { describe, expect, it } from 'vitest';
import { readBy, recognisedAs } from '../../testing.ts';
import { layoutXml } from './layout-xml.ts';

describe('layout XML', () => {
  it('layout programs’ XML, older and newer', () => {
    const text = `<?xml version="1.0" encoding="UTF-8"?><LAYOUTCOLORS Name="Sea">
      <COLOR NAME="Ink" SPACE="CMYK" C="10" M="20" Y="30" K="40" Spot="1" Register="0"/><COLOR NAME="Screen" SPACE="RGB" R="255" G="0" B="51"/>
      <COLOR NAME="Measured" SPACE="Lab" L="50" A="-10" B="20"/><COLOR Spot="0" CMYK="#00ff8000" NAME="Older" Register="0"/><COLOR NAME="Web" RGB="#010203"/>
      <COLOR NAME="Registration" CMYK="#ffffffff" Register="1"/><COLOR NAME="Empty"/></LAYOUTCOLORS>`;
    const { library, swatches, warnings } = readBy(layoutXml, text);
    expect(library.name).toBe('Sea');
    expect(
      swatches.map((s) => [
        s.name,
        s.kind,
        s.color.space,
        ...s.color.components.map((v) => Math.round(v * 100)),
      ]),
    ).toEqual([
      ['Ink', 'spot', 'cmyk', 10, 20, 30, 40],
      ['Screen', 'process', 'rgb', 100, 0, 20],
      ['Measured', 'process', 'lab', 5000, -1000, 2000],
      ['Older', 'process', 'cmyk', 0, 100, 50, 0],
      ['Web', 'process', 'rgb', 0, 1, 1],
      ['Registration', 'technical', 'cmyk', 100, 100, 100, 100],
    ]);
    expect(warnings).toEqual([expect.stringMatching(/“Empty” has no values/)]);
    expect(recognisedAs(text)).toBe('layout-xml');
  });
});
