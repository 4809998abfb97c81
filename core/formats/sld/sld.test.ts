import { XMLParser } from 'fast-xml-parser';
import { describe, expect, it } from 'vitest';
import { toHex } from '../../color/index.ts';
import { gradientsOf } from '../../swatch/gradient.ts';
import { coated, libraryOf, readBy, recognisedAs, writeBy } from '../../testing.ts';
import { sld } from './sld.ts';

describe('SLD', () => {
  // after the example of a colour map in OGC 02-070, 11.6
  const map = (more = '') =>
    `<?xml version="1.0"?><sld:StyledLayerDescriptor xmlns:sld="http://www.opengis.net/sld" version="1.0.0"><sld:RasterSymbolizer><sld:ColorMap${more}><sld:ColorMapEntry color="#14304a" quantity="-100" label="deep"/><sld:ColorMapEntry color="#2f7d6b" quantity="0" opacity="0.5"/><sld:ColorMapEntry color="#d9a441" quantity="100" label="hill"/></sld:ColorMap></sld:RasterSymbolizer><sld:Fill><sld:CssParameter name="fill">#c8102e</sld:CssParameter><sld:CssParameter name="fill-opacity">0.5</sld:CssParameter></sld:Fill></sld:StyledLayerDescriptor>`;
  it('reads colour maps as gradients, with labels and opacity, and fills', () => {
    const { lines, library } = readBy(sld, map());
    expect(lines).toEqual(['deep #14304a', '0 #2f7d6b', 'hill #d9a441', ' #c8102e']);
    expect(gradientsOf(library)[0]!.data.stops.map((s) => s.at)).toEqual([0, 0.5, 1]);
    expect(
      gradientsOf(readBy(sld, map(' type="intervals"')).library)[0]!.data.stops.map((s) => [
        toHex(s.color, coated),
        s.at,
      ]),
    ).toEqual([
      ['#14304a', 0],
      ['#2f7d6b', 0],
      ['#2f7d6b', 0.5],
      ['#d9a441', 0.5],
      ['#d9a441', 1],
    ]);
    expect(recognisedAs(map())).toBe('sld');
  });

  it('writes what an XML reader finds: each colour at its quantity', () => {
    const library = libraryOf('Sea', {
      '': [
        ['Deep', '#14304a'],
        ['Sand', '#d9a441'],
      ],
    });
    const text = writeBy(sld, library);
    const entries = new XMLParser({ ignoreAttributes: false }).parse(text).StyledLayerDescriptor.NamedLayer
      .UserStyle.FeatureTypeStyle.Rule.RasterSymbolizer.ColorMap.ColorMapEntry as Record<string, string>[];
    expect([
      entries[0]!['@_color'],
      entries[0]!['@_quantity'],
      entries.at(-1)!['@_color'],
      entries.at(-1)!['@_quantity'],
    ]).toEqual(['#14304a', '0', '#d9a441', '1']);
    expect(() => readBy(sld, '<StyledLayerDescriptor/>')).toThrow(/nothing in it has a colour/);
  });
});
