import { Document, WebIO } from '@gltf-transform/core';
import type { MeshPhongMaterial } from 'three';
import { MTLLoader } from 'three/examples/jsm/loaders/MTLLoader.js';
import { describe, expect, it } from 'vitest';
import { toRgb, toRgb8 } from '../../color/index.ts';
import { surfacesOf } from '../../swatch/surfaces.ts';
import { coated, fleet, libraryOf, readBy, recognisedAs, services, shiny, writeBy } from '../../testing.ts';
import { changes } from '../changes.ts';
import { gpl } from '../gpl/gpl.ts';
import { mtl } from '../mtl/mtl.ts';
import { gltf } from './gltf.ts';

const swatches = fleet.groups.flatMap((g) => g.swatches);

describe('glTF materials', () => {
  it('are read by @gltf-transform/core under their names, in linear light', async () => {
    const json = JSON.parse(writeBy(gltf, fleet));
    const document = await new WebIO().readJSON({ json, resources: {} });
    const materials = document.getRoot().listMaterials();
    expect(materials.map((m) => m.getName())).toEqual(swatches.map((s) => s.name));
    // sRGB 47 is 0.02843 in linear light, 125 is 0.20508, 107 is 0.14703 (IEC 61966-2-1)
    expect(materials[1].getBaseColorFactor().map((v) => Number(v.toFixed(5)))).toEqual([
      0.02843, 0.20508, 0.14703, 1,
    ]);
    for (const m of materials) for (const v of m.getBaseColorFactor()) expect(v >= 0 && v <= 1).toBe(true);
  });
});

describe('a model', () => {
  it('gives its materials as swatches with their surfaces, from text and binary, as @gltf-transform/core writes them', async () => {
    const document = new Document();
    document.createBuffer();
    // 128 of 255 is 0.21586 in linear light (IEC 61966-2-1)
    document
      .createMaterial('Brass')
      .setBaseColorFactor([0.21586, 0, 1, 1])
      .setMetallicFactor(1)
      .setRoughnessFactor(0.25);
    document
      .createMaterial('Glass')
      .setBaseColorFactor([1, 1, 1, 0.5])
      .setAlphaMode('BLEND')
      .setMetallicFactor(0);
    document.createMaterial('Bare').setMetallicFactor(1).setRoughnessFactor(1);
    const io = new WebIO();
    const { json } = await io.writeJSON(document);
    for (const bytes of [new TextEncoder().encode(JSON.stringify(json)), await io.writeBinary(document)]) {
      const { swatches, library, warnings } = readBy(gltf, new Uint8Array(bytes));
      expect(swatches.map((s) => [s.name, toRgb8(s.color, coated), s.alpha])).toEqual([
        ['Brass', [128, 0, 255], undefined],
        ['Glass', [255, 255, 255], 0.5],
        ['Bare', [255, 255, 255], undefined],
      ]);
      expect(surfacesOf(library).get('Brass')).toEqual({ metalness: 1, roughness: 0.25 });
      expect(warnings).toEqual([]);
      expect(recognisedAs(new Uint8Array(bytes))).toBe('gltf');
    }
  });

  it('without materials, or cut short, is refused', () => {
    expect(() => readBy(gltf, '{"asset":{"version":"2.0"}}')).toThrow(/no materials/);
    expect(() => readBy(gltf, 'glTF\u0002\u0000\u0000\u0000')).toThrow(/cut short/);
  });
});

describe('surfaces', () => {
  const library = shiny;

  it('go by role into glTF, as @gltf-transform/core reads it', async () => {
    const document = await new WebIO().readJSON({ json: JSON.parse(writeBy(gltf, library)), resources: {} });
    const roles = library.groups.flatMap((g) => g.swatches.map((s) => s.role));
    document
      .getRoot()
      .listMaterials()
      .forEach((m, i) => {
        expect([m.getRoughnessFactor(), m.getMetallicFactor()]).toEqual(
          roles[i] === 'brass' ? [0.25, 1] : [0.8, 0],
        );
      });
    expect(library.items?.length).toBe(1);
  });

  it('go into MTL as highlight and as roughness, and are reported where they are lost', async () => {
    const text = writeBy(mtl, library);
    // 2 / 0.25⁴ − 2 = 510
    expect(text).toMatch(/Ns 510\nPr 0.25\nPm 1/);
    expect(text).toMatch(/Pr 0.8\nPm 0/);
    expect(writeBy(mtl, fleet)).not.toMatch(/Pr/);
    const { libraryLosses } = await changes(library, gpl, services);
    expect(libraryLosses).toContain('surfaces of materials');
    expect((await changes(library, gltf, services)).libraryLosses).toEqual([]);
  });
});

describe('MTL', () => {
  it('writes a material for each swatch with Kd as the screen shows it', () => {
    const text = writeBy(mtl, fleet);
    const names = [...text.matchAll(/^newmtl (\S+)$/gm)].map((m) => m[1]);
    expect(names).toEqual(['Paper', 'Sea_&_“sky”_<1>', 'Boot-top_red', 'Old_brass', 'Cutting']);
    const kd = [...text.matchAll(/^Kd (\S+) (\S+) (\S+)$/gm)].map((m) => m.slice(1).map(Number));
    kd.forEach((values, i) => {
      toRgb(swatches[i].color, coated).forEach((v, c) => {
        expect(Math.abs(values[c] - Math.min(1, Math.max(0, v)))).toBeLessThan(1e-6);
      });
    });
  });

  it('is read by the loader of three: names, colours and opacity', () => {
    const library = libraryOf('Odd', {
      '': [
        ['Name: x', '#102030'],
        ['# y', '#405060'],
        ['', '#ffffff'],
        ['قارب', '#000000'],
      ],
    });
    library.groups[0]!.swatches[3]!.alpha = 0.502;
    const found = new MTLLoader().parse(writeBy(mtl, library), '');
    const read = Object.keys(found.materialsInfo).map((name) => found.create(name) as MeshPhongMaterial);
    expect(read.map((m) => [m.color.getHexString(), Number(m.opacity.toFixed(3))])).toEqual([
      ['102030', 1],
      ['405060', 1],
      ['ffffff', 1],
      ['000000', 0.502],
    ]);
  });

  // the statements of the published MTL description: Kd with one or three numbers, d and Tr
  it('reads Kd, transparency both ways, and tells materials without a colour', () => {
    const {
      lines,
      swatches: read,
      warnings,
    } = readBy(
      mtl,
      '# x\nnewmtl Hull red\nKa 0 0 0\nKd 1 0 0\nd 0.5\n\nnewmtl grey\n  Kd 0.5\nTr 0.25\nnewmtl none\nKs 1 1 1\n',
    );
    expect(lines).toEqual(['Hull red #ff0000', 'grey #808080']);
    expect(read.map((s) => s.alpha)).toEqual([0.5, 0.75]);
    expect(warnings.join()).toMatch(/left out: none/);
    const { swatches, library } = readBy(mtl, 'newmtl Brass\nKd 1 0.5 0\nPr 0.25\nPm 1\n');
    expect(swatches[0].role).toBe('Brass');
    expect(surfacesOf(library).get('Brass')).toEqual({ roughness: 0.25, metalness: 1 });
    expect(() => readBy(mtl, 'newmtl x\nKd 1 0 two\n')).toThrow(/line 2 \(“Kd 1 0 two”\) is not a colour/);
  });
});
