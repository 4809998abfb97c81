import { XMLParser } from 'fast-xml-parser';
import { describe, expect, it } from 'vitest';
import { fleet, readBy, writeBy } from '../../testing.ts';
import { soc } from './soc.ts';

describe('SOC', () => {
  it('is read by fast-xml-parser with every name and code', () => {
    const parser = new XMLParser({ ignoreAttributes: false, attributeNamePrefix: '' });
    const table = parser.parse(writeBy(soc, fleet))['ooo:color-table'];
    expect(table['draw:color'].map((c: Record<string, string>) => [c['draw:name'], c['draw:color']])).toEqual(
      fleet.groups.flatMap((g) => g.swatches.map((s) => [s.name, expect.stringMatching(/^#[0-9a-f]{6}$/)])),
    );
  });

  it('reads any prefix, entities and CDATA, and does not mind remarks', () => {
    const text = `<?xml version="1.0"?><!-- x --><office:color-table xmlns:office="a" xmlns:d="b">
      <d:color d:name="Rope &amp; tar &#x1F6A2;" d:color="#8A6A3C"/></office:color-table>`;
    expect(readBy(soc, text).lines).toEqual(['Rope & tar 🚢 #8a6a3c']);
  });

  it('names the line of a slip, and of damaged XML', () => {
    expect(() => readBy(soc, '<color-table>\n<color name="x" color="red-ish"/></color-table>')).toThrow(
      /line 2: “red-ish” is not a colour code/,
    );
    expect(() => readBy(soc, '<color-table>\n<color name="x"')).toThrow(
      /line 2, column \d+: the XML is damaged/,
    );
  });

  it('goes only so deep', () => {
    expect(() => readBy(soc, `<color-table>${'<x>'.repeat(100_000)}`)).toThrow(/more than 200 deep/);
  });
});
