import { type Color, encodeSrgb } from '../../color/index.ts';
import { PLAIN_SURFACE } from '../../swatch/surfaces.ts';
import { FormatError } from '../../text/error.ts';
import { short, uniquely, writeText } from '../../text/text.ts';
import { parseXml, rootIs, type XmlNode } from '../../text/xml.ts';
import { xmlDecoder } from '../draft.ts';
import type { PlainFormat } from '../format.ts';
import { fromLinear, type Material, Materials, materialsOf, nameInScene } from '../materials.ts';

// MaterialX Specification 1.38 and 1.39 (Academy Software Foundation): elements, inputs, colour spaces, and its libraries of
// surface shaders.

/** Marks files that Papillon wrote: their roles are in the library. */
const MARK = '<!-- Papillon -->';

/** What the inputs of a surface shader are called. */
interface Shader {
  color: string;
  metalness: string;
  roughness: string;
  opacity: string;
  /** Its colour where none is given, in linear light. */
  usual: number;
}

const SHADERS: Record<string, Shader> = {
  standard_surface: {
    ...{ color: 'base_color', metalness: 'metalness', roughness: 'specular_roughness' },
    ...{ opacity: 'opacity', usual: 0.8 },
  },
  open_pbr_surface: {
    ...{ color: 'base_color', metalness: 'base_metalness', roughness: 'specular_roughness' },
    ...{ opacity: 'geometry_opacity', usual: 0.8 },
  },
  gltf_pbr: {
    ...{ color: 'base_color', metalness: 'metallic', roughness: 'roughness', opacity: 'alpha', usual: 1 },
  },
  UsdPreviewSurface: {
    ...{ color: 'diffuseColor', metalness: 'metallic', roughness: 'roughness' },
    ...{ opacity: 'opacity', usual: 0.18 },
  },
  disney_principled: {
    ...{ color: 'baseColor', metalness: 'metallic', roughness: 'roughness', opacity: '', usual: 0.16 },
  },
};

const gamma = (exponent: number) => (v: number) => Math.sign(v) * Math.abs(v) ** exponent;
/** ACEScg to linear Rec. 709, with the white adapted by Bradford (AMPAS S-2014-004; the matrix from memory, held against colorjs.io). */
const AP1_TO_709 = [
  [1.7050509926579815, -0.6217921206507293, -0.0832588720072522],
  [-0.1302564175070484, 1.1408047365754297, -0.0105483190683813],
  [-0.024003356804618, -0.1289689760649709, 1.1529723328695891],
];
/** A colour in one of the standard's spaces; null for a space that is not read. */
function colorIn(color: readonly number[], space: string): Color | null {
  switch (space) {
    case 'lin_rec709':
    case 'lin_rec709_scene':
    case 'none':
    case '':
      return fromLinear(color);
    case 'srgb_texture':
    case 'srgb_rec709_scene':
      return { space: 'rgb', components: [...color] };
    case 'g22_rec709':
    case 'g22_rec709_scene':
      return fromLinear(color.map(gamma(2.2)));
    case 'g18_rec709':
    case 'g18_rec709_scene':
      return fromLinear(color.map(gamma(1.8)));
    case 'lin_displayp3':
      return { space: 'p3', components: color.map(encodeSrgb) };
    case 'srgb_displayp3':
      return { space: 'p3', components: [...color] };
    case 'acescg':
    case 'lin_ap1':
    case 'lin_ap1_scene':
      return fromLinear(AP1_TO_709.map((row) => row.reduce((sum, v, i) => sum + v * color[i]!, 0)));
    default:
      return null;
  }
}

const numbersIn = (text = '') =>
  text
    .split(',')
    .map((part) => (part.trim() === '' ? Number.NaN : Number(part)))
    .filter((v) => Number.isFinite(v));

export const materialx: PlainFormat = {
  id: 'materialx',
  name: 'MaterialX',
  about:
    'Materials for films and games, one per swatch, in linear light. Keeps names as identifiers, RGB, opacity, surfaces by role.',
  endings: ['mtlx'],
  mime: 'application/xml',
  traits: {
    ...{ read: true, write: true, names: true, groups: false, surfaces: true },
    ...{ kinds: ['process'], spaces: ['rgb'], bits: 20 },
  },

  recognise: (bytes) => (rootIs(bytes, 'materialx') ? 1 : 0),

  decode: xmlDecoder((text, draft) => {
    const root = parseXml(text).children[0];
    if (!root) throw new FormatError('it is empty.');
    const byName = new Map<string, XmlNode>();
    for (const node of root.children) if (node.attributes.name) byName.set(node.attributes.name, node);
    const inputsOf = (node: XmlNode) =>
      new Map(
        node.children.filter((c) => c.name === 'input').map((c) => [c.attributes.name ?? '', c] as const),
      );
    const materials = new Materials(draft, text.includes(MARK), PLAIN_SURFACE);
    // the shaders that materials name go by the materials' names
    const called = new Map<string, string>();
    for (const node of root.children)
      if (node.name === 'surfacematerial') {
        const shader = inputsOf(node).get('surfaceshader')?.attributes.nodename;
        if (shader) called.set(shader, node.attributes.name ?? '');
      }
    for (const node of root.children) {
      draft.step();
      const shader = Object.hasOwn(SHADERS, node.name) ? SHADERS[node.name] : undefined;
      if (!shader) continue;
      const inputs = inputsOf(node);
      const name = called.get(node.attributes.name ?? '') ?? node.attributes.name ?? '';
      // a value may stand in a node of its own
      const valued = (input: string): XmlNode | undefined => {
        const own = inputs.get(input);
        const constant = byName.get(own?.attributes.nodename ?? '');
        return constant?.name === 'constant' ? inputsOf(constant).get('value') : own;
      };
      const scalar = (input: string) => {
        const [value] = numbersIn(valued(input)?.attributes.value);
        return value;
      };
      const base = valued(shader.color);
      if (base && base.attributes.value === undefined) {
        materials.isPictured();
        continue;
      }
      draft.attempt(() => {
        const color = base ? numbersIn(base.attributes.value) : [shader.usual, shader.usual, shader.usual];
        const space = (base?.attributes.colorspace ?? root.attributes.colorspace ?? '').trim();
        if (color.length !== 3)
          throw new FormatError(
            `line ${base?.line ?? node.line}: “${(base?.attributes.value ?? '').slice(0, 40)}” is not a colour: three numbers should stand there.`,
          );
        const read = colorIn(color, space);
        if (!read)
          throw new FormatError(
            `the colour of “${name.slice(0, 80)}” is in the colour space “${space.slice(0, 40)}”, which is not read. Export it in lin_rec709 or srgb_texture.`,
          );
        const surface: Material['surface'] =
          inputs.has(shader.metalness) || inputs.has(shader.roughness)
            ? { metalness: scalar(shader.metalness), roughness: scalar(shader.roughness) }
            : undefined;
        materials.add({ name, color: read, alpha: scalar(shader.opacity), surface });
      });
    }
    materials.done();
    if (draft.isEmpty && !text.includes(MARK))
      throw new FormatError('it has no surface shader with a colour that is read.');
  }),

  encode(library, { condition }) {
    const unique = uniquely('_');
    const parts = materialsOf(library, condition).map(({ name, linear, alpha, surface }) => {
      const own = unique(nameInScene(name));
      const input = (called: string, type: string, value: string) =>
        `    <input name="${called}" type="${type}" value="${value}" />\n`;
      const shown = linear.map((v) => short(v, 7)).join(', ');
      const look = surface
        ? input('metalness', 'float', short(surface.metalness, 4)) +
          input('specular_roughness', 'float', short(surface.roughness, 4))
        : '';
      const opacity = alpha < 1 ? input('opacity', 'color3', [alpha, alpha, alpha].join(', ')) : '';
      return `  <standard_surface name="SR_${own}" type="surfaceshader">\n    <input name="base" type="float" value="1" />\n${input('base_color', 'color3', shown)}${look}${opacity}  </standard_surface>\n  <surfacematerial name="${own}" type="material">\n    <input name="surfaceshader" type="surfaceshader" nodename="SR_${own}" />\n  </surfacematerial>\n`;
    });
    return writeText(
      `<?xml version="1.0" encoding="UTF-8"?>\n${MARK}\n<materialx version="1.38" colorspace="lin_rec709">\n${parts.join('')}</materialx>\n`,
    );
  },
};
