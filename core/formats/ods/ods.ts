import { toHex } from '../../color/index.ts';
import { FormatError } from '../../text/error.ts';
import { readText, uniquely } from '../../text/text.ts';
import { elements, escapeXml, parseXml, type XmlNode, xmlText } from '../../text/xml.ts';
import { holds, pack, unpack } from '../archive.ts';
import { cellsOf } from '../csv/csv.ts';
import { decoder } from '../draft.ts';
import type { PlainFormat } from '../format.ts';
import { type Cell, fillFromSheets, fillOf, MAX_CELLS, NO_GROUP, type Sheet } from '../spreadsheet.ts';

// OpenDocument spreadsheets: OASIS OpenDocument 1.3, part 3, 9 (tables) and 17 (cell properties).

const MIME = 'application/vnd.oasis.opendocument.spreadsheet';
const isContent = (path: string) => /^content\.xml$/i.test(path);
/** Where a document says of what kind it is (part 2, 3.3). */
const isKind = (path: string) => path === 'mimetype';
/** Empty cells at the end of a row are repeated to the edge of the sheet. */
const MAX_REPEATED = 1000;

const paragraphs = (cell: XmlNode) =>
  cell.children
    .filter((c) => c.name === 'p')
    .map(textIn)
    .join('\n');
const textIn = (node: XmlNode): string => node.text;

function sheetsIn(content: Uint8Array): Sheet[] {
  const root = parseXml(xmlText(content) ?? '');
  const fills = new Map<string, string>();
  for (const style of elements(root, 'style')) {
    const properties = style.children.find((c) => c.name === 'table-cell-properties');
    const fill = fillOf(properties?.attributes['background-color']);
    if (style.attributes.name && fill) fills.set(style.attributes.name, fill);
  }
  let count = 0;
  return [...elements(root, 'table')].flatMap((table): Sheet[] => {
    if (table.attributes.name === undefined) return [];
    const rows: Sheet['rows'] = [];
    let number = 0;
    for (const row of elements(table, 'table-row')) {
      const cells: Cell[] = [];
      for (const node of row.children) {
        if (node.name !== 'table-cell' && node.name !== 'covered-table-cell') continue;
        const { value, 'value-type': kind, 'style-name': look } = node.attributes;
        const fill = fills.get(look ?? '');
        const text =
          kind === 'percentage' && value !== undefined
            ? `${Number((Number(value) * 100).toPrecision(12))}%`
            : kind === 'float' && value !== undefined
              ? value
              : paragraphs(node);
        const times = Math.min(MAX_REPEATED, Number(node.attributes['number-columns-repeated'] ?? 1) || 1);
        count += times;
        if (count > MAX_CELLS)
          throw new FormatError(
            'its sheets have more cells than a table of colours has. Take out what is not needed.',
          );
        for (let i = 0; i < times; i++) cells.push({ text, ...(fill ? { fill } : {}) });
      }
      const times = Number(row.attributes['number-rows-repeated'] ?? 1) || 1;
      if (cells.some((c) => c.text.trim() !== '' || c.fill))
        for (let i = 0; i < Math.min(times, MAX_REPEATED); i++) rows.push({ number: number + i + 1, cells });
      number += times;
    }
    return [{ name: table.attributes.name, rows }];
  });
}

export const ods: PlainFormat = {
  id: 'ods',
  name: 'ODS',
  about:
    'OpenDocument spreadsheet with a sheet for each group, cells filled with their colours. Keeps names, codes, roles, notes and numbers.',
  endings: ['ods'],
  mime: MIME,
  traits: {
    ...{ read: true, write: true, names: true, groups: true, kinds: ['process', 'spot', 'technical'] },
    ...{ spaces: ['rgb', 'hsb', 'cmyk', 'lab', 'gray'], bits: 64 },
  },

  recognise(bytes) {
    if (!holds(bytes, isContent) || !holds(bytes, isKind)) return 0;
    try {
      const [kind] = unpack(bytes, isKind);
      return kind && readText(kind.bytes)?.startsWith(MIME) ? 0.97 : 0;
    } catch {
      // a zip that does not unpack is none of anything
      return 0;
    }
  },

  decode: decoder((bytes, draft) => {
    const [content] = unpack(bytes, isContent);
    if (!content) throw new FormatError('its content is missing. It is damaged; save it again.');
    fillFromSheets(sheetsIn(content.bytes), draft);
  }),

  encode(library, { condition }) {
    const called = uniquely(' ');
    const looks = new Map<string, string>();
    const lookOf = (hex: string) => {
      const known = looks.get(hex) ?? `c${looks.size + 1}`;
      looks.set(hex, known);
      return known;
    };
    // the same columns in each sheet
    const { headings, rows: all, words, hex } = cellsOf(library, condition);
    let from = 0;
    const tables = library.groups.map((group) => {
      const rows = all.slice(from, from + group.swatches.length);
      from += group.swatches.length;
      const text = (value: string, look = '') =>
        value === ''
          ? '<table:table-cell/>'
          : `<table:table-cell${look} office:value-type="string">${value
              .split('\n')
              .map((line) => `<text:p>${escapeXml(line)}</text:p>`)
              .join('')}</table:table-cell>`;
      const body = rows.map((cells, r) => {
        const color = toHex(group.swatches[r]!.color, condition);
        return cells.map((value, i) =>
          i >= words && value !== ''
            ? `<table:table-cell office:value-type="float" office:value="${value}"><text:p>${value}</text:p></table:table-cell>`
            : text(value, i === hex ? ` table:style-name="${lookOf(color)}"` : ''),
        );
      });
      const lines = [headings.map((h) => text(h)), ...body].map(
        (cells) => `<table:table-row>${cells.join('')}</table:table-row>`,
      );
      return `<table:table table:name="${escapeXml(called(group.name || NO_GROUP))}">${lines.join('')}</table:table>`;
    });
    const styles = [...looks].map(
      ([hex, name]) =>
        `<style:style style:name="${name}" style:family="table-cell"><style:table-cell-properties fo:background-color="${hex}"/></style:style>`,
    );
    const ns = (name: string, of: string) =>
      `xmlns:${name}="urn:oasis:names:tc:opendocument:xmlns:${of}:1.0"`;
    const head = '<?xml version="1.0" encoding="UTF-8"?>\n';
    const part = (path: string, content: string) => ({ path, bytes: new TextEncoder().encode(content) });
    return pack([
      part('mimetype', MIME),
      part(
        'META-INF/manifest.xml',
        `${head}<manifest:manifest ${ns('manifest', 'manifest')} manifest:version="1.3"><manifest:file-entry manifest:full-path="/" manifest:media-type="${MIME}"/><manifest:file-entry manifest:full-path="content.xml" manifest:media-type="text/xml"/></manifest:manifest>`,
      ),
      part(
        'content.xml',
        `${head}<office:document-content ${ns('office', 'office')} ${ns('table', 'table')} ${ns('text', 'text')} ${ns('style', 'style')} xmlns:fo="urn:oasis:names:tc:opendocument:xmlns:xsl-fo-compatible:1.0" office:version="1.3"><office:automatic-styles>${styles.join('')}</office:automatic-styles><office:body><office:spreadsheet>${tables.join('')}</office:spreadsheet></office:body></office:document-content>`,
      ),
    ]);
  },
};
