import { unzipSync } from 'fflate';
import { BoxGeometry, Mesh, MeshStandardMaterial, Scene } from 'three';
import { USDZExporter } from 'three/examples/jsm/exporters/USDZExporter.js';
import { USDAParser } from 'three/examples/jsm/loaders/usd/USDAParser.js';
import { describe, expect, it } from 'vitest';
import { toRgb8 } from '../../color/index.ts';
import { surfacesOf } from '../../swatch/surfaces.ts';
import { coated, libraryOf, readBy, recognisedAs, shiny, writeBy } from '../../testing.ts';
import { usda } from './usda.ts';

/** What the parser makes of a scene: parts in parts, and texts. */
// biome-ignore lint/suspicious/noExplicitAny: its types know no contents
type Part = { [name: string]: any };

describe('USDA', () => {
  it('is read by the parser of three, with names, colours in linear light, and surfaces', () => {
    const scene = new USDAParser().parseText(writeBy(usda, shiny)) as Part;
    const materials = Object.values<Part>(scene['def Scope "Materials"']);
    const swatches = shiny.groups.flatMap((g) => g.swatches);
    expect(materials.map((m) => m.displayName)).toEqual(swatches.map((s) => `"${s.name}"`));
    const sea = materials[1]!['def Shader "Surface"']!;
    // sRGB 47 is 0.02843 in linear light, 125 is 0.20508, 107 is 0.14703 (IEC 61966-2-1)
    expect(sea['color3f inputs:diffuseColor']).toBe('(0.028426, 0.2050787, 0.1470273)');
    expect(sea['float inputs:roughness']).toBe('0.8');
  });

  it('gives the materials of a scene that three writes', async () => {
    const scene = new Scene();
    for (const [name, color, metalness, roughness, opacity] of [
      ['Brass', '#d9a441', 1, 0.25, 1],
      ['Glass', '#2f7d6b', 0, 0.1, 0.5],
    ] as const) {
      const material = new MeshStandardMaterial({
        color,
        metalness,
        roughness,
        opacity,
        transparent: opacity < 1,
      });
      material.name = name;
      scene.add(new Mesh(new BoxGeometry(), material));
    }
    const packed = unzipSync(new Uint8Array(await new USDZExporter().parseAsync(scene)));
    const { swatches, library } = readBy(usda, new Uint8Array(packed['model.usda']!));
    expect(swatches.map((s) => [toRgb8(s.color, coated), s.alpha])).toEqual([
      [[217, 164, 65], undefined],
      [[47, 125, 107], 0.5],
    ]);
    expect([...surfacesOf(library).values()]).toEqual([
      { metalness: 1, roughness: 0.25 },
      { metalness: 0, roughness: 0.1 },
    ]);
  });

  // as the published documentation on the text format has its forms
  const scene = (inputs: string) => `#usda 1.0
( upAxis = "Y" # a remark with "quotes" {
)
def Xform "House" ( prepend references = @./roof.usda@ customData = { string note = "def Material \\"no\\"" } )
{
    def Mesh "Wall" { color3f[] primvars:displayColor = [(0.21586, 0, 1)] ( interpolation = "constant" )
        int[] faceVertexCounts = [3, 3] }
    def Mesh "Many" { color3f[] primvars:displayColor = [(1, 0, 0), (0, 1, 0)] }
    def Material "Roof" ( displayName = "Roof \\"tiles\\"" )
    {
        token outputs:surface.connect = </House/Roof/S.outputs:surface>
        def Shader "S" { uniform token info:id = "UsdPreviewSurface"; ${inputs} }
    }
}
`;

  it('reads strings, remarks, lists and names for people', () => {
    const { swatches, library } = readBy(
      usda,
      scene('color3f inputs:diffuseColor = (1, 1, 1); float inputs:metallic = 1'),
    );
    expect(swatches.map((s) => [s.name, toRgb8(s.color, coated)])).toEqual([
      ['Wall', [128, 0, 255]],
      ['Roof "tiles"', [255, 255, 255]],
    ]);
    expect(surfacesOf(library).get('Roof "tiles"')).toEqual({ metalness: 1, roughness: 0.5 });
    const { warnings } = readBy(usda, scene('color3f inputs:diffuseColor.connect = </House/T.outputs:rgb>'));
    expect(warnings).toEqual([expect.stringMatching(/picture for a colour/)]);
  });

  it('cut short, or without colours, is refused with its line', () => {
    expect(() => readBy(usda, scene('color3f inputs:diffuseColor = (1, 1').slice(0, -12))).toThrow(
      /line \d+: a “\(” has no end/,
    );
    expect(() => readBy(usda, '#usda 1.0\ndef Xform "A"\n{\n')).toThrow(/“A” has no end/);
    expect(() => readBy(usda, '#usda 1.0\ndef Xform "A"\n{\n}\n')).toThrow(/none of its materials/);
    expect(recognisedAs(new TextEncoder().encode(scene('')))).toBe('usda');
    expect(readBy(usda, writeBy(usda, libraryOf('Empty', {}))).swatches).toEqual([]);
  });
});
