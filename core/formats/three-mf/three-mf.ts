import { fromCss, toHex } from '../../color/index.ts';
import { PLAIN_SURFACE } from '../../swatch/surfaces.ts';
import { FormatError } from '../../text/error.ts';
import { short } from '../../text/text.ts';
import { elements, escapeXml, parseXml, type XmlNode, xmlText } from '../../text/xml.ts';
import { holds, pack, unpack } from '../archive.ts';
import { decoder } from '../draft.ts';
import type { PlainFormat } from '../format.ts';
import { type Material, Materials, materialsOf } from '../materials.ts';

// 3MF Core Specification 1.3 (3MF Consortium): basematerials, 5.1; Materials and Properties Extension 1.2: colorgroup, 3, and
// pbmetallicdisplayproperties, 7. Colours are sRGB with eight bits, the opacity last.

const MODEL_TYPE = 'application/vnd.ms-package.3dmanufacturing-3dmodel+xml';
const CORE = 'http://schemas.microsoft.com/3dmanufacturing/core/2015/02';
const PROPERTIES = 'http://schemas.microsoft.com/3dmanufacturing/material/2015/02';
const MODEL_RELATION = 'http://schemas.microsoft.com/3dmanufacturing/2013/01/3dmodel';
const PACKAGE = 'http://schemas.openxmlformats.org/package/2006';
/** Marks files that Papillon wrote: their roles are in the library. */
const OWN = 'Papillon';
const isModel = (path: string) => /\.model$/i.test(path);
const isTypes = (path: string) => path === '[Content_Types].xml';

/** Its colour and opacity. @throws FormatError */
function colorOf(node: XmlNode, key: string): Pick<Material, 'color' | 'alpha'> {
  const text = node.attributes[key] ?? '';
  const read = /^#(?:[\da-f]{6}|[\da-f]{8})$/i.test(text) && fromCss(text);
  if (!read)
    throw new FormatError(
      `line ${node.line}: “${text.slice(0, 40)}” is not a colour; “#” and six or eight digits should stand there.`,
    );
  return read;
}

const childrenOf = (node: XmlNode, name: string) => node.children.filter((c) => c.name === name);

export const threeMf: PlainFormat = {
  id: '3mf',
  name: '3MF',
  about:
    'Materials and colour groups for printing in three dimensions. Keeps names, 8-bit RGB, opacity, surfaces by role.',
  endings: ['3mf'],
  mime: 'model/3mf',
  traits: {
    ...{ read: true, write: true, names: true, groups: false, surfaces: true },
    ...{ kinds: ['process'], spaces: ['rgb'], bits: 8 },
  },

  recognise: (bytes) => (holds(bytes, isModel) && holds(bytes, isTypes) ? 0.97 : 0),

  decode: decoder((bytes, draft) => {
    let own = false;
    for (const { bytes: part } of unpack(bytes, isModel)) {
      const model = parseXml(xmlText(part) ?? '').children[0];
      if (!model) continue;
      for (const fact of childrenOf(model, 'metadata'))
        if (fact.attributes.name === 'Application' && fact.text.trim() === OWN) own = true;
      const surfaces = new Map<string, XmlNode[]>();
      for (const node of elements(model, 'pbmetallicdisplayproperties'))
        surfaces.set(node.attributes.id ?? '', childrenOf(node, 'pbmetallic'));
      // without a word on it, a material is matt paint
      const materials = new Materials(draft, own, PLAIN_SURFACE);
      const seen = new Set<string>();
      for (const [kind, entry, key] of [
        ['basematerials', 'base', 'displaycolor'],
        ['colorgroup', 'color', 'color'],
      ] as const)
        for (const node of elements(model, kind)) {
          const entries = childrenOf(node, entry);
          // shapes name the same colours once as materials and once as a group of colours
          const colors = entries.map((e) =>
            (e.attributes[key] ?? '').toUpperCase().replace(/^(#.{6})FF$/, '$1'),
          );
          const list = colors.join(' ');
          if (kind === 'colorgroup' && seen.has(list)) continue;
          seen.add(list);
          const looks = surfaces.get(node.attributes.displaypropertiesid ?? '');
          // what was written of groups has no names any more
          if (!own) draft.enter('');
          for (const [i, one] of entries.entries())
            draft.attempt(() => {
              const { metallicness, roughness } = looks?.[i]?.attributes ?? {};
              materials.add({
                ...colorOf(one, key),
                name: one.attributes.name ?? '',
                surface:
                  metallicness === undefined && roughness === undefined
                    ? undefined
                    : { metalness: Number(metallicness), roughness: Number(roughness) },
              });
            });
          draft.leave();
        }
      materials.done();
    }
    if (draft.isEmpty && !own) throw new FormatError('the model has no materials and no colours.');
  }),

  encode(library, { condition }) {
    let id = 0;
    const all = materialsOf(library, condition);
    let from = 0;
    const groups = library.groups
      .filter((group) => group.swatches.length > 0)
      .map(({ swatches }) => {
        const materials = all.slice(from, from + swatches.length);
        from += swatches.length;
        const colors = swatches.map(({ color, alpha = 1 }) => {
          const opacity = Math.round(255 * alpha)
            .toString(16)
            .padStart(2, '0');
          return `${toHex(color, condition)}${opacity}`.toUpperCase();
        });
        // each of the materials has a look, or none has
        const looks = materials.some((m) => m.surface)
          ? materials.map(
              ({ name, surface = PLAIN_SURFACE }) =>
                `<m:pbmetallic name="${escapeXml(name)}" metallicness="${short(surface.metalness, 4)}" roughness="${short(surface.roughness, 4)}"/>`,
            )
          : null;
        const looksId = looks && ++id;
        return [
          ...(looks
            ? [
                `<m:pbmetallicdisplayproperties id="${looksId}">${looks.join('')}</m:pbmetallicdisplayproperties>`,
              ]
            : []),
          `<basematerials id="${++id}"${looksId ? ` displaypropertiesid="${looksId}"` : ''}>${materials
            .map(({ name }, i) => `<base name="${escapeXml(name)}" displaycolor="${colors[i]}"/>`)
            .join('')}</basematerials>`,
          `<m:colorgroup id="${++id}">${colors.map((color) => `<m:color color="${color}"/>`).join('')}</m:colorgroup>`,
        ].join('\n');
      });
    const head = '<?xml version="1.0" encoding="UTF-8"?>\n';
    const part = (path: string, content: string) => ({
      path,
      bytes: new TextEncoder().encode(head + content),
    });
    return pack([
      part(
        '[Content_Types].xml',
        `<Types xmlns="${PACKAGE}/content-types"><Default Extension="rels" ContentType="application/vnd.openxmlformats-package.relationships+xml"/><Default Extension="model" ContentType="${MODEL_TYPE}"/></Types>`,
      ),
      part(
        '_rels/.rels',
        `<Relationships xmlns="${PACKAGE}/relationships"><Relationship Id="rel0" Type="${MODEL_RELATION}" Target="/3D/3dmodel.model"/></Relationships>`,
      ),
      part(
        '3D/3dmodel.model',
        `<model unit="millimeter" xml:lang="en" xmlns="${CORE}" xmlns:m="${PROPERTIES}" requiredextensions="m"><metadata name="Application">${OWN}</metadata><resources>\n${groups.join('\n')}\n</resources><build/></model>`,
      ),
    ]);
  },
};
