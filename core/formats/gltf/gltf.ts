import { decodeSrgb, encodeSrgb, toRgb } from '../../color/index.ts';
import { allSwatches } from '../../swatch/model.ts';
import { SURFACES, type Surface, surfaceOf, surfacesOf } from '../../swatch/surfaces.ts';
import { FormatError } from '../../text/error.ts';
import { isRecord, parseJson } from '../../text/json.ts';
import { beginningOf, plural, readText, writeText } from '../../text/text.ts';
import { decoder } from '../draft.ts';
import type { PlainFormat } from '../format.ts';

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

/** A factor; 1 when it is missing. */
const part = (value: unknown) => (typeof value === 'number' ? Math.min(1, Math.max(0, value)) : 1);

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
    const surfaces = new Map<string, Surface>();
    let pictured = 0;
    for (const [i, material] of materials.entries()) {
      draft.step();
      const pbr = isRecord(material.pbrMetallicRoughness) ? material.pbrMetallicRoughness : {};
      const name = typeof material.name === 'string' ? material.name : '';
      // without a factor it is white (glTF 2.0, 5.19)
      const factor = Array.isArray(pbr.baseColorFactor) ? pbr.baseColorFactor.map(Number) : [1, 1, 1, 1];
      if (isRecord(pbr.baseColorTexture)) pictured++;
      draft.attempt(() => {
        const [r = 1, g = 1, b = 1, alpha = 1] = factor;
        if (factor.length < 3 || ![r, g, b, alpha].every((v) => v >= 0 && v <= 1))
          throw new FormatError(
            `the base colour of material ${i + 1} (“${name.slice(0, 80)}”) is not of numbers from 0 to 1.`,
          );
        const given = pbr.metallicFactor !== undefined || pbr.roughnessFactor !== undefined;
        // what a role is made of stands under its name
        const role = given && name !== '' && !own ? name : undefined;
        if (role)
          surfaces.set(role, { metalness: part(pbr.metallicFactor), roughness: part(pbr.roughnessFactor) });
        draft.add({
          name,
          color: { space: 'rgb', components: [r, g, b].map(encodeSrgb) },
          ...(material.alphaMode === 'BLEND' && alpha < 1 ? { alpha } : {}),
          ...(role ? { role } : {}),
        });
      });
    }
    if (surfaces.size > 0)
      draft.items.push({ kind: SURFACES, name: '', data: { byRole: Object.fromEntries(surfaces) } });
    if (pictured > 0)
      draft.warn(
        `${plural(pictured, 'material has', 'materials have')} a picture for a colour; what it is multiplied with was read. Take colours from pictures in Gather.`,
      );
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
      `${JSON.stringify({ asset: { version: '2.0', generator: GENERATOR }, ...(materials.length > 0 ? { materials } : {}) }, null, 1)}\n`,
    );
  },
};
