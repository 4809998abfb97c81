import { strToU8, zipSync } from 'fflate';
import { describe, expect, it } from 'vitest';
import { toHex } from '../../color/index.ts';
import { coated, fleet, readBy, recognisedAs, writeBy } from '../../testing.ts';
import { officeTheme } from './office-theme.ts';

describe('office themes', () => {
  const scheme = (accent: string) =>
    `<a:clrScheme name="Fleet"><a:dk1><a:sysClr val="windowText" lastClr="000000"/></a:dk1><a:lt1><a:sysClr val="window" lastClr="FFFFFF"/></a:lt1><a:accent1><a:srgbClr val="${accent}"/></a:accent1></a:clrScheme>`;
  const xml = (inside: string) =>
    `<?xml version="1.0"?><a:theme xmlns:a="http://schemas.openxmlformats.org/drawingml/2006/main" name="x"><a:themeElements>${inside}</a:themeElements>`;

  it('are read from a theme and from the document it lies in, each scheme once', () => {
    const one = `${xml(scheme('8A1C24'))}</a:theme>`;
    expect(readBy(officeTheme, one).lines).toEqual(['Dark 1 #000000', 'Light 1 #ffffff', 'Accent 1 #8a1c24']);
    const document = zipSync({
      '[Content_Types].xml': strToU8('<Types/>'),
      'ppt/theme/theme1.xml': strToU8(one),
      'ppt/theme/theme2.xml': strToU8(one),
      'ppt/theme/theme3.xml': strToU8(
        `${xml(scheme('14304A'))}<a:custClrLst><a:custClr name="Rope"><a:srgbClr val="C8A064"/></a:custClr></a:custClrLst></a:theme>`,
      ),
    });
    const { lines } = readBy(officeTheme, document);
    expect(lines).toContain('Own colours | Rope #c8a064');
    expect(lines.filter((l) => l.includes('#8a1c24')).length).toBe(1);
    expect([recognisedAs(one), recognisedAs(document)]).toEqual(['office-theme', 'office-theme']);
  });

  it('are written with the darkest and lightest where text and page go, and every name in the list', () => {
    const text = writeBy(officeTheme, fleet);
    expect(/<a:dk1><a:srgbClr val="(\w+)"/.exec(text)![1]!.toLowerCase()).toBe(
      // the spot red is the darkest of the five
      toHex(fleet.groups[1]!.swatches[0]!.color, coated).slice(1),
    );
    expect(/<a:lt1><a:srgbClr val="(\w+)"/.exec(text)![1]).toBe('FFFFFF');
    expect(readBy(officeTheme, text).swatches.map((s) => s.name)).toEqual(
      fleet.groups.flatMap((g) => g.swatches.map((s) => s.name)),
    );
  });
});
