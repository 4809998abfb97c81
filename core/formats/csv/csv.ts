import Papa from 'papaparse';
import {
  type Color,
  type Condition,
  carried,
  fromCss,
  NotationError,
  parseColor,
  type Space,
  screenOnly,
  spaces,
  toHex,
  toRgb8,
} from '../../color/index.ts';
import { isLoose, KINDS, type Kind, type Library, type Swatch } from '../../swatch/model.ts';
import { FormatError } from '../../text/error.ts';
import { short, sniff, writeText } from '../../text/text.ts';
import { type Draft, textDecoder } from '../draft.ts';
import type { PlainFormat } from '../format.ts';

/** The columns of words, in the order they are written, with the headings that are understood for each. */
const WORDS = {
  group: ['group', 'palette', 'folder', 'category', 'family', 'collection'],
  name: ['name', 'swatch', 'swatch name', 'colour name', 'color name', 'sample_name', 'title', 'label'],
  code: ['code', 'number', 'no', 'no.', 'id', 'reference', 'ref', 'colour code', 'color code'],
  kind: ['kind', 'type', 'colour type', 'color type'],
  role: ['role', 'use', 'usage'],
  note: ['note', 'notes', 'comment', 'remark', 'description'],
  hex: [
    'hex',
    'hex code',
    'hex value',
    'hexcode',
    'hex colour',
    'hex color',
    'rgb hex',
    'html',
    'web',
    'value',
    '#',
  ],
  alpha: ['alpha %', 'alpha', 'opacity', 'opacity %', 'a'],
} as const;
type Word = keyof typeof WORDS;
/** Headings of a column that holds codes in some tables and names in others. */
const COLOR_HEADINGS = ['colour', 'color'];

/** The columns of numbers: their space, heading, the usual short headings, and what 1 inside is outside. */
const NUMBERS: { space: Space; heading: string; also: string[]; factor: number }[] = [
  ...['Red', 'Green', 'Blue'].map((h) => ({
    space: 'rgb' as const,
    heading: h,
    also: [h[0].toLowerCase(), `rgb_${h[0].toLowerCase()}`],
    factor: 255,
  })),
  ...['Cyan %', 'Magenta %', 'Yellow %', 'Black %'].map((h, i) => ({
    space: 'cmyk' as const,
    heading: h,
    also: ['cmyk'[i], h.split(' ')[0].toLowerCase(), `cmyk_${'cmyk'[i]}`, ...(i === 3 ? ['key'] : [])],
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
    also: ['hsb'[i], h.split(' ')[0].toLowerCase(), ...(i === 2 ? ['v', 'value'] : [])],
    factor: i === 0 ? 1 : 100,
  })),
  { space: 'gray', heading: 'Gray %', also: ['gray', 'grey'], factor: 100 },
];
const SPACES_BY_WEIGHT: Space[] = ['lab', 'cmyk', 'hsb', 'gray', 'rgb'];
/** What a single cell may be headed that holds all numbers of a colour, such as `255, 0, 0`. */
const WHOLE: Record<string, Space> = {
  rgb: 'rgb',
  cmyk: 'cmyk',
  lab: 'lab',
  'l*a*b*': 'lab',
  'cie lab': 'lab',
  cielab: 'lab',
  hsb: 'hsb',
  hsv: 'hsb',
};

const MAX_HEADING_CHARACTERS = 100;

/** A heading without the unit behind it: `C %`, `C (%)`, `Hue (°)`, `R [0-255]`. */
const plainHeading = (cell: string) =>
  (cell.length > MAX_HEADING_CHARACTERS ? '' : cell)
    .trim()
    .toLowerCase()
    .replace(/\s*(?:[([].{0,12}[)\]]|%|°)$/, '')
    .trim();

interface Columns {
  words: Partial<Record<Word, number>>;
  numbers: Partial<Record<Space, number[]>>;
  /** Columns that hold a whole colour each. */
  whole: Partial<Record<Space, number>>;
}

/** Finds the columns by their headings; null when the row is not a heading. */
function readHeadings(row: string[]): Columns | null {
  const cells = row.map(plainHeading);
  const words: Columns['words'] = {};
  const numbers: Columns['numbers'] = {};
  const whole: Columns['whole'] = {};
  cells.forEach((cell, i) => {
    const space = WHOLE[cell];
    if (space && whole[space] === undefined) whole[space] = i;
  });
  for (const space of SPACES_BY_WEIGHT) {
    const wanted = NUMBERS.filter((n) => n.space === space);
    const fits = (cell: string | undefined, n: (typeof wanted)[number]) =>
      cell !== undefined && (cell === plainHeading(n.heading) || n.also.includes(cell));
    const long = wanted.map((n) => cells.indexOf(plainHeading(n.heading)));
    if (long.every((i) => i >= 0)) numbers[space] = long;
    else {
      // one-letter headings repeat across spaces (b is blue and b* and brightness): they must stand in a row
      const from = cells.findIndex((_, i) => wanted.every((n, k) => fits(cells[i + k], n)));
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
  const claimed = new Set(Object.values(numbers).flat());
  for (const word of Object.keys(WORDS) as Word[]) {
    const at = WORDS[word]
      .map((w) => cells.findIndex((c, i) => !claimed.has(i) && c === plainHeading(w)))
      .find((i) => i >= 0);
    if (at !== undefined) words[word] = at;
  }
  // beside a column of codes, “Color” heads the names; alone it heads the codes
  const color = cells.findIndex((c) => COLOR_HEADINGS.includes(c));
  if (color >= 0) {
    const colored = words.hex !== undefined || claimed.size > 0 || Object.keys(whole).length > 0;
    if (!colored) words.hex = color;
    else words.name ??= color;
  }
  const known = claimed.size > 0 || Object.keys(whole).length > 0 || words.hex !== undefined;
  return known && !row.some((c) => isHex(c)) ? { words, numbers, whole } : null;
}

const isHex = (cell: string) =>
  cell.length < 100 &&
  (/^\s*(?:#|0x)?[0-9a-f]{6}(?:[0-9a-f]{2})?\s*$/i.test(cell) || /^\s*#[0-9a-f]{3,4}\s*$/i.test(cell)) &&
  !/^\s*\d{1,8}\s*$/.test(cell);

const MAX_NUMBER_CHARACTERS = 200;

/** A number with a decimal point or comma, and a unit behind it if need be. */
function readNumber(cell: string): number | null {
  if (cell.length > MAX_NUMBER_CHARACTERS) return null;
  const text = cell.trim().replace(/[%°]$/, '').trimEnd();
  if (!/^[-+−]?(\d+([.,]\d*)?|[.,]\d+)(e[-+]?\d+)?$/i.test(text)) return null;
  return Number(text.replace(',', '.').replace('−', '-'));
}

/** The numbers of a cell that holds several: `255, 0, 0`, `rgb(255 0 0)`, `10/20/30/0`, `C10 M20 Y30 K0`. */
function numbersIn(cell: string): number[] | null {
  if (cell.length > MAX_NUMBER_CHARACTERS) return null;
  const text = cell
    .trim()
    .replace(/^[a-z*]+\s*\((.*)\)$/i, '$1')
    .replace(/[%°]/g, ' ')
    .replace(/(^|[\s,;/])[a-z]\*?\s*[:=]?\s*(?=[-+−.\d])/gi, '$1');
  const parts = text.split(/\s*[;/|]\s*|\s*,\s+|\s+/).filter(Boolean);
  const list = parts.length === 1 ? text.split(',') : parts;
  const values = list.map(readNumber);
  return values.length > 1 && values.every((v) => v !== null) ? (values as number[]) : null;
}

/** A spreadsheet runs a cell that begins so as a formula; an apostrophe before it makes it text. */
const FORMULA = /^[=+\-@\t\r]/;
const safe = (text: string) => {
  // line breaks may stand in a quoted cell; other control characters make a file that is not text
  const plain = text.replace(/[\0-\x08\x0b\x0c\x0e-\x1f]+/g, ' ');
  return FORMULA.test(plain) || /^'+[=+\-@\t\r]/.test(plain) ? `'${plain}` : plain;
};
const withoutMark = (cell: string) => (/^'+[=+\-@\t\r]/.test(cell) ? cell.slice(1) : cell);

/** More than any table has whose rows are colours. */
const MAX_ROWS = 300_000;
const MAX_COLUMNS = 5000;

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
      if (number > MAX_ROWS) trouble = `it has more than ${MAX_ROWS.toLocaleString('en')} rows; divide it.`;
      else if (cells.length > MAX_COLUMNS)
        trouble = `row ${number} has ${cells.length} columns; no table of colours has that many.`;
      else if (cells.some((c) => c.trim() !== '')) rows.push({ cells, number });
      if (trouble) parser.abort();
    },
  });
  return { rows, trouble };
}

/** The delimiter that the first lines have most, and evenly; commas in numbers are not delimiters. */
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
    return { words: { hex, ...(name >= 0 ? { name } : {}) }, numbers: {}, whole: {} };
  }
  const first = row.findIndex((_, i) => [0, 1, 2].every((k) => inByte(row[i + k])));
  if (first < 0) return null;
  const name = row.findIndex((_, i) => (i < first || i > first + 2) && text(i));
  return {
    words: name >= 0 ? { name } : {},
    numbers: { rgb: [first, first + 1, first + 2] },
    whole: {},
  };
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

  ownWords: true,
  decode: textDecoder((text, draft, options) => {
    const unsafe = options?.asOthers ? (cell: string) => cell : withoutMark;
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
    const scales = scalesOf(list, columns, headings ? rows[0].cells : [], draft);
    let last = '';
    list.forEach(({ cells, number }, i) => {
      const group = groups[i];
      if (scattered) draft.into(group);
      else if (group !== last) draft.enter(group);
      last = group;
      draft.attempt(() => readRow(cells.map(unsafe), `row ${number}`, columns, scales, draft));
    });
    if (scattered) draft.warn('The rows of a group do not stand together; they were brought together.');
  }),

  encode: (library, { condition }) => writeText(`\uFEFF${table(library, condition)}\r\n`),
};

/** What 1 inside is outside, in this table. */
interface Scales {
  rgb: number;
  percent: number;
  /** Of saturation and brightness. */
  hsb: number;
  alpha: number;
}

/**
 * The scales the numbers of a table are on, by all of them: RGB up to 255, or up to 1 or 100 where none is more and some are broken;
 * opacity in percent, or up to 1 or 255.
 */
function scalesOf(list: Row[], { words, numbers, whole }: Columns, headings: string[], draft: Draft): Scales {
  const column = (at: number | undefined) =>
    at === undefined ? [] : list.flatMap(({ cells }) => readNumber(cells[at] ?? '') ?? []);
  const all = (space: Space) => [
    ...(numbers[space] ?? []).flatMap(column),
    ...(whole[space] === undefined
      ? []
      : list.flatMap(({ cells }) => numbersIn(cells[whole[space]!] ?? '') ?? [])),
  ];
  const most = (values: number[]) => values.reduce((a, b) => Math.max(a, b), 0);
  const broken = (values: number[]) => values.some((v) => v > 0 && v < 1 && !Number.isInteger(v));
  const inPercent = (at: number | undefined) =>
    at !== undefined &&
    ((headings[at] ?? '').includes('%') || list.some(({ cells }) => (cells[at] ?? '').trim().endsWith('%')));
  const rgb = all('rgb');
  const small = most(rgb) <= 1 && rgb.some((v) => v > 0) && !codesSay255(list, words.hex, numbers.rgb);
  const rgbScale = numbers.rgb?.some(inPercent) ? 100 : small ? 1 : 255;
  if (rgbScale === 1) draft.warn('Its RGB goes from 0 to 1, and was read so.');
  /** 100, unless nothing says percent and all of it lies from 0 to 1, somewhere between. */
  const partScale = (space: Space, what: string, from: number) => {
    const at = (numbers[space] ?? []).slice(from);
    const parts = at.length > 0 ? at.flatMap(column) : all(space);
    const one = !at.some(inPercent) && most(parts) <= 1 && broken(parts) && (from === 0 || at.length > 0);
    if (one) draft.warn(`Its ${what} from 0 to 1, and was read so.`);
    return one ? 1 : 100;
  };
  const percent = partScale('cmyk', 'ink goes', 0);
  const hsb = partScale('hsb', 'saturation and brightness go', 1);
  const alphas = column(words.alpha);
  const alpha = inPercent(words.alpha) ? 100 : most(alphas) > 100 ? 255 : most(alphas) <= 1 ? 1 : 100;
  if (alpha === 255) draft.warn('Its opacity goes up to 255, and was read so.');
  return { rgb: rgbScale, percent, hsb, alpha };
}

/** Whether the codes beside numbers of at most 1 say that these count to 255: dark colours rather than parts of 1. */
function codesSay255(list: Row[], hex: number | undefined, columns: number[] | undefined): boolean {
  let [plain, small] = [0, 0];
  for (const { cells } of list) {
    const code = hex === undefined || !columns ? null : fromCss((cells[hex] ?? '').trim());
    const values = columns?.map((at) => readNumber(cells[at] ?? ''));
    if (!code || !values?.every((v) => v !== null)) continue;
    values.forEach((v, i) => {
      const said = code.color.components[i] ?? 0;
      plain += Math.abs(said - v! / 255);
      small += Math.abs(said - v!);
    });
  }
  return plain < small;
}

/** The word of a column of kinds, in whatever words the table has them. */
const kindOf = (word: string): Kind =>
  /\btechnical\b/i.test(word) ? 'technical' : /\bspots?\b/i.test(word) ? 'spot' : 'process';

function readRow(row: string[], place: string, columns: Columns, scales: Scales, draft: Draft): void {
  const { words } = columns;
  const word = (w: Word) => row[words[w] ?? -1] ?? '';
  const { colors, alpha: within } = readColors(row, place, word('hex'), columns, scales);
  const [color, ...alternates] = colors;
  const given = readNumber(word('alpha'));
  const alpha = given === null ? within : Math.max(0, given / scales.alpha);
  draft.add({
    name: word('name'),
    kind: kindOf(word('kind')),
    color: color!,
    ...(alternates.length > 0 ? { alternates } : {}),
    ...(word('code') && { code: word('code') }),
    ...(word('role') && { role: word('role') }),
    ...(word('note') && { note: word('note') }),
    ...(alpha !== undefined && alpha < 1 ? { alpha } : {}),
  });
}

/** How far beyond the ends of a channel a number may lie that was rounded, or is of a wider screen than sRGB. */
const BEYOND: Partial<Record<Space, number>> = { rgb: 4, lab: 1 };

/** The first colour is the row's own, as a table begins with what was authored; the others are the same in other spaces. */
function readColors(
  row: string[],
  place: string,
  hex: string,
  { numbers, whole, words }: Columns,
  scales: Scales,
): { colors: Color[]; alpha?: number } {
  const found: { at: number; color: Color; alpha?: number }[] = [];
  for (const space of SPACES_BY_WEIGHT) {
    const columns = numbers[space];
    const cells = columns?.map((i) => row[i] ?? '');
    let values: number[] | null = null;
    let at = columns?.[0] ?? 0;
    if (columns && cells?.some((c) => c.trim() !== '')) {
      const read = cells.map(readNumber);
      const bad = read.indexOf(null);
      if (bad >= 0)
        throw new FormatError(
          `${place}, column ${columns[bad] + 1}: “${cells[bad].slice(0, 40)}” is not a number. Correct it, or empty the ${spaces[space].name} cells.`,
        );
      values = read as number[];
    } else if (whole[space] !== undefined && (row[whole[space]] ?? '').trim() !== '') {
      at = whole[space];
      const cell = row[at]!;
      values = numbersIn(cell);
      const wanted = spaces[space].channels.length;
      if (values?.length !== wanted) {
        // a code may stand where numbers are headed
        const code = colorIn(cell);
        if (!code)
          throw new FormatError(
            `${place}, column ${at + 1}: “${cell.slice(0, 40)}” are not the ${wanted} numbers of ${spaces[space].name}. Correct it, or empty the cell.`,
          );
        found.push({ at, ...code });
        continue;
      }
    }
    if (!values) continue;
    const components = values.map((v, i) => v / scaleOf(space, i, scales));
    const off = components.findIndex((v, i) => {
      const { min, max } = spaces[space].channels[i];
      // a* and b* have no ends of their own
      if (space === 'lab' && i > 0) return false;
      const beyond = (BEYOND[space] ?? 0) + 0.01 * (max - min);
      return v < min - beyond || v > max + beyond;
    });
    if (off >= 0 || !components.every(Number.isFinite))
      throw new FormatError(
        `${place}, column ${(columns?.[Math.max(0, off)] ?? at) + 1}: ${values[Math.max(0, off)]} is out of range for ${spaces[space].name}.`,
      );
    found.push({ at, color: { space, components } });
  }
  const code = hex.trim() === '' ? null : colorIn(hex);
  const codeAt = words.hex ?? -1;
  if (code) {
    // a code beside numbers that it was made of says the same with fewer digits
    const same = found.find(
      ({ color }) =>
        color.space === 'rgb' ||
        (color.space !== 'cmyk' && toHex(color, screenOnly) === toHex(code.color, screenOnly)),
    );
    if (!same) found.push({ at: codeAt, ...code });
    else if (code.alpha !== undefined) same.alpha = code.alpha;
  } else if (found.length === 0)
    throw new FormatError(
      hex.trim() === ''
        ? `${place} has no colour. Fill it in or take the row out.`
        : `${place}: “${hex.slice(0, 40)}” is not a colour. Correct it or delete the row.`,
    );
  const [rgb, rest] = [found.filter((f) => f.at === codeAt), found.filter((f) => f.at !== codeAt)];
  const own = [...rest.sort((a, b) => a.at - b.at), ...rgb].map((f) => f.color);
  const alpha = found.find((f) => f.alpha !== undefined)?.alpha;
  return { colors: own, ...(alpha === undefined ? {} : { alpha }) };
}

function colorIn(text: string): { color: Color; alpha?: number } | null {
  const plain = text.trim().replace(/^(?:0x)?(?=[0-9a-f]{8}$)/i, '#');
  const css = fromCss(plain);
  if (css) return css;
  try {
    return { color: parseColor(text) };
  } catch (error) {
    if (!(error instanceof NotationError)) throw error;
    return null;
  }
}

const scaleOf = (space: Space, i: number, scales: Scales) =>
  space === 'rgb'
    ? scales.rgb
    : space === 'cmyk'
      ? scales.percent
      : space === 'hsb' && i > 0
        ? scales.hsb
        : NUMBERS.filter((n) => n.space === space)[i]!.factor;

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
