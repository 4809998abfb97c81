import { XMLParser } from 'fast-xml-parser';
import { strToU8, unzipSync, zipSync } from 'fflate';
import { DOMParser } from 'linkedom';
import { ThreeMFLoader } from 'three/examples/jsm/loaders/3MFLoader.js';
import { describe, expect, it } from 'vitest';
import { toHex } from '../../color/index.ts';
import { surfacesOf } from '../../swatch/surfaces.ts';
import { coated, libraryOf, readBy, recognisedAs, services, shiny } from '../../testing.ts';
import { threeMf } from './three-mf.ts';

/** A package with one model, as the Core Specification wants it. */
const packed = (resources: string) =>
  zipSync({
    '[Content_Types].xml': strToU8(
      '<Types xmlns="http://schemas.openxmlformats.org/package/2006/content-types"><Default Extension="model" ContentType="application/vnd.ms-package.3dmanufacturing-3dmodel+xml"/></Types>',
    ),
    '_rels/.rels': strToU8('<Relationships/>'),
    '3D/3dmodel.model': strToU8(
      `<?xml version="1.0"?><model unit="millimeter" xmlns="http://schemas.microsoft.com/3dmanufacturing/core/2015/02" xmlns:m="http://schemas.microsoft.com/3dmanufacturing/material/2015/02"><resources>${resources}</resources><build/></model>`,
    ),
  });

describe('3MF', () => {
  it('is a package that the loader of three opens, with materials and colours that fast-xml-parser reads', () => {
    Object.assign(globalThis, { DOMParser });
    const bytes = threeMf.encode(shiny, services);
    expect(new ThreeMFLoader().parse(bytes.slice().buffer).children).toEqual([]);
    const xml = new XMLParser({
      ignoreAttributes: false,
      attributeNamePrefix: '',
      processEntities: true,
    }).parse(new TextDecoder().decode(unzipSync(bytes)['3D/3dmodel.model']));
    const { basematerials, 'm:colorgroup': groups } = xml.model.resources;
    const swatches = shiny.groups.map((g) => g.swatches);
    basematerials.forEach(({ base }: { base: { name: string; displaycolor: string }[] }, i: number) => {
      expect(base.map((b) => [b.name, b.displaycolor])).toEqual(
        swatches[i]!.map((s) => [s.name, `${toHex(s.color, coated)}FF`.toUpperCase()]),
      );
      expect(groups[i]['m:color'].map((c: { color: string }) => c.color)).toEqual(
        base.map((b) => b.displaycolor),
      );
    });
    expect(recognisedAs(bytes)).toBe('3mf');
  });

  it('gives materials with their looks, and groups of colours, each in a group', () => {
    const { library } = readBy(
      threeMf,
      packed(`<m:pbmetallicdisplayproperties id="9"><m:pbmetallic name="a" metallicness="1" roughness="0.25"/></m:pbmetallicdisplayproperties>
        <basematerials id="1" displaypropertiesid="9"><base name="Brass" displaycolor="#D9A441"/></basematerials>
        <m:colorgroup id="2"><m:color color="#2F7D6B80"/><m:color color="#14304A"/></m:colorgroup>
        <m:colorgroup id="3"><m:color color="#D9A441FF"/></m:colorgroup>`),
    );
    expect(
      library.groups
        .filter((g) => g.swatches.length > 0)
        .map((g) => g.swatches.map((s) => [s.name, toHex(s.color, coated), s.alpha])),
    ).toEqual([
      [['Brass', '#d9a441', undefined]],
      [
        ['', '#2f7d6b', 128 / 255],
        ['', '#14304a', undefined],
      ],
    ]);
    expect(surfacesOf(library).get('Brass')).toEqual({ metalness: 1, roughness: 0.25 });
  });

  it('without colours, or with one that is none, says so', () => {
    expect(() => readBy(threeMf, packed(''))).toThrow(/no materials and no colours/);
    expect(() =>
      readBy(threeMf, packed('<basematerials id="1"><base name="x" displaycolor="red"/></basematerials>')),
    ).toThrow(/line 1: “red” is not a colour/);
    expect(readBy(threeMf, threeMf.encode(libraryOf('Empty', {}), services)).swatches).toEqual([]);
  });
});
