import { strToU8, zipSync } from 'fflate';
import { describe, expect, it } from 'vitest';
import { toHex, toRgb8 } from '../../color/index.ts';
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

  it('take colours as they are changed, named, and referred to, other schemes too, and tell what has no value', () => {
    const blue = (inside: string) => `<a:schemeClr val="accent1">${inside}</a:schemeClr>`;
    const own = (name: string, color: string) => `<a:custClr name="${name}">${color}</a:custClr>`;
    const { lines, swatches, warnings } = readBy(
      officeTheme,
      `${xml(scheme('4472C4'))}<a:extraClrSchemeLst><a:extraClrScheme><a:clrScheme name="Night"><a:dk1><a:sysClr val="windowText"/></a:dk1><a:accent1><a:prstClr val="dkOliveGreen"/></a:accent1></a:clrScheme></a:extraClrScheme></a:extraClrSchemeLst>
      <a:custClrLst>${[
        own('Darker 25', blue('<a:lumMod val="75000"/>')),
        own('Darker 50', blue('<a:lumMod val="50000"/>')),
        own('Lighter 40', blue('<a:lumMod val="60000"/><a:lumOff val="40000"/>')),
        own('Lighter 80', blue('<a:lumMod val="20000"/><a:lumOff val="80000"/>')),
        own('Half', blue('<a:alpha val="50000"/>')),
        own('Tint', '<a:srgbClr val="FF0000"><a:tint val="50000"/></a:srgbClr>'),
        own('Lost', '<a:schemeClr val="phClr"/>'),
      ].join('')}</a:custClrLst></a:theme>`,
    );
    // what office programs write beside the same changes of this blue (from memory)
    const expected = {
      'Darker 25': '#2f5496',
      'Darker 50': '#1f3864',
      'Lighter 40': '#8eaadb',
      'Lighter 80': '#d9e2f3',
    };
    for (const [name, hex] of Object.entries(expected)) {
      const found = swatches.find((s) => s.name === name)!;
      // a step of 255 apart: such programs round at each change
      toRgb8(found.color, coated).forEach((v, i) => {
        expect(Math.abs(v - Number.parseInt(hex.slice(1 + 2 * i, 3 + 2 * i), 16)), name).toBeLessThanOrEqual(
          1,
        );
      });
    }
    expect(swatches.find((s) => s.name === 'Half')).toMatchObject({ alpha: 0.5 });
    // half red and half white in linear light
    expect(lines).toContain('Own colours | Tint #ffbcbc');
    expect(lines.slice(-2)).toEqual(['Night | Dark 1 #000000', 'Night | Accent 1 #556b2f']);
    expect(warnings).toEqual(['1 colour has no value of its own, and was left out: Lost.']);
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
