import { type Color, type Condition, carried, encodeSrgb, type Space } from '../../color/index.ts';
import { isLoose, type Library, type Swatch } from '../../swatch/model.ts';
import { FormatError } from '../../text/error.ts';
import { writeText } from '../../text/text.ts';
import { childOf, escapeXml, parseXml, type XmlNode, xmlText } from '../../text/xml.ts';
import { holds, pack, unpack } from '../archive.ts';
import { decoder } from '../draft.ts';
import type { PlainFormat } from '../format.ts';

// A zip with XML; the layout from memory.

const INSIDE = 'colorset.xml';
const isInside = (path: string) => path.split('/').at(-1)?.toLowerCase() === INSIDE;
const COLUMNS = 16;

/** The elements of colours: their attributes in our order. */
const ELEMENTS: { element: string; space: Space; keys: string[]; profile: string }[] = [
  { element: 'RGB', space: 'rgb', keys: ['r', 'g', 'b'], profile: 'sRGB-elle-V2-srgbtrc.icc' },
  { element: 'sRGB', space: 'rgb', keys: ['r', 'g', 'b'], profile: '' },
  { element: 'CMYK', space: 'cmyk', keys: ['c', 'm', 'y', 'k'], profile: '' },
  { element: 'Lab', space: 'lab', keys: ['L', 'a', 'b'], profile: 'Lab identity built-in' },
  { element: 'Gray', space: 'gray', keys: ['g'], profile: 'Gray-D50-elle-V2-srgbtrc.icc' },
];
const HELD: Space[] = ['rgb', 'cmyk', 'lab', 'gray'];

/** Lab counts from 0 to 1 in whole-number depths, neutral in the middle, and in CIE units in floating ones. */
const isFloat = (depth: string | undefined) => /^F/i.test(depth ?? '');
const labFrom = ([L, a, b]: number[]) => [L! * 100, a! * 256 - 128, b! * 256 - 128];
const labTo = ([L, a, b]: number[]) => [L! / 100, (a! + 128) / 256, (b! + 128) / 256];
const linear = (profile: string) => /-g10\b|linear/i.test(profile);

function colorOf(entry: XmlNode): Color {
  const called = `“${(entry.attributes.name ?? '').slice(0, 80)}”`;
  for (const { element, space, keys } of ELEMENTS) {
    const node = entry.children.find((c) => c.name.toLowerCase() === element.toLowerCase());
    if (!node) continue;
    const numbers = keys.map((k) => Number(node.attributes[k] ?? Number.NaN));
    if (!numbers.every(Number.isFinite))
      throw new FormatError(`line ${node.line}: a value of ${called} is not a number.`);
    if (space === 'lab' && !isFloat(entry.attributes.bitdepth))
      return { space, components: labFrom(numbers) };
    return {
      space,
      components: space === 'rgb' && linear(node.attributes.space ?? '') ? numbers.map(encodeSrgb) : numbers,
    };
  }
  throw new FormatError(`line ${entry.line}: ${called} has no values in RGB, CMYK, Lab or gray.`);
}

export const kpl: PlainFormat = {
  id: 'kpl',
  name: 'KPL',
  about:
    'Zipped palette of open-source painting programs. Keeps groups, names, spot colours, RGB, CMYK, Lab and gray.',
  endings: ['kpl'],
  mime: 'application/zip',
  traits: {
    read: true,
    write: true,
    names: true,
    groups: true,
    kinds: ['process', 'spot'],
    spaces: HELD,
    bits: 32,
  },

  recognise: (bytes) => (holds(bytes, isInside) ? 1 : 0),

  decode: decoder((bytes, draft) => {
    const [entry] = unpack(bytes, isInside);
    if (!entry) throw new FormatError(`there is no ${INSIDE} in the archive.`);
    const root = parseXml(xmlText(entry.bytes) ?? '').children[0];
    draft.name = root?.attributes.name ?? '';
    if (root?.attributes.comment) draft.note = root.attributes.comment;
    const columns = Number(root?.attributes.columns);
    if (Number.isInteger(columns) && columns > 0 && columns <= 65535) draft.columns = columns;
    const entries = (node: XmlNode) => {
      const list = node.children.filter((c) => c.name === 'ColorSetEntry');
      const place = (e: XmlNode) => {
        const at = childOf(e, 'Position')?.attributes;
        return at ? Number(at.row) * 1e6 + Number(at.column) : Number.NaN;
      };
      // they lie where their places say, in whatever order they are written
      const placed = list.map((e, i) => ({ e, i, at: place(e) }));
      if (placed.every((p) => Number.isFinite(p.at))) placed.sort((a, b) => a.at - b.at || a.i - b.i);
      for (const { e } of placed)
        draft.attempt(() =>
          draft.add({
            name: e.attributes.name ?? '',
            kind: e.attributes.spot === 'true' ? 'spot' : 'process',
            ...(e.attributes.id ? { code: e.attributes.id } : {}),
            color: colorOf(e),
          }),
        );
    };
    if (root) entries(root);
    for (const group of root?.children ?? [])
      if (group.name === 'Group') {
        draft.enter(group.attributes.name ?? '');
        entries(group);
      }
  }),

  encode(library, { condition }) {
    const columns = library.columns || COLUMNS;
    return pack([
      { path: INSIDE, bytes: writeText(xmlOf(library, columns, condition)) },
      { path: 'profiles.xml', bytes: writeText('<?xml version="1.0" encoding="UTF-8"?>\n<Profiles/>\n') },
    ]);
  },
};

function xmlOf(library: Library, columns: number, condition: Condition): string {
  const rows = (n: number) => Math.max(1, Math.ceil(n / columns));
  const list = (swatches: readonly Swatch[]) =>
    swatches.map((s, i) => entryOf(s, i, columns, condition)).join('');
  const [first, ...groups] = library.groups;
  const loose = first && isLoose(library, first) ? first.swatches : [];
  const named = first && !isLoose(library, first) ? [first, ...groups] : groups;
  const inside = named.map(
    (g) =>
      ` <Group name="${escapeXml(g.name)}" rows="${rows(g.swatches.length)}">\n${list(g.swatches)} </Group>\n`,
  );
  return `<?xml version="1.0" encoding="UTF-8"?>\n<ColorSet version="2.0" name="${escapeXml(library.name)}" comment="${escapeXml(library.note ?? '')}" columns="${columns}" rows="${rows(loose.length)}" readonly="false">\n${list(loose)}${inside.join('')}</ColorSet>\n`;
}

function entryOf(
  { name, code, kind, color }: Swatch,
  place: number,
  columns: number,
  condition: Condition,
): string {
  const { space, components } = carried(color, HELD, condition);
  const { element, keys, profile } = ELEMENTS.find((e) => e.space === space)!;
  const numbers = space === 'lab' ? labTo(components) : components;
  const values = keys.map((k, i) => `${k}="${numbers[i]}"`).join(' ');
  return `  <ColorSetEntry name="${escapeXml(name)}" id="${escapeXml(code ?? '')}" spot="${kind !== 'process'}" bitdepth="U16"><${element} space="${profile}" ${values}/><Position row="${Math.floor(place / columns)}" column="${place % columns}"/></ColorSetEntry>\n`;
}
