import { WebIO } from '@gltf-transform/core';
import { describe, expect, it } from 'vitest';
import { toRgb } from '../../color/index.ts';
import { coated, fleet, readBy, writeBy } from '../../testing.ts';
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
    expect(() => readBy(mtl, 'newmtl x\nKd 1 0 two\n')).toThrow(/line 2 \(“Kd 1 0 two”\) is no colour/);
  });
});
