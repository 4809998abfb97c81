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
  xyz50ToLab,
} from '../../color/index.ts';
import { isLoose, KINDS, type Kind, type Library, type Swatch } from '../../swatch/model.ts';
import { FormatError } from '../../text/error.ts';
import { short, sniff, writeText } from '../../text/text.ts';
import { type Draft, textDecoder } from '../draft.ts';
import type { PlainFormat } from '../format.ts';

/** The words of a list, as they stand between bars. */
const words = (text: string) => text.split('|').map((w) => w.trim());

/** The columns of words, in the order they are written, with the headings that are understood for each, in five languages. */
const WORDS = {
  group: words(
    'group|palette|folder|category|family|collection|gruppe|ordner|kategorie|sammlung|groupe|dossier|catégorie|famille|grupo|paleta|carpeta|categoría|familia|gruppo|tavolozza|cartella|categoria|famiglia',
  ),
  name: words(
    'name|swatch|swatch name|colour name|color name|sample_name|title|label|farbname|name der farbe|bezeichnung|titel|nom|nom de la couleur|nom de couleur|titre|nombre|nombre del color|nombre de color|título|nome|nome del colore|nome colore|titolo',
  ),
  code: words(
    'code|number|no|no.|id|reference|ref|colour code|color code|nummer|nr|nr.|farbnummer|kennung|referenz|numéro|n°|référence|réf|réf.|código|número|referencia|codice|numero|riferimento',
  ),
  kind: words(
    'kind|type|colour type|color type|art|typ|farbart|type de couleur|tipo|tipo de color|tipo di colore',
  ),
  role: words('role|use|usage|rolle|verwendung|einsatz|rôle|utilisation|función|uso|ruolo|utilizzo'),
  note: words(
    'note|notes|comment|remark|description|notiz|anmerkung|bemerkung|kommentar|beschreibung|remarque|commentaire|nota|comentario|observaciones|descripción|commento|osservazioni|descrizione',
  ),
  hex: words(
    'hex|hex code|hex value|hexcode|hex colour|hex color|rgb hex|srgb hex|hex rgb|hex srgb|html|html code|web|web colour|web color|value|#|hexwert|hex-wert|hex-code|farbcode|farbwert|webfarbe|code hex|valeur hex|code hexadécimal|hexadécimal|código hex|valor hex|hexadecimal|código hexadecimal|codice hex|valore hex|esadecimale|codice esadecimale',
  ),
  alpha: words('alpha %|alpha|opacity|opacity %|a|deckkraft|opacité|opacidad|opacità'),
} as const;
type Word = keyof typeof WORDS;
/** Headings of a column that holds codes in some tables and names in others. */
const COLOR_HEADINGS = ['colour', 'color', 'farbe', 'couleur', 'colore'];

/** A column of numbers: its space, heading, other headings, and what 1 inside is outside. */
interface NumberColumn {
  space: Space;
  heading: string;
  also: string[];
  factor: number;
}
const channels = (space: Space, ...list: [heading: string, also: string, factor: number][]): NumberColumn[] =>
  list.map(([heading, also, factor]) => ({ space, heading, also: words(also), factor }));
/** The columns of numbers. Words that fit both HSB and HSL give a warning; see {@link AMBIGUOUS}. */
const NUMBERS: NumberColumn[] = [
  ...channels(
    'rgb',
    ['Red', 'r|rgb_r|srgb_r|rot|rouge|rojo|rosso', 255],
    ['Green', 'g|v|rgb_g|srgb_g|grün|gruen|vert|verde', 255],
    ['Blue', 'b|rgb_b|srgb_b|blau|bleu|azul|blu', 255],
  ),
  ...channels(
    'cmyk',
    ['Cyan %', 'c|cyan|cmyk_c|cian|ciano', 100],
    ['Magenta %', 'm|magenta|cmyk_m', 100],
    ['Yellow %', 'y|j|yellow|cmyk_y|gelb|jaune|amarillo|giallo', 100],
    ['Black %', 'k|n|black|cmyk_k|key|schwarz|noir|negro|nero', 100],
  ),
  ...channels(
    'lab',
    ['L*', 'l|lab_l|cie l|cie l*', 1],
    ['a*', 'a|lab_a|cie a|cie a*', 1],
    ['b*', 'b|lab_b|cie b|cie b*', 1],
  ),
  ...channels(
    'hsb',
    ['Hue °', 'h|t|hue|hsb_h|hsv_h|farbton|teinte|tono|matiz|tonalità|tinta', 1],
    ['Saturation %', 's|saturation|hsb_s|hsv_s|sättigung|saturación|saturazione', 100],
    ['Brightness %', 'b|brightness|v|value|hsb_b|hsv_v|helligkeit|hellwert|valeur|brillo|valor|valore', 100],
  ),
  ...channels(
    'hsl',
    ['HSL hue °', 'h|t|hue|hsl_h|farbton|teinte|tono|matiz|tonalità|tinta', 1],
    ['HSL saturation %', 's|saturation|hsl_s|sättigung|saturación|saturazione', 100],
    ['Lightness %', 'l|lightness|luminance|hsl_l|luminosité|luminosidad|luminosità', 100],
  ),
  ...channels(
    'lch',
    ['LCh L*', 'l|l*|lightness|lch_l|cie l|cie l*|helligkeit|luminosité|luminosidad|luminosità', 1],
    ['C*', 'c|c*ab|chroma|lch_c|cie c|cie c*|buntheit|croma|cromaticità', 1],
    ['h °', 'h|h*|hab|hue|lch_h|cie h|farbton|teinte|tono|tonalità', 1],
  ),
  ...channels(
    'oklch',
    ['OKLCH L', 'oklch_l|ok l|oklch lightness', 1],
    ['OKLCH C', 'oklch_c|ok c|oklch chroma', 1],
    ['OKLCH h', 'oklch_h|ok h|oklch hue', 1],
  ),
  ...channels('oklab', ['OKLab L', 'oklab_l', 1], ['OKLab a', 'oklab_a', 1], ['OKLab b', 'oklab_b', 1]),
  { space: 'gray', heading: 'Gray %', also: words('gray|grey|grau|grauwert|gris|grigio'), factor: 100 },
];
const SPACES_BY_WEIGHT: Space[] = ['lab', 'oklch', 'oklab', 'lch', 'cmyk', 'hsb', 'hsl', 'gray', 'rgb'];
/** Headings that mean the one or the other in their languages. */
const AMBIGUOUS = new Set(words('helligkeit|luminosité|luminosidad|luminosità'));
/** What a single cell may be headed that holds all numbers of a colour, such as `255, 0, 0`. */
const WHOLE: Record<string, Space> = {
  ...Object.fromEntries(words('rgb|srgb|rvb').map((w) => [w, 'rgb' as const])),
  ...Object.fromEntries(words('cmyk|cmjn').map((w) => [w, 'cmyk' as const])),
  ...Object.fromEntries(words('lab|l*a*b*|cie lab|cielab').map((w) => [w, 'lab' as const])),
  ...Object.fromEntries(words('lch|l*c*h|l*c*h°|cie lch|cielch').map((w) => [w, 'lch' as const])),
  ...Object.fromEntries(words('hsb|hsv|tsv').map((w) => [w, 'hsb' as const])),
  ...Object.fromEntries(words('hsl|tsl').map((w) => [w, 'hsl' as const])),
  oklch: 'oklch',
  oklab: 'oklab',
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
  /** Columns of X, Y and Z, where nothing else is a colour: they could be places. */
  xyz?: number[];
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
  const xyz = ['x', 'y', 'z'].map((letter) =>
    cells.findIndex((c) => c === letter || c === `cie ${letter}` || c === `xyz_${letter}`),
  );
  const alone = claimed.size === 0 && Object.keys(whole).length === 0 && words.hex === undefined;
  if (alone && xyz.every((i) => i >= 0)) return { words, numbers, whole, xyz };
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
const APOSTROPHE = 39;
export const safe = (text: string) => {
  // line breaks may stand in a quoted cell; other control characters make a file that is not text
  const plain = text.replace(/[\0-\x08\x0b\x0c\x0e-\x1f]+/g, ' ');
  return FORMULA.test(plain) || /^'+[=+\-@\t\r]/.test(plain) ? `'${plain}` : plain;
};
const withoutMark = (cell: string) =>
  cell.charCodeAt(0) === APOSTROPHE && /^'+[=+\-@\t\r]/.test(cell) ? cell.slice(1) : cell;

/** More than any table has whose rows are colours. */
const MAX_ROWS = 300_000;
const MAX_COLUMNS = 5000;

export interface Row {
  cells: string[];
  /** From 1, empty rows counted. */
  number: number;
}

/** The rows that are not empty, and why there are no more of them: too many, or one too wide. */
export function readRows(given: string): { rows: Row[]; trouble: string } {
  // a line for spreadsheets that says what stands between the cells
  const [said, separator] = /^sep=(.)(?:\r\n|\r|\n)/i.exec(given) ?? [];
  const text = said ? given.slice(said.length) : given;
  const rows: Row[] = [];
  let number = 0;
  let trouble = '';
  Papa.parse<string[]>(text, {
    delimiter: separator ?? delimiterOf(text.slice(0, 1 << 16)),
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

/**
 * Fills a draft from the rows of a table. @returns whether a column of it holds colors
 * @param unsafe takes the mark off that keeps a cell from being run
 * @param group what swatches are in where the table has no groups; none of their own when not given
 * @param place what rows are called in messages
 * @param isFirst whether no other table came before
 */
export function fillFromRows(
  rows: readonly Row[],
  draft: Draft,
  {
    unsafe = (cell: string) => cell,
    group,
    place = 'row',
    isFirst = true,
  }: { unsafe?: (cell: string) => string; group?: string; place?: string; isFirst?: boolean } = {},
): boolean {
  const headings = rows.length > 0 ? readHeadings(rows[0].cells) : null;
  const found = headings ?? (rows.length > 0 ? guessColumns(rows[0].cells) : null);
  if (!found) return false;
  // the same for all rows
  const inTable = SPACES_BY_WEIGHT.filter(
    (space) => found.numbers[space] !== undefined || found.whole[space] !== undefined,
  );
  const columns = { ...found, inTable };
  const list = headings ? rows.slice(1) : [...rows];
  const { group: at } = columns.words;
  const groups = list.map((r) => (at === undefined ? (group ?? '') : unsafe(r.cells[at] ?? '')));
  const runs = groups.filter((g, i) => i === 0 || g !== groups[i - 1]).length;
  // a table sorted by something else than its groups has them in pieces, which belong together
  const scattered = runs > 2 * new Set(groups).size;
  const scales = scalesOf(list, columns, headings ? rows[0].cells : [], draft);
  // what is in no group stands before all groups, and later only in one without a name
  let last = isFirst ? '' : null;
  list.forEach(({ cells, number }, i) => {
    const own = groups[i];
    if (scattered) draft.into(own);
    else if (own !== last) draft.enter(own);
    last = own;
    draft.attempt(() => readRow(cells.map(unsafe), `${place} ${number}`, columns, scales, draft));
  });
  if (scattered) draft.warn('The rows of a group do not stand together; they were brought together.');
  return true;
}

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
    if (!fillFromRows(rows, draft, { unsafe }))
      throw new FormatError(
        'no column holds colours. Give the table a first row of headings such as Name, Hex or Red, Green, Blue.',
      );
  }),

  encode: (library, { condition }) => writeText(`\uFEFF${table(library, condition)}\r\n`),
};

/** What 1 inside is outside, in this table. */
interface Scales {
  rgb: number;
  percent: number;
  /** Of saturation and brightness. */
  hsb: number;
  /** Of saturation and lightness. */
  hsl: number;
  /** Of the lightness of OKLab and OKLCh. */
  ok: number;
  xyz: number;
  alpha: number;
}

/**
 * The scales the numbers of a table are on, by all of them: RGB up to 255, or up to 1 or 100 where none is more and some are broken;
 * opacity in percent, or up to 1 or 255.
 */
function scalesOf(
  list: Row[],
  { words, numbers, whole, xyz }: Columns,
  headings: string[],
  draft: Draft,
): Scales {
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
  if (rgbScale === 255 && most(rgb) === 100 && words.hex === undefined)
    draft.warn(
      'Its RGB goes up to 100, which may be percent; it was read as parts of 255. Head the columns “R %” if it is.',
    );
  for (const at of [numbers.hsb?.[2], numbers.hsl?.[2]])
    if (at !== undefined && AMBIGUOUS.has(plainHeading(headings[at] ?? '')))
      draft.warn(
        `“${headings[at]}” may be of HSB or of HSL; it was read as ${at === numbers.hsb?.[2] ? 'HSB' : 'HSL'}.`,
      );
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
  const hsl = partScale('hsl', 'saturation and lightness go', 1);
  const ok = most([column(numbers.oklch?.[0]), column(numbers.oklab?.[0])].flat()) > 1 ? 100 : 1;
  const measured = (xyz ?? []).flatMap(column);
  const xyzScale = most(measured) > 2 ? 100 : 1;
  if (xyz) draft.warn('Its X, Y and Z were read for D50 and the 2° observer.');
  const alphas = column(words.alpha);
  const alpha = inPercent(words.alpha) ? 100 : most(alphas) > 100 ? 255 : most(alphas) <= 1 ? 1 : 100;
  if (alpha === 255) draft.warn('Its opacity goes up to 255, and was read so.');
  return { rgb: rgbScale, percent, hsb, hsl, ok, xyz: xyzScale, alpha };
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
  /\b(?:technical|technisch|technique|técnico|tecnico)/i.test(word)
    ? 'technical'
    : /\bspots?\b|sonderfarbe|schmuckfarbe|tons? direct|tinta (?:plana|piatta|directa)/i.test(word)
      ? 'spot'
      : 'process';

function readRow(
  row: string[],
  place: string,
  columns: Columns & { inTable: readonly Space[] },
  scales: Scales,
  draft: Draft,
): void {
  const { words } = columns;
  const word = (w: Word) => {
    const at = words[w];
    return at === undefined ? '' : (row[at] ?? '');
  };
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
const BEYOND: Partial<Record<Space, number>> = { rgb: 4, lab: 1, lch: 1 };

/** The first colour is the row's own, as a table begins with what was authored; the others are the same in other spaces. */
function readColors(
  row: string[],
  place: string,
  hex: string,
  { numbers, whole, words, xyz, inTable }: Columns & { inTable: readonly Space[] },
  scales: Scales,
): { colors: Color[]; alpha?: number } {
  const found: { at: number; color: Color; alpha?: number }[] = [];
  for (const space of inTable) {
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
      if (i > 0 && (spaces[space].measured || space.startsWith('ok'))) return false;
      const beyond = (BEYOND[space] ?? 0) + 0.01 * (max - min);
      return v < min - beyond || v > max + beyond;
    });
    if (off >= 0 || !components.every(Number.isFinite))
      throw new FormatError(
        `${place}, column ${(columns?.[Math.max(0, off)] ?? at) + 1}: ${values[Math.max(0, off)]} is out of range for ${spaces[space].name}.`,
      );
    found.push({ at, color: { space, components } });
  }
  if (xyz) {
    const read = xyz.map((i) => readNumber(row[i] ?? ''));
    const bad = read.indexOf(null);
    if (bad >= 0)
      throw new FormatError(
        `${place}, column ${xyz[bad]! + 1}: “${(row[xyz[bad]!] ?? '').slice(0, 40)}” is not a number. Correct it.`,
      );
    const [x = 0, y = 0, z = 0] = (read as number[]).map((v) => v / scales.xyz);
    found.push({ at: xyz[0]!, color: { space: 'lab', components: xyz50ToLab([x, y, z]) } });
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
      : (space === 'hsb' || space === 'hsl') && i > 0
        ? scales[space]
        : (space === 'oklch' || space === 'oklab') && i === 0
          ? scales.ok
          : NUMBERS.filter((n) => n.space === space)[i]!.factor;

/** The table: words that any swatch has, the hex of each, and numbers in the spaces that need more than hex. */
function table(library: Library, condition: Condition): string {
  const { headings, rows, words } = cellsOf(library, condition);
  return Papa.unparse([headings, ...rows.map((cells) => cells.map((c, i) => (i < words ? safe(c) : c)))], {
    newline: '\r\n',
  });
}

/** The headings and cells of a table: `words` columns of words come first, then columns of numbers. */
export function cellsOf(
  library: Library,
  condition: Condition,
): { headings: string[]; rows: string[][]; words: number; hex: number } {
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
    ...words.map((w) => cells[w](swatch, group)),
    ...numbers.map(({ space, factor }, i) => {
      if (space !== swatch.color.space || exact(swatch)) return '';
      const channel = i - numbers.findIndex((n) => n.space === space);
      // twelve decimals undo the noise that the factor brings, and carry more than any source has
      return short(swatch.color.components[channel] * factor, 12);
    }),
  ]);
  return {
    headings: [...words.map(heading), ...numbers.map((n) => n.heading)],
    rows,
    words: words.length,
    hex: words.indexOf('hex'),
  };
}
