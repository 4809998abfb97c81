import { PLAIN_SURFACE } from '../../swatch/surfaces.ts';
import { FormatError } from '../../text/error.ts';
import { isRecord, parseJson } from '../../text/json.ts';
import { beginningOf, readText, writeText } from '../../text/text.ts';
import { decoder } from '../draft.ts';
import type { PlainFormat } from '../format.ts';
import { fromLinear, Materials, materialsOf } from '../materials.ts';

const GLB = 'glTF';
const GENERATOR = 'Papillon';
const MAX_JSON_BYTES = 64 * 1024 * 1024;
const startsWith = (bytes: Uint8Array, text: string) =>
  String.fromCharCode(...bytes.subarray(0, text.length)) === text;

/** The JSON of a model, from a file of its own or the first chunk of a binary one (glTF 2.0, 4.4). */
function jsonOf(bytes: Uint8Array): string {
  if (!startsWith(bytes, GLB)) return readText(bytes) ?? '';
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  if (bytes.length < 20) throw new FormatError('it is cut short. Export it again.');
  const length = view.getUint32(12, true);
  if (
    view.getUint32(4, true) !== 2 ||
    view.getUint32(16, true) !== 0x4e4f534a ||
    length > MAX_JSON_BYTES ||
    20 + length > bytes.length
  )
    throw new FormatError('it is cut short, or of a version that is not read (2 is). Export it again.');
  return readText(bytes.subarray(20, 20 + length)) ?? '';
}

const numberIn = (value: unknown) => (typeof value === 'number' ? value : undefined);

export const gltf: PlainFormat = {
  id: 'gltf',
  name: 'glTF materials',
  about: 'Materials for real-time 3D, one per swatch, in linear light. Keeps names, RGB, surfaces by role.',
  endings: ['gltf'],
  mime: 'model/gltf+json',
  traits: {
    read: true,
    write: true,
    names: true,
    groups: false,
    surfaces: true,
    kinds: ['process'],
    spaces: ['rgb'],
    bits: 32,
  },

  recognise(bytes) {
    if (startsWith(bytes, GLB)) return 1;
    const text = beginningOf(bytes);
    return text && /^\s*\{/.test(text) && /"asset"\s*:/.test(text) && /"version"\s*:\s*"2\.\d"/.test(text)
      ? 0.96
      : 0;
  },

  decode: decoder((bytes, draft) => {
    const data = parseJson(jsonOf(bytes));
    const materials = isRecord(data) && Array.isArray(data.materials) ? data.materials.filter(isRecord) : [];
    // our own has its roles in the library
    const own = isRecord(data) && isRecord(data.asset) && data.asset.generator === GENERATOR;
    if (materials.length === 0 && !own)
      throw new FormatError('the model has no materials, and so no colours.');
    // without a factor it is bare metal, and matt (glTF 2.0, 5.22)
    const read = new Materials(draft, own, { metalness: 1, roughness: 1 });
    for (const [i, material] of materials.entries()) {
      draft.step();
      const pbr = isRecord(material.pbrMetallicRoughness) ? material.pbrMetallicRoughness : {};
      const name = typeof material.name === 'string' ? material.name : '';
      // without a factor it is white (glTF 2.0, 5.19)
      const factor = Array.isArray(pbr.baseColorFactor) ? pbr.baseColorFactor.map(Number) : [1, 1, 1, 1];
      if (isRecord(pbr.baseColorTexture)) read.isPictured();
      draft.attempt(() => {
        const [r = 1, g = 1, b = 1, alpha = 1] = factor;
        if (factor.length < 3 || ![r, g, b, alpha].every((v) => v >= 0 && v <= 1))
          throw new FormatError(
            `the base colour of material ${i + 1} (“${name.slice(0, 80)}”) is not of numbers from 0 to 1.`,
          );
        const given = pbr.metallicFactor !== undefined || pbr.roughnessFactor !== undefined;
        read.add({
          name,
          color: fromLinear([r, g, b]),
          alpha: material.alphaMode === 'BLEND' ? alpha : undefined,
          surface: given
            ? { metalness: numberIn(pbr.metallicFactor), roughness: numberIn(pbr.roughnessFactor) }
            : undefined,
        });
      });
    }
    read.done();
  }),

  encode(library, { condition }) {
    // glTF 2.0 wants factors in linear light
    const materials = materialsOf(library, condition).map(
      ({ name, linear, alpha, surface = PLAIN_SURFACE }) => ({
        name,
        ...(alpha < 1 ? { alphaMode: 'BLEND' } : {}),
        pbrMetallicRoughness: {
          baseColorFactor: [...linear, alpha],
          metallicFactor: surface.metalness,
          roughnessFactor: surface.roughness,
        },
      }),
    );
    return writeText(
      `${JSON.stringify({ asset: { version: '2.0', generator: GENERATOR }, ...(materials.length > 0 ? { materials } : {}) }, null, 1)}\n`,
    );
  },
};
