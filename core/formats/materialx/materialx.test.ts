import Color from 'colorjs.io';
import { DOMParser } from 'linkedom';
import { MaterialXLoader } from 'three/examples/jsm/loaders/MaterialXLoader.js';
import { beforeAll, describe, expect, it } from 'vitest';
import { toRgb, toRgb8 } from '../../color/index.ts';
import { surfacesOf } from '../../swatch/surfaces.ts';
import { coated, fleet, libraryOf, readBy, recognisedAs, shiny, writeBy } from '../../testing.ts';
import { materialx } from './materialx.ts';

beforeAll(() => {
  // what three's loader takes from a browser
  Object.assign(globalThis, { DOMParser, self: globalThis });
});

/** Of the nodes that three makes of a colour: the value that the base of 1 is multiplied with. */
interface Made {
  colorNode: Product;
  roughnessNode: { value: number };
}
interface Product {
  aNode: { value: unknown };
  bNode: { value: { r: number; g: number; b: number } };
}

describe('MaterialX', () => {
  it('is read by the loader of three, under the names of the materials, in linear light', () => {
    const loader = new MaterialXLoader() as unknown as {
      parse(text: string): { materials: Record<string, Made> };
    };
    const { materials } = loader.parse(writeBy(materialx, shiny));
    const swatches = shiny.groups.flatMap((g) => g.swatches);
    expect(Object.keys(materials)).toEqual(['Paper', 'Sea_sky_1', 'Boot_top_red', 'Old_brass', 'Cutting']);
    Object.values(materials).forEach(({ colorNode, roughnessNode }, i) => {
      const { r, g, b } = colorNode.bNode.value;
      const srgb = [r, g, b].map((v) => (v <= 0.0031308 ? 12.92 * v : 1.055 * v ** (1 / 2.4) - 0.055));
      toRgb(swatches[i]!.color, coated).forEach((v, c) => {
        expect(Math.min(1, Math.max(0, v))).toBeCloseTo(srgb[c]!, 5);
      });
      expect(roughnessNode.value).toBe(i === 0 || i === 2 ? 0.25 : 0.8);
    });
  });

  // elements and inputs as the specification and its libraries name them
  const file = (...nodes: string[]) =>
    `<?xml version="1.0"?>\n<materialx version="1.39" colorspace="lin_rec709">${nodes.join('\n')}</materialx>`;
  const surface = (kind: string, name: string, ...inputs: [string, string, string?][]) =>
    `<${kind} name="${name}" type="surfaceshader">${inputs
      .map(
        ([n, v, space]) =>
          `<input name="${n}" type="color3" value="${v}"${space ? ` colorspace="${space}"` : ''}/>`,
      )
      .join('')}</${kind}>`;

  it('gives the colour of each kind of surface, with how it takes the light', () => {
    const { swatches, library, warnings } = readBy(
      materialx,
      file(
        surface(
          'standard_surface',
          'SR_brass',
          ['base_color', '1, 1, 1'],
          ['metalness', '1'],
          ['specular_roughness', '0.25'],
        ),
        '<surfacematerial name="Brass" type="material"><input name="surfaceshader" type="surfaceshader" nodename="SR_brass"/></surfacematerial>',
        surface(
          'gltf_pbr',
          'Paint',
          ['base_color', '0.5, 0.25, 0.125', 'srgb_texture'],
          ['roughness', '0.5'],
        ),
        surface('open_pbr_surface', 'Glass', ['base_color', '0, 0, 1'], ['geometry_opacity', '0.5']),
        surface('UsdPreviewSurface', 'Grey'),
        '<constant name="deep" type="color3"><input name="value" type="color3" value="0, 0.21586, 1"/></constant>',
        '<standard_surface name="Deep" type="surfaceshader"><input name="base_color" type="color3" nodename="deep"/></standard_surface>',
        '<standard_surface name="Wood" type="surfaceshader"><input name="base_color" type="color3" nodegraph="NG"/></standard_surface>',
      ),
    );
    expect(swatches.map((s) => [s.name, toRgb8(s.color, coated), s.alpha])).toEqual([
      ['Brass', [255, 255, 255], undefined],
      ['Paint', [128, 64, 32], undefined],
      ['Glass', [0, 0, 255], 0.5],
      // 0.18 of light is 118 of 255 (IEC 61966-2-1)
      ['Grey', [118, 118, 118], undefined],
      ['Deep', [0, 128, 255], undefined],
    ]);
    expect(Object.fromEntries(surfacesOf(library))).toEqual({
      Brass: { metalness: 1, roughness: 0.25 },
      Paint: { metalness: 0, roughness: 0.5 },
    });
    expect(warnings).toEqual([expect.stringMatching(/^1 material has a picture for a colour/)]);
  });

  it.each([
    ['acescg', 'acescg'],
    ['lin_displayp3', 'p3-linear'],
    ['srgb_displayp3', 'p3'],
  ])('in %s is what colorjs.io makes of it', (space, theirs) => {
    for (const color of [
      [0.18, 0.18, 0.18],
      [0.3, 0.2, 0.1],
      [0.2, 0.4, 0.25],
    ]) {
      const { swatches } = readBy(
        materialx,
        file(surface('standard_surface', 'One', ['base_color', color.join(', '), space])),
      );
      const srgb = new Color(theirs, color as [number, number, number]).to('srgb').coords;
      toRgb(swatches[0]!.color, coated).forEach((v, c) => {
        expect(v).toBeCloseTo(Number(srgb[c]), 3);
      });
    }
  });

  it('in a space that is not read, or without colours, says so', () => {
    const odd = file(surface('standard_surface', 'Odd', ['base_color', '1, 0, 0', 'lin_made_up']));
    expect(() => readBy(materialx, odd)).toThrow(/“Odd” is in the colour space “lin_made_up”.*Export it in/);
    expect(() => readBy(materialx, file('<noise2d name="n" type="float"/>'))).toThrow(/no surface shader/);
    expect(recognisedAs(new TextEncoder().encode(writeBy(materialx, fleet)))).toBe('materialx');
    expect(readBy(materialx, writeBy(materialx, libraryOf('Empty', {}))).swatches).toEqual([]);
  });
});
