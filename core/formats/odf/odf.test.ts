import { strToU8, zipSync } from 'fflate';
import { describe, expect, it } from 'vitest';
import { toHex } from '../../color/index.ts';
import { gradientsOf } from '../../swatch/gradient.ts';
import { coated, readBy, recognisedAs } from '../../testing.ts';
import { odf } from './odf.ts';

const ns = (name: string) => `xmlns:${name}="urn:oasis:names:tc:opendocument:xmlns:${name}:1.0"`;
const names = `${['office', 'style', 'fo', 'loext'].map(ns).join(' ')} xmlns:draw="urn:oasis:names:tc:opendocument:xmlns:drawing:1.0" xmlns:svg="urn:oasis:names:tc:opendocument:xmlns:svg-compatible:1.0"`;
/** A package as part 2 of the standard wants it, with the elements and attributes of part 3. */
const packed = (styles: string, content: string, kind = 'graphics') =>
  zipSync({
    mimetype: [strToU8(`application/vnd.oasis.opendocument.${kind}`), { level: 0 }],
    'styles.xml': strToU8(
      `<?xml version="1.0"?><office:document-styles ${names}>${styles}</office:document-styles>`,
    ),
    'content.xml': strToU8(
      `<?xml version="1.0"?><office:document-content ${names}>${content}</office:document-content>`,
    ),
  });

const full = packed(
  `<office:styles>
    <draw:gradient draw:name="Dawn_20_sky" draw:style="linear" draw:start-color="#14304a" draw:end-color="#e7cfa6"/>
    <draw:gradient draw:name="Three" draw:style="linear" draw:start-color="#000000" draw:end-color="#ffffff"><loext:gradient-stop svg:offset="0" loext:color-value="#000000"/><loext:gradient-stop svg:offset="0.25" loext:color-value="#b3262b"/><loext:gradient-stop svg:offset="1" loext:color-value="#ffffff"/></draw:gradient>
    <draw:hatch draw:name="Rigging" draw:style="single" draw:color="#444444"/>
    <style:style style:name="Hull_20_red" style:family="graphic"><style:graphic-properties draw:fill="solid" draw:fill-color="#b3262b" draw:opacity="50%" svg:stroke-color="#14304a"/></style:style>
    <style:style style:name="H1" style:display-name="Heading 1" style:family="paragraph"><style:text-properties fo:color="#2f7d6b"/></style:style>
    <style:style style:name="Plain" style:family="paragraph"><style:paragraph-properties fo:background-color="transparent"/></style:style>
  </office:styles>
  <office:master-styles><loext:theme loext:name="Harbour"><loext:theme-colors loext:name="Harbour"><loext:color loext:name="accent1" loext:color="#d9a441"/></loext:theme-colors></loext:theme></office:master-styles>`,
  `<office:automatic-styles>
    <style:style style:name="gr1" style:family="graphic"><style:graphic-properties draw:fill-color="#c76a9b"/></style:style>
    <style:style style:name="gr2" style:family="graphic"><style:graphic-properties draw:fill-color="#2f7d6b" svg:stroke-color="#c76a9b"/></style:style>
  </office:automatic-styles>`,
);

describe('a drawing of OpenDocument', () => {
  it('gives its theme, named styles, hatches, and what is used beside them', () => {
    const { library } = readBy(odf, full);
    const groups = library.groups.filter((g) => g.swatches.length > 0);
    expect(
      groups.map((g) => [g.name, g.swatches.map((s) => [s.name, toHex(s.color, coated), s.alpha])]),
    ).toEqual([
      ['Harbour', [['accent1', '#d9a441', undefined]]],
      [
        'Styles',
        [
          ['Hull red fill', '#b3262b', 0.5],
          ['Hull red line', '#14304a', undefined],
          ['Heading 1', '#2f7d6b', undefined],
        ],
      ],
      ['Hatches', [['Rigging', '#444444', undefined]]],
      ['In use', [['', '#c76a9b', undefined]]],
    ]);
    expect(
      gradientsOf(library).map((g) => [g.name, g.data.stops.map((s) => [toHex(s.color, coated), s.at])]),
    ).toEqual([
      [
        'Dawn sky',
        [
          ['#14304a', 0],
          ['#e7cfa6', 1],
        ],
      ],
      [
        'Three',
        [
          ['#000000', 0],
          ['#b3262b', 0.25],
          ['#ffffff', 1],
        ],
      ],
    ]);
  });

  it('is known as a text, a drawing or a presentation, and a spreadsheet is not one', () => {
    expect(recognisedAs(full)).toBe('odf');
    for (const kind of ['text', 'presentation', 'graphics-template'])
      expect(recognisedAs(packed('', '', kind))).toBe('odf');
    expect(recognisedAs(packed('', '', 'spreadsheet'))).toBe('ods');
    expect(() => readBy(odf, packed('<office:styles/>', ''))).toThrow(/none of its styles has a colour/);
  });
});
