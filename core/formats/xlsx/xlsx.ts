import { toHex } from '../../color/index.ts';
import { FormatError } from '../../text/error.ts';
import { uniquely } from '../../text/text.ts';
import { childOf, elements, escapeXml, parseXml, type XmlNode, xmlText } from '../../text/xml.ts';
import { holds, pack, unpack } from '../archive.ts';
import { cellsOf } from '../csv/csv.ts';
import { decoder } from '../draft.ts';
import type { PlainFormat } from '../format.ts';
import { officeTheme } from '../office-theme/office-theme.ts';
import {
  type Cell,
  fillFromSheets,
  fillOf,
  MAX_CELLS,
  NO_GROUP,
  type Sheet,
  tinted,
} from '../spreadsheet.ts';

// Office Open XML spreadsheets: ECMA-376-1, 18.

const isWorkbook = (path: string) => /^xl\/workbook\.xml$/i.test(path);
const WANTED =
  /^xl\/(?:workbook\.xml|_rels\/workbook\.xml\.rels|sharedStrings\.xml|styles\.xml|theme\/theme1\.xml|worksheets\/[^/]+\.xml)$/i;
/** The places of a theme in the order that cells count them (18.8.3 as programs have it: the light ones first). */
const THEME_ORDER = [
  'lt1',
  'dk1',
  'lt2',
  'dk2',
  'accent1',
  'accent2',
  'accent3',
  'accent4',
  'accent5',
  'accent6',
  'hlink',
  'folHlink',
];
/** The first of the colours that cells have by number (18.8.27), which repeat the eight of teletext. */
const INDEXED = ['000000', 'ffffff', 'ff0000', '00ff00', '0000ff', 'ffff00', 'ff00ff', '00ffff'];
const MAX_COLUMNS = 16_384;
/** So many looks a workbook can have; fills are left out beyond. */
const MAX_FILLS = 60_000;

const textOf = (node: XmlNode): string =>
  node.name === 't' ? node.text : node.name === 'rPh' ? '' : node.children.map(textOf).join('');

/** The column of a reference such as `AB12`, from 0. */
function columnOf(reference: string): number {
  let n = 0;
  for (const c of /^[A-Z]{1,3}/i.exec(reference)?.[0]?.toUpperCase() ?? '') n = n * 26 + c.charCodeAt(0) - 64;
  return n - 1;
}

/** How each look of a cell is filled, and whether its numbers are shown in percent. */
function looksIn(
  styles: XmlNode | null,
  theme: XmlNode | null,
): { fill?: string | undefined; percent: boolean }[] {
  if (!styles) return [];
  const [scheme] = theme ? elements(theme, 'clrScheme') : [];
  const themed = (n: number) => {
    const [color] = childOf(scheme, THEME_ORDER[n] ?? '')?.children ?? [];
    return fillOf(color?.attributes.lastClr ?? color?.attributes.val);
  };
  const [fillList] = elements(styles, 'fills');
  const fills = (fillList?.children ?? []).map((fill) => {
    const pattern = childOf(fill, 'patternFill');
    if (pattern?.attributes.patternType !== 'solid') return undefined;
    const { rgb, theme: place, tint, indexed } = childOf(pattern, 'fgColor')?.attributes ?? {};
    const base = rgb
      ? fillOf(rgb)
      : place !== undefined
        ? themed(Number(place))
        : fillOf(INDEXED[Number(indexed) % 8]);
    return base && tinted(base, Number(tint ?? 0) || 0);
  });
  const formats = new Map(
    [...elements(styles, 'numFmt')].map((n) => [n.attributes.numFmtId, n.attributes.formatCode ?? '']),
  );
  const [looks] = elements(styles, 'cellXfs');
  return (looks?.children ?? []).map(({ attributes: { fillId, numFmtId = '' } }) => ({
    fill: fills[Number(fillId)],
    percent: numFmtId === '9' || numFmtId === '10' || /%/.test(formats.get(numFmtId) ?? ''),
  }));
}

function sheetsIn(bytes: Uint8Array): Sheet[] {
  const parts = new Map(
    unpack(bytes, (path) => WANTED.test(path)).map((e) => [e.path.toLowerCase(), e.bytes]),
  );
  const xml = (path: string): XmlNode | null => {
    const found = parts.get(path.toLowerCase());
    return found ? parseXml(xmlText(found) ?? '') : null;
  };
  const workbook = xml('xl/workbook.xml');
  if (!workbook) throw new FormatError('the workbook is missing. It is damaged; save it again.');
  const targets = new Map(
    [...elements(xml('xl/_rels/workbook.xml.rels') ?? workbook, 'Relationship')].map((r) => [
      r.attributes.Id,
      (r.attributes.Target ?? '').replace(/^\/?(?:xl\/)?/, 'xl/'),
    ]),
  );
  const strings = xml('xl/sharedStrings.xml');
  const shared = strings ? [...elements(strings, 'si')].map(textOf) : [];
  const looks = looksIn(xml('xl/styles.xml'), xml('xl/theme/theme1.xml'));
  let cells = 0;
  return [...elements(workbook, 'sheet')].flatMap((entry): Sheet[] => {
    const root = xml(targets.get(entry.attributes.id) ?? '');
    // what is hidden is not meant
    if (!root || /hidden/i.test(entry.attributes.state ?? '')) return [];
    const rows: Sheet['rows'] = [];
    let number = 0;
    for (const row of elements(root, 'row')) {
      number = Number(row.attributes.r ?? number + 1);
      const own: Cell[] = [];
      let at = -1;
      for (const node of row.children) {
        if (node.name !== 'c') continue;
        at = node.attributes.r ? columnOf(node.attributes.r) : at + 1;
        if (at < 0 || at >= MAX_COLUMNS) continue;
        if (++cells > MAX_CELLS)
          throw new FormatError(
            'its sheets have more cells than a table of colours has. Take out what is not needed.',
          );
        const look = looks[Number(node.attributes.s ?? 0)];
        const value = childOf(node, 'v')?.text ?? '';
        const kind = node.attributes.t ?? 'n';
        const plain =
          kind === 's' ? (shared[Number(value)] ?? '') : kind === 'inlineStr' ? textOf(node) : value;
        const text =
          kind === 'n' && look?.percent && value !== ''
            ? `${Number((Number(value) * 100).toPrecision(12))}%`
            : plain;
        own[at] = { text, ...(look?.fill ? { fill: look.fill } : {}) };
      }
      for (let i = 0; i < own.length; i++) own[i] ??= { text: '' };
      if (own.some((c) => c.text.trim() !== '' || c.fill)) rows.push({ number, cells: own });
    }
    return [{ name: entry.attributes.name ?? '', rows }];
  });
}

export const xlsx: PlainFormat = {
  id: 'xlsx',
  name: 'XLSX',
  about:
    'Workbook with a sheet for each group, cells filled with their colours. Keeps names, codes, roles, notes and numbers.',
  endings: ['xlsx'],
  mime: 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet',
  traits: {
    ...{ read: true, write: true, names: true, groups: true, kinds: ['process', 'spot', 'technical'] },
    ...{ spaces: ['rgb', 'hsb', 'cmyk', 'lab', 'gray'], bits: 64 },
  },

  recognise: (bytes) => (holds(bytes, isWorkbook) ? 0.97 : 0),

  decode(bytes, newId, options) {
    try {
      return decoder((given, draft) => fillFromSheets(sheetsIn(given), draft))(bytes, newId, options);
    } catch (error) {
      // a workbook without a table may have a theme of its own
      if (!(error instanceof FormatError) || !/^no sheet of it/.test(error.message)) throw error;
      try {
        return officeTheme.decode(bytes, newId, options);
      } catch {
        throw error;
      }
    }
  },

  encode(library, { condition }) {
    const called = uniquely(' ', (name) => name.toLowerCase());
    const fills: string[] = [];
    const places = new Map<string, number>();
    const lookOf = (hex: string) => {
      let place = places.get(hex);
      if (place === undefined && fills.length < MAX_FILLS) {
        place = fills.push(hex);
        places.set(hex, place);
      }
      return place ?? 0;
    };
    const letters = (i: number): string =>
      (i < 26 ? '' : letters(Math.floor(i / 26) - 1)) + String.fromCharCode(65 + (i % 26));
    // the same columns in each sheet
    const { headings, rows: all, words, hex } = cellsOf(library, condition);
    let from = 0;
    const sheets = library.groups.map((group) => {
      const rows = all.slice(from, from + group.swatches.length);
      from += group.swatches.length;
      const text = (at: string, value: string, look = 0) =>
        `<c r="${at}"${look ? ` s="${look}"` : ''} t="inlineStr"><is><t xml:space="preserve">${escapeXml(value)}</t></is></c>`;
      const body = [headings, ...rows].map((cells, r) => {
        const written = cells.map((value, i) => {
          const at = `${letters(i)}${r + 1}`;
          if (value === '') return '';
          if (r > 0 && i >= words) return `<c r="${at}"><v>${value}</v></c>`;
          return text(
            at,
            value,
            r > 0 && i === hex ? lookOf(toHex(group.swatches[r - 1]!.color, condition)) : 0,
          );
        });
        return `<row r="${r + 1}">${written.join('')}</row>`;
      });
      // what a sheet may be called: 31 characters, none of these
      const plain =
        group.name
          .replace(/[[\]:*?/\\']+/g, ' ')
          .trim()
          .slice(0, 26) || NO_GROUP;
      return { name: called(plain), xml: `<sheetData>${body.join('')}</sheetData>` };
    });
    const main = 'http://schemas.openxmlformats.org/spreadsheetml/2006/main';
    const rel = 'http://schemas.openxmlformats.org/officeDocument/2006/relationships';
    const packages = 'http://schemas.openxmlformats.org/package/2006';
    const head = '<?xml version="1.0" encoding="UTF-8" standalone="yes"?>\n';
    const part = (path: string, content: string) => ({
      path,
      bytes: new TextEncoder().encode(head + content),
    });
    const kind = (name: string) => `application/vnd.openxmlformats-officedocument.spreadsheetml.${name}+xml`;
    const fillXml = fills.map(
      (f) =>
        `<fill><patternFill patternType="solid"><fgColor rgb="FF${f.slice(1).toUpperCase()}"/><bgColor indexed="64"/></patternFill></fill>`,
    );
    return pack([
      part(
        '[Content_Types].xml',
        `<Types xmlns="${packages}/content-types"><Default Extension="rels" ContentType="application/vnd.openxmlformats-package.relationships+xml"/><Default Extension="xml" ContentType="application/xml"/><Override PartName="/xl/workbook.xml" ContentType="${kind('sheet.main')}"/><Override PartName="/xl/styles.xml" ContentType="${kind('styles')}"/>${sheets.map((_, i) => `<Override PartName="/xl/worksheets/sheet${i + 1}.xml" ContentType="${kind('worksheet')}"/>`).join('')}</Types>`,
      ),
      part(
        '_rels/.rels',
        `<Relationships xmlns="${packages}/relationships"><Relationship Id="rId1" Type="${rel}/officeDocument" Target="xl/workbook.xml"/></Relationships>`,
      ),
      part(
        'xl/workbook.xml',
        `<workbook xmlns="${main}" xmlns:r="${rel}"><sheets>${sheets.map((s, i) => `<sheet name="${escapeXml(s.name)}" sheetId="${i + 1}" r:id="rId${i + 1}"/>`).join('')}</sheets></workbook>`,
      ),
      part(
        'xl/_rels/workbook.xml.rels',
        `<Relationships xmlns="${packages}/relationships">${sheets.map((_, i) => `<Relationship Id="rId${i + 1}" Type="${rel}/worksheet" Target="worksheets/sheet${i + 1}.xml"/>`).join('')}<Relationship Id="rId${sheets.length + 1}" Type="${rel}/styles" Target="styles.xml"/></Relationships>`,
      ),
      part(
        'xl/styles.xml',
        `<styleSheet xmlns="${main}"><fonts count="1"><font><sz val="11"/></font></fonts><fills count="${fills.length + 2}"><fill><patternFill patternType="none"/></fill><fill><patternFill patternType="gray125"/></fill>${fillXml.join('')}</fills><borders count="1"><border><left/><right/><top/><bottom/><diagonal/></border></borders><cellStyleXfs count="1"><xf numFmtId="0" fontId="0" fillId="0" borderId="0"/></cellStyleXfs><cellXfs count="${fills.length + 1}"><xf numFmtId="0" fontId="0" fillId="0" borderId="0" xfId="0"/>${fills.map((_, i) => `<xf numFmtId="0" fontId="0" fillId="${i + 2}" borderId="0" xfId="0" applyFill="1"/>`).join('')}</cellXfs></styleSheet>`,
      ),
      ...sheets.map((s, i) =>
        part(`xl/worksheets/sheet${i + 1}.xml`, `<worksheet xmlns="${main}">${s.xml}</worksheet>`),
      ),
    ]);
  },
};
