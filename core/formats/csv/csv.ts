import Papa from 'papaparse';
import {
  type Color,
  type Condition,
  carried,
  NotationError,
  parseColor,
  type Space,
  spaces,
  toHex,
  toRgb8,
} from '../../color/index.ts';
import { isLoose, KINDS, type Kind, type Library, type Swatch } from '../../swatch/model.ts';
import { type Draft, textDecoder } from '../draft.ts';
import { FormatError } from '../error.ts';
import type { PlainFormat } from '../format.ts';
import { short, sniff, writeText } from '../text.ts';

/** The columns of words, in the order they are written, with the headings that are understood for each. */
const WORDS = {
  group: ['group', 'palette', 'folder', 'category'],
  name: ['name', 'swatch', 'swatch name', 'colour name', 'color name', 'sample_name', 'title'],
  code: ['code', 'number', 'no', 'no.', 'id', 'reference', 'ref'],
  kind: ['kind', 'type'],
  role: ['role', 'use', 'usage'],
  note: ['note', 'notes', 'comment', 'remark', 'description'],
  hex: ['hex', 'hex code', 'html', 'web', 'colour', 'color', 'value', '#'],
  alpha: ['alpha %', 'alpha', 'opacity', 'opacity %'],
} as const;
type Word = keyof typeof WORDS;

/** The columns of numbers: their space, heading, the usual short headings, and what 1 inside is outside. */
const NUMBERS: { space: Space; heading: string; also: string[]; factor: number }[] = [
  ...['Red', 'Green', 'Blue'].map((h) => ({
    space: 'rgb' as const,
    heading: h,
    also: [h[0].toLowerCase()],
    factor: 255,
  })),
  ...['Cyan %', 'Magenta %', 'Yellow %', 'Black %'].map((h, i) => ({
    space: 'cmyk' as const,
    heading: h,
    also: ['cmyk'[i], h.split(' ')[0].toLowerCase(), ...(i === 3 ? ['key'] : [])],
    factor: 100,
  })),
  ...['L*', 'a*', 'b*'].map((h, i) => ({
    space: 'lab' as const,
    heading: h,
    also: ['lab'[i], `lab_${'lab'[i]}`, `cie ${'lab'[i]}`, `cie ${h}`],
    factor: 1,
  })),
  ...['Hue °', 'Saturation %', 'Brightness %'].map((h, i) => ({
    space: 'hsb' as const,
    heading: h,
    also: ['hsb'[i], h.split(' ')[0].toLowerCase()],
    factor: i === 0 ? 1 : 100,
  })),
  { space: 'gray', heading: 'Gray %', also: ['gray', 'grey', 'grey %'], factor: 100 },
];
const SPACES_BY_WEIGHT: Space[] = ['lab', 'cmyk', 'hsb', 'gray', 'rgb'];

const plainHeading = (cell: string) => cell.trim().toLowerCase();

interface Columns {
  words: Partial<Record<Word, number>>;
  numbers: Partial<Record<Space, number[]>>;
}

/** Finds the columns by their headings; null when the row is no heading. */
function readHeadings(row: string[]): Columns | null {
  const cells = row.map(plainHeading);
  const words: Columns['words'] = {};
  for (const word of Object.keys(WORDS) as Word[]) {
    const at = WORDS[word].map((w) => cells.indexOf(w)).find((i) => i >= 0);
    if (at !== undefined) words[word] = at;
  }
  const numbers: Columns['numbers'] = {};
  for (const space of SPACES_BY_WEIGHT) {
    const wanted = NUMBERS.filter((n) => n.space === space);
    const long = wanted.map((n) => cells.indexOf(n.heading.toLowerCase()));
    if (long.every((i) => i >= 0)) numbers[space] = long;
    else {
      // one-letter headings repeat across spaces (b is blue and b* and brightness): they must stand in a row
      const from = cells.findIndex((_, i) =>
        wanted.every((n, k) => cells[i + k] === n.heading.toLowerCase() || n.also.includes(cells[i + k])),
      );
      if (from >= 0) numbers[space] = wanted.map((_, k) => from + k);
      else {
        // in any order, where no other space claims the letters
        const loose = wanted.map((n) => cells.findIndex((c) => n.also.includes(c)));
        const claimed = Object.values(numbers).flat();
        if (loose.every((i) => i >= 0 && !claimed.includes(i)) && new Set(loose).size === loose.length)
          numbers[space] = loose;
      }
    }
  }
  const known = Object.keys(numbers).length > 0 || words.hex !== undefined;
  return known && !row.some((c) => isHex(c)) ? { words, numbers } : null;
}

const isHex = (cell: string) =>
  cell.length < 100 && /^\s*#?[0-9a-f]{6}\s*$/i.test(cell) && !/^\s*\d{1,6}\s*$/.test(cell);

const LONGEST_NUMBER = 1000;

/** A number with a decimal point or comma, and a unit behind it if need be. */
function readNumber(cell: string): number | null {
  if (cell.length > LONGEST_NUMBER) return null;
  const text = cell.trim().replace(/[%°]$/, '').trimEnd();
  if (!/^[-+−]?(\d+([.,]\d*)?|[.,]\d+)(e[-+]?\d+)?$/i.test(text)) return null;
  return Number(text.replace(',', '.').replace('−', '-'));
}

/** A spreadsheet runs a cell that begins so as a formula; an apostrophe before it makes it text. */
const FORMULA = /^[=+\-@\t\r]/;
const safe = (text: string) => {
  // line breaks may stand in a quoted cell; other control characters make a file that is no text
  const plain = text.replace(/[\0-\x08\x0b\x0c\x0e-\x1f]+/g, ' ');
  return FORMULA.test(plain) || /^'+[=+\-@\t\r]/.test(plain) ? `'${plain}` : plain;
};
const unsafe = (cell: string) => (/^'+[=+\-@\t\r]/.test(cell) ? cell.slice(1) : cell);

/** More than any table has whose rows are colours. */
const MOST_ROWS = 300_000;
const MOST_COLUMNS = 5000;

interface Row {
  cells: string[];
  /** From 1, empty rows counted. */
  number: number;
}

/** The rows that are not empty, and why there are no more of them: too many, or one too wide. */
function readRows(text: string): { rows: Row[]; trouble: string } {
  const rows: Row[] = [];
  let number = 0;
  let trouble = '';
  Papa.parse<string[]>(text, {
    delimiter: delimiterOf(text.slice(0, 1 << 16)),
    skipEmptyLines: false,
    step({ data: cells }, parser) {
      number++;
      if (number > MOST_ROWS) trouble = `it has more than ${MOST_ROWS.toLocaleString('en')} rows; divide it.`;
      else if (cells.length > MOST_COLUMNS)
        trouble = `row ${number} has ${cells.length} columns; no table of colours has so many.`;
      else if (cells.some((c) => c.trim() !== '')) rows.push({ cells, number });
      if (trouble) parser.abort();
    },
  });
  return { rows, trouble };
}

/** The delimiter that the first lines have most, and evenly; commas in numbers are no delimiters. */
function delimiterOf(text: string): string {
  const lines = text.split(/\r\n|\n|\r/, 12).filter((l) => l.trim() !== '');
  const score = (d: string) => {
    const counts = lines.map((l) => l.replace(/"[^"]*"/g, '').split(d).length - 1);
    return counts[0] > 0 ? Math.min(...counts) * 100 + counts[0] : 0;
  };
  return ['\t', ';', ',', '|'].reduce((best, d) => (score(d) > score(best) ? d : best), '\t');
}

/** Columns of a table without headings: the first that holds codes, or three of numbers; names beside. */
function guessColumns(row: string[]): Columns | null {
  const text = (i: number) => i >= 0 && row[i].trim() !== '' && readNumber(row[i]) === null;
  const hex = row.findIndex(isHex);
  if (hex >= 0) {
    const name = row.findIndex((_, i) => i !== hex && text(i));
    return { words: { hex, ...(name >= 0 ? { name } : {}) }, numbers: {} };
  }
  const first = row.findIndex((_, i) => [0, 1, 2].every((k) => inByte(row[i + k])));
  if (first < 0) return null;
  const name = row.findIndex((_, i) => (i < first || i > first + 2) && text(i));
  return { words: name >= 0 ? { name } : {}, numbers: { rgb: [first, first + 1, first + 2] } };
}
const inByte = (cell = '') => /^\s*\d{1,3}\s*$/.test(cell) && Number(cell) <= 255;

export const csv: PlainFormat = {
  id: 'csv',
  name: 'CSV',
  about: 'Table for spreadsheets and databases. Keeps groups, names, codes, roles, notes and numbers.',
  endings: ['csv', 'tsv', 'txt'],
  mime: 'text/csv',
  traits: {
    read: true,
    write: true,
    names: true,
    groups: true,
    kinds: [...KINDS],
    spaces: ['rgb', 'hsb', 'cmyk', 'lab', 'gray'],
    bits: 64,
  },

  recognise(bytes) {
    const text = sniff(bytes, 8192);
    if (text === null) return 0;
    const [first] = readRows(text.replace(/^\uFEFF/, '')).rows;
    if (!first || first.cells.length < 2) return 0;
    if (readHeadings(first.cells)) return 0.82;
    const columns = guessColumns(first.cells);
    // a list of bare codes is a hex list; a table has something beside them
    return columns && (columns.words.name !== undefined || columns.numbers.rgb) ? 0.5 : 0;
  },

  decode: textDecoder((text, draft) => {
    const { rows, trouble } = readRows(text);
    if (trouble) throw new FormatError(trouble);
    const headings = rows.length > 0 ? readHeadings(rows[0].cells) : null;
    const columns = headings ?? (rows.length > 0 ? guessColumns(rows[0].cells) : null);
    if (!columns)
      throw new FormatError(
        'no column holds colours. Give the table a first row of headings such as Name, Hex or Red, Green, Blue.',
      );
    const list = headings ? rows.slice(1) : rows;
    const groups = list.map((r) => unsafe(r.cells[columns.words.group ?? -1] ?? ''));
    const runs = groups.filter((g, i) => i === 0 || g !== groups[i - 1]).length;
    // a table sorted by something else than its groups has them in pieces, which belong together
    const scattered = runs > 2 * new Set(groups).size;
    let last = '';
    list.forEach(({ cells, number }, i) => {
      const group = groups[i];
      if (scattered) draft.into(group);
      else if (group !== last) draft.enter(group);
      last = group;
      readRow(cells, `row ${number}`, columns, draft);
    });
    if (scattered) draft.warn('The rows of a group do not stand together; they were brought together.');
  }),

  encode: (library, { condition }) => writeText(`\uFEFF${table(library, condition)}\r\n`),
};

function readRow(row: string[], place: string, { words, numbers }: Columns, draft: Draft): void {
  const word = (w: Word) => unsafe(row[words[w] ?? -1] ?? '');
  const kind = word('kind').trim().toLowerCase();
  const alpha = readNumber(word('alpha'));
  draft.add({
    name: word('name'),
    kind: KINDS.find((k) => k === kind) ?? 'process',
    color: readColor(row, place, word('hex'), numbers),
    ...(word('code') && { code: word('code') }),
    ...(word('role') && { role: word('role') }),
    ...(word('note') && { note: word('note') }),
    ...(alpha !== null && alpha < 100 ? { alpha: Math.max(0, alpha / 100) } : {}),
  });
}

function readColor(row: string[], place: string, hex: string, numbers: Columns['numbers']): Color {
  for (const space of SPACES_BY_WEIGHT) {
    const columns = numbers[space];
    const cells = columns?.map((i) => row[i] ?? '');
    if (!columns || !cells || cells.every((c) => c.trim() === '')) continue;
    const values = cells.map(readNumber);
    const bad = values.indexOf(null);
    if (bad >= 0)
      throw new FormatError(
        `${place}, column ${columns[bad] + 1}: “${cells[bad].slice(0, 40)}” is no number. Mend it, or empty the ${spaces[space].name} cells.`,
      );
    const factors = NUMBERS.filter((n) => n.space === space).map((n) => n.factor);
    const components = values.map((v, i) => (v as number) / factors[i]);
    const off = components.findIndex((v, i) => {
      const { min, max } = spaces[space].channels[i];
      // sRGB may go beyond for colours a wider screen can show
      if (space === 'rgb') return Math.abs(v) > 5;
      // a* and b* have no ends of their own
      const open = space === 'lab' && i > 0 ? 1000 : 0;
      return v < min - open - 1e-6 || v > max + open + 1;
    });
    if (off >= 0 || !components.every(Number.isFinite))
      throw new FormatError(
        `${place}, column ${columns[Math.max(0, off)] + 1}: ${cells[Math.max(0, off)]} is out of range for ${spaces[space].name}.`,
      );
    return { space, components };
  }
  try {
    return parseColor(hex);
  } catch (error) {
    if (!(error instanceof NotationError)) throw error;
    throw new FormatError(
      hex.trim() === ''
        ? `${place} has no colour. Fill it in or take the row out.`
        : `${place}: “${hex.slice(0, 40)}” is no colour. Mend it or take the row out.`,
    );
  }
}

/** The table: words that any swatch has, the hex of each, and numbers in the spaces that need more than hex. */
function table(library: Library, condition: Condition): string {
  const all = library.groups.flatMap((group) =>
    group.swatches.map((swatch) => ({
      swatch: { ...swatch, color: carried(swatch.color, csv.traits.spaces, condition) },
      group: isLoose(library, group) ? '' : group.name,
    })),
  );
  const cells: Record<Word, (s: Swatch, group: string) => string> = {
    group: (_, group) => group,
    name: (s) => s.name,
    code: (s) => s.code ?? '',
    kind: (s) => (s.kind === 'process' ? '' : (s.kind satisfies Kind)),
    role: (s) => s.role ?? '',
    note: (s) => s.note ?? '',
    hex: (s) => toHex(s.color, condition),
    alpha: (s) => (s.alpha === undefined || s.alpha === 1 ? '' : String(s.alpha * 100)),
  };
  const words = (Object.keys(WORDS) as Word[]).filter(
    (w) => w === 'name' || w === 'hex' || all.some(({ swatch, group }) => cells[w](swatch, group) !== ''),
  );
  const exact = ({ color }: Swatch) =>
    color.space === 'rgb' && toRgb8(color, condition).every((v, i) => v / 255 === color.components[i]);
  const used = new Set(all.filter(({ swatch }) => !exact(swatch)).map(({ swatch }) => swatch.color.space));
  const numbers = NUMBERS.filter((n) => used.has(n.space));
  const heading = (w: Word) => (w === 'alpha' ? 'Alpha %' : w[0].toUpperCase() + w.slice(1));
  const rows = all.map(({ swatch, group }) => [
    ...words.map((w) => safe(cells[w](swatch, group))),
    ...numbers.map(({ space, factor }, i) => {
      if (space !== swatch.color.space || exact(swatch)) return '';
      const channel = i - numbers.findIndex((n) => n.space === space);
      // twelve decimals undo the noise that the factor brings, and carry more than any source has
      return short(swatch.color.components[channel] * factor, 12);
    }),
  ]);
  return Papa.unparse([[...words.map(heading), ...numbers.map((n) => n.heading)], ...rows], {
    newline: '\r\n',
  });
}
