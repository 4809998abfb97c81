import { decodeSrgb, encodeSrgb, toRgb } from '../../color/index.ts';
import { allSwatches } from '../../swatch/model.ts';
import { surfaceOf, surfacesOf } from '../../swatch/surfaces.ts';
import { FormatError } from '../../text/error.ts';
import { isRecord, parseJson } from '../../text/json.ts';
import { writeText } from '../../text/text.ts';
import { textDecoder } from '../draft.ts';
import type { PlainFormat } from '../format.ts';

export const gltf: PlainFormat = {
  id: 'gltf',
  name: 'glTF materials',
  about: 'Materials for real-time 3D, one per swatch, in linear light. Keeps names, RGB, surfaces by role.',
  endings: ['gltf'],
  mime: 'model/gltf+json',
  traits: {
    // decode is here for reading our own file back
    read: false,
    write: true,
    names: true,
    groups: false,
    surfaces: true,
    kinds: ['process'],
    spaces: ['rgb'],
    bits: 32,
  },

  recognise: () => 0,

  decode: textDecoder((text, draft) => {
    const data = parseJson(text);
    const materials = isRecord(data) && Array.isArray(data.materials) ? data.materials : [];
    for (const material of materials) {
      const pbr = isRecord(material) ? material.pbrMetallicRoughness : null;
      const factor = isRecord(pbr) ? pbr.baseColorFactor : null;
      if (!Array.isArray(factor)) throw new FormatError('a material has no base colour.');
      const [r, g, b, alpha] = factor.map(Number);
      draft.add({
        name: String(material.name ?? ''),
        color: { space: 'rgb', components: [r, g, b].map(encodeSrgb) },
        ...(alpha < 1 ? { alpha } : {}),
      });
    }
  }),

  encode(library, { condition }) {
    const surfaces = surfacesOf(library);
    // glTF 2.0 wants factors in linear light
    const materials = allSwatches(library).map(({ name, color, role, alpha = 1 }) => ({
      name,
      ...(alpha < 1 ? { alphaMode: 'BLEND' } : {}),
      pbrMetallicRoughness: {
        baseColorFactor: [
          ...toRgb(color, condition).map((v) => decodeSrgb(Math.min(1, Math.max(0, v)))),
          alpha,
        ],
        metallicFactor: surfaceOf(surfaces, role).metalness,
        roughnessFactor: surfaceOf(surfaces, role).roughness,
      },
    }));
    return writeText(
      `${JSON.stringify({ asset: { version: '2.0', generator: 'Papillon' }, ...(materials.length > 0 ? { materials } : {}) }, null, 1)}\n`,
    );
  },
};
