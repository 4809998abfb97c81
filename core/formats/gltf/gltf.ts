import { toRgb } from '../../color/index.ts';
import { allSwatches } from '../../swatch/model.ts';
import { textDecoder } from '../draft.ts';
import { FormatError } from '../error.ts';
import type { PlainFormat } from '../format.ts';
import { isRecord, parseJson } from '../json.ts';
import { writeText } from '../text.ts';

/** IEC 61966-2-1, both ways; glTF 2.0 wants factors in linear light. */
const toLinear = (v: number) => (v <= 0.04045 ? v / 12.92 : ((v + 0.055) / 1.055) ** 2.4);
const fromLinear = (v: number) => (v <= 0.0031308 ? v * 12.92 : 1.055 * v ** (1 / 2.4) - 0.055);

export const gltf: PlainFormat = {
  id: 'gltf',
  name: 'glTF materials',
  about: 'Materials for real-time 3D, one per swatch, in linear light. Keeps names, RGB.',
  endings: ['gltf'],
  mime: 'model/gltf+json',
  traits: {
    // decode is here for reading our own file back
    read: false,
    write: true,
    names: true,
    groups: false,
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
        color: { space: 'rgb', components: [r, g, b].map(fromLinear) },
        ...(alpha < 1 ? { alpha } : {}),
      });
    }
  }),

  encode(library, { condition }) {
    const materials = allSwatches(library).map(({ name, color, alpha = 1 }) => ({
      name,
      ...(alpha < 1 ? { alphaMode: 'BLEND' } : {}),
      pbrMetallicRoughness: {
        baseColorFactor: [
          ...toRgb(color, condition).map((v) => toLinear(Math.min(1, Math.max(0, v)))),
          alpha,
        ],
        metallicFactor: 0,
        roughnessFactor: 1,
      },
    }));
    return writeText(
      `${JSON.stringify({ asset: { version: '2.0', generator: 'Papillon' }, ...(materials.length > 0 ? { materials } : {}) }, null, 1)}\n`,
    );
  },
};
