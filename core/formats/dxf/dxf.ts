import { type Color, fromRgb8, screenOnly, toHex, toRgb8 } from '../../color/index.ts';
import { optionOf } from '../../options.ts';
import { decodeAs } from '../../text/encodings.ts';
import { FormatError } from '../../text/error.ts';
import { beginningOf, readText, short, uniquely, writeText } from '../../text/text.ts';
import { textDecoder } from '../draft.ts';
import type { PlainFormat } from '../format.ts';
import { chipsOf, columnsOption } from '../sheet.ts';
import { INDEXED, nearestIndexed } from './indexed.ts';

const BY_BLOCK = 0;
const BY_LAYER = 256;
const MAX_NAME_CHARACTERS = 255;

/** Kind, name, layer, colours: nothing else is looked at. */
const WANTED = new Set([0, 2, 8, 62, 420]);
/** Of a hatch with a gradient, each stop: its place, its indexed color, its true color. */
const STOPS = new Set([463, 63, 421]);
/** A layer that programs make for points that help to dimension. */
const HELPING = /^defpoints$/i;

type Pair = [code: number, value: string];

const RETURN = 13;
/** A whole number between blanks, as `Number` reads it, without making a text of it first; NaN where it is none. */
function wholeIn(text: string, from: number, to: number): number {
  let [value, sign, digits, blankAfter] = [0, 1, 0, false];
  for (let i = from; i < to; i++) {
    const c = text.charCodeAt(i);
    if (c >= 48 && c <= 57 && !blankAfter && digits < 9) {
      value = value * 10 + c - 48;
      digits++;
    } else if (c === 32 || c === 9 || c === RETURN) blankAfter = digits > 0 || sign < 0;
    else if (c === 45 && digits === 0 && sign > 0) sign = -1;
    else return Number(text.slice(from, to).trim() || Number.NaN);
  }
  return digits > 0 ? sign * value : Number.NaN;
}

/** The things of a file: each a group code 0 and those of the pairs that follow it that are asked for. */
function* thingsOf(text: string): Generator<Pair[]> {
  let thing: Pair[] = [];
  let line = 0;
  let at = 0;
  // line by line: millions of lines are not to be held all at once
  const next = () => {
    line++;
    const end = text.indexOf('\n', at);
    const to = end < 0 ? text.length : end;
    const part = text.slice(at, to > at && text.charCodeAt(to - 1) === RETURN ? to - 1 : to);
    at = end < 0 ? text.length + 1 : end + 1;
    return part;
  };
  const skip = () => {
    line++;
    at = text.indexOf('\n', at) + 1 || text.length + 1;
  };
  while (at < text.length) {
    const from = at;
    skip();
    const code = wholeIn(text, from, at - 1);
    if (!Number.isInteger(code))
      throw new FormatError(
        `line ${line} (“${text
          .slice(from, at - 1)
          .trim()
          .slice(
            0,
            40,
          )}”) should be a group code, a whole number. It is damaged; get it again from where it was made.`,
      );
    if (at > text.length) break;
    if (code === 0 && thing.length > 0) {
      yield thing;
      thing = [];
    }
    // of each the first counts
    if (STOPS.has(code) && thing[0]?.[1].trim() === 'HATCH') thing.push([code, next()]);
    else if (WANTED.has(code) && !thing.some((p) => p[0] === code)) thing.push([code, next()]);
    else skip();
  }
  if (thing.length > 0) yield thing;
}

/** The code pages of two-byte characters written as `\M+nXXXX`, by their number; from memory. */
const MULTIBYTE: Record<string, string> = { 1: 'ansi_932', 2: 'ansi_950', 3: 'ansi_949', 5: 'ansi_936' };
/** Characters beyond ASCII are written as `\U+XXXX`, which every version reads. */
const unescapeText = (text: string) =>
  !text.includes('\\')
    ? text
    : text
        .replace(/\\U\+([0-9a-f]{4})/gi, (_, hex) => String.fromCharCode(Number.parseInt(hex, 16)))
        .replace(
          /\\M\+([1235])([0-9a-f]{2})([0-9a-f]{2})/gi,
          (all, page, high, low) =>
            decodeAs(
              Uint8Array.from([high, low], (h) => Number.parseInt(h, 16)),
              MULTIBYTE[page]!,
            ) ?? all,
        );

/** So much of the header is looked through for the code page. */
const MAX_HEADER_BYTES = 1 << 16;

/** The text in the code page its header names (`$DWGCODEPAGE`); from version AC1021 on it is UTF-8 whatever that says. */
function drawingText(bytes: Uint8Array): string | null {
  const plain = readText(bytes);
  if (plain === null || new TextEncoder().encode(plain).length === bytes.length) return plain;
  const head = String.fromCharCode(...bytes.subarray(0, MAX_HEADER_BYTES));
  const page = /\$DWGCODEPAGE\s+3\s+([\w.-]+)/i.exec(head)?.[1];
  return (page && decodeAs(bytes, page)) ?? plain;
}
const escapeText = (text: string) =>
  text.replace(/[^\x20-\x7e]/g, (c) => `\\U+${c.charCodeAt(0).toString(16).toUpperCase().padStart(4, '0')}`);

/** The colour of a layer or entity: true colour where there is one, else the indexed one. */
function colorOf(pairs: Pair[]): Color | null {
  const value = (code: number) => {
    const pair = pairs.find((p) => p[0] === code);
    return pair && Number(pair[1].trim());
  };
  const exact = value(420);
  if (exact !== undefined && Number.isInteger(exact) && exact >= 0)
    return fromRgb8((exact >> 16) & 255, (exact >> 8) & 255, exact & 255);
  // a layer that is switched off has its colour below zero
  const index = Math.abs(value(62) ?? BY_LAYER);
  if (index === BY_BLOCK || index === BY_LAYER || !INDEXED[index]) return null;
  return fromRgb8(...INDEXED[index]);
}

/** The stops of a hatch that is filled with a gradient. */
function stopsOf(pairs: Pair[]): { color: Color; at: number }[] {
  const stops: { color: Color | null; at: number }[] = [];
  for (const [code, text] of pairs) {
    const value = Number(text.trim());
    const last = stops.at(-1);
    if (code === 463) stops.push({ color: null, at: Math.min(1, Math.max(0, value)) });
    else if (last && code === 421)
      last.color = fromRgb8((value >> 16) & 255, (value >> 8) & 255, value & 255);
    else if (last && code === 63 && INDEXED[value] && value > 0) last.color ??= fromRgb8(...INDEXED[value]);
  }
  return stops.flatMap(({ color, at }) => (color ? [{ color, at }] : []));
}

export const dxf: PlainFormat = {
  id: 'dxf',
  name: 'DXF',
  about: 'Drawing of filled squares for CAD and cutting, one layer per swatch. Keeps names as layers, RGB.',
  endings: ['dxf'],
  mime: 'image/vnd.dxf',
  options: [
    { ...columnsOption },
    { id: 'chip', label: 'Chip', type: 'number', min: 1, max: 500, initial: 15, unit: 'mm' },
  ],
  traits: {
    read: true,
    write: true,
    names: true,
    groups: false,
    kinds: ['process'],
    spaces: ['rgb'],
    bits: 8,
  },

  recognise(bytes) {
    const text = beginningOf(bytes, 8192);
    if (text === null) return 0;
    // remarks may come first, each a code and a line of text
    const lines = text.split(/\r?\n/);
    let at = 0;
    while (lines[at]?.trim() === '999') at += 2;
    return lines[at]?.trim() === '0' && lines[at + 1]?.trim() === 'SECTION' ? 1 : 0;
  },

  decode: textDecoder((text, draft) => {
    const layers = new Map<string, string>();
    const seen = new Set<string>();
    let section = '';
    let ended = false;
    for (const thing of thingsOf(text)) {
      draft.step();
      const kind = thing[0][0] === 0 ? thing[0][1].trim() : '';
      const value = (code: number) => unescapeText(thing.find((p) => p[0] === code)?.[1] ?? '');
      if (kind === 'SECTION') section = value(2).trim();
      else if (kind === 'ENDSEC') section = '';
      else if (kind === 'EOF') ended = true;
      else if (section === 'TABLES' && kind === 'LAYER') {
        const color = colorOf(thing);
        const name = value(2);
        if (!color) continue;
        layers.set(name, toHex(color, screenOnly));
        // layer 0 is in every drawing, white because nobody coloured it
        const isOwn = name !== '0' && !HELPING.test(name);
        if (isOwn || toHex(color, screenOnly) !== '#ffffff') draft.add({ name, color });
      } else if (section === 'ENTITIES' || section === 'BLOCKS') {
        const layer = value(8);
        const name = layer === '0' ? '' : layer;
        const add = (color: Color) => {
          const hex = toHex(color, screenOnly);
          if (layers.get(layer) === hex || seen.has(`${layer}/${hex}`)) return;
          seen.add(`${layer}/${hex}`);
          draft.add({ name, color });
        };
        const color = colorOf(thing);
        const stops = kind === 'HATCH' ? stopsOf(thing) : [];
        if (stops.length > 1) {
          for (const stop of stops) add(stop.color);
          const key = `${layer} ${JSON.stringify(stops)}`;
          if (!seen.has(key)) draft.addGradient({ name, way: 'srgb', stops });
          seen.add(key);
        } else if (color) add(color);
      }
    }
    if (!ended)
      throw new FormatError(
        'its end (EOF) is missing. It is cut short; get it again from where it was made.',
      );
  }, drawingText),

  encode(library, { condition }, options) {
    const [columns, size] = ['columns', 'chip'].map((id) => Number(optionOf(dxf, options, id)));
    const { chips, rows } = chipsOf(library, columns);
    // layers that differ by capitals alone are one to CAD programs
    const unique = uniquely('_', (name) => name.toLowerCase());
    const layers = chips.map(({ swatch }) => ({
      name: unique(layerName(swatch.name)),
      index: nearestIndexed(toRgb8(swatch.color, condition)),
      rgb: toRgb8(swatch.color, condition).reduce((n, v) => n * 256 + v, 0),
    }));
    const out: (string | number)[] = [];
    let handle = 0x100;
    const put = (...pairs: (string | number)[]) => out.push(...pairs);
    const next = () => (handle++).toString(16).toUpperCase();
    const tableOf = (name: string, records: (() => void)[]) => {
      put(0, 'TABLE', 2, name, 5, next(), 100, 'AcDbSymbolTable', 70, records.length);
      for (const record of records) record();
      put(0, 'ENDTAB');
    };
    const record =
      (kind: string, marker: string, name: string, ...rest: (string | number)[]) =>
      () =>
        put(0, kind, 5, next(), 100, 'AcDbSymbolTableRecord', 100, marker, 2, name, 70, 0, ...rest);
    put(
      0,
      'SECTION',
      2,
      'HEADER',
      9,
      '$ACADVER',
      1,
      'AC1018',
      9,
      '$INSUNITS',
      70,
      4,
      9,
      '$HANDSEED',
      5,
      (0x1000 + chips.length * 8).toString(16).toUpperCase(),
      0,
      'ENDSEC',
    );
    put(0, 'SECTION', 2, 'TABLES');
    const line = (name: string) =>
      record('LTYPE', 'AcDbLinetypeTableRecord', name, 3, '', 72, 65, 73, 0, 40, 0);
    tableOf('VPORT', []);
    tableOf('LTYPE', ['ByBlock', 'ByLayer', 'Continuous'].map(line));
    tableOf('LAYER', [
      record('LAYER', 'AcDbLayerTableRecord', '0', 62, 7, 6, 'Continuous'),
      ...layers.map(({ name, index, rgb }) =>
        record('LAYER', 'AcDbLayerTableRecord', name, 62, index, 420, rgb, 6, 'Continuous'),
      ),
    ]);
    tableOf('STYLE', [
      record(
        'STYLE',
        'AcDbTextStyleTableRecord',
        'Standard',
        40,
        0,
        41,
        1,
        50,
        0,
        71,
        0,
        42,
        1,
        3,
        'txt',
        4,
        '',
      ),
    ]);
    tableOf('VIEW', []);
    tableOf('UCS', []);
    tableOf('APPID', [record('APPID', 'AcDbRegAppTableRecord', 'ACAD')]);
    tableOf('DIMSTYLE', []);
    const spaces = ['*Model_Space', '*Paper_Space'];
    const owners = spaces.map(() => next());
    put(0, 'TABLE', 2, 'BLOCK_RECORD', 5, next(), 100, 'AcDbSymbolTable', 70, 2);
    spaces.forEach((name, i) => {
      put(
        0,
        'BLOCK_RECORD',
        5,
        owners[i],
        100,
        'AcDbSymbolTableRecord',
        100,
        'AcDbBlockTableRecord',
        2,
        name,
      );
    });
    put(0, 'ENDTAB', 0, 'ENDSEC', 0, 'SECTION', 2, 'BLOCKS');
    spaces.forEach((name, i) => {
      put(
        0,
        'BLOCK',
        5,
        next(),
        330,
        owners[i],
        100,
        'AcDbEntity',
        8,
        '0',
        100,
        'AcDbBlockBegin',
        2,
        name,
        70,
        0,
        10,
        0,
        20,
        0,
        30,
        0,
        3,
        name,
        1,
        '',
      );
      put(0, 'ENDBLK', 5, next(), 330, owners[i], 100, 'AcDbEntity', 8, '0', 100, 'AcDbBlockEnd');
    });
    put(0, 'ENDSEC', 0, 'SECTION', 2, 'ENTITIES');
    chips.forEach(({ column, row }, i) => {
      const [left, right] = [column * size, (column + 1) * size].map((v) => short(v, 6));
      // y goes up in a drawing, so the first row is the highest
      const [top, bottom] = [(rows - row) * size, (rows - row - 1) * size].map((v) => short(v, 6));
      const { name, index, rgb } = layers[i];
      // the colour stands on the square too: not every program reads true colours of layers
      put(0, 'SOLID', 5, next(), 330, owners[0], 100, 'AcDbEntity', 8, name, 62, index, 420, rgb);
      put(100, 'AcDbTrace');
      // the corners go in a Z, not round
      put(
        10,
        left,
        20,
        top,
        30,
        0,
        11,
        right,
        21,
        top,
        31,
        0,
        12,
        left,
        22,
        bottom,
        32,
        0,
        13,
        right,
        23,
        bottom,
        33,
        0,
      );
    });
    put(
      0,
      'ENDSEC',
      0,
      'SECTION',
      2,
      'OBJECTS',
      0,
      'DICTIONARY',
      5,
      'C',
      100,
      'AcDbDictionary',
      281,
      1,
      3,
      'ACAD_GROUP',
      350,
      'D',
      0,
      'DICTIONARY',
      5,
      'D',
      330,
      'C',
      100,
      'AcDbDictionary',
      281,
      1,
      0,
      'ENDSEC',
      0,
      'EOF',
    );
    return writeText(`${out.map((v, i) => (i % 2 ? v : String(v).padStart(3))).join('\n')}\n`);
  },
};

/** A layer's name: without the characters that DXF keeps for itself, at most 255 long. */
function layerName(name: string): string {
  const plain = name.replace(/[<>/\\":;?*|=`,\0-\x1f\x7f]+/g, '_').trim();
  let safe = escapeText(plain);
  while (safe.length > MAX_NAME_CHARACTERS - 6)
    safe = escapeText([...unescapeText(safe)].slice(0, -1).join(''));
  // a reader that keeps layers in an object has this already
  if (safe === '__proto__') return '_proto_';
  return safe === '' || safe === '0' ? `swatch${safe && '_0'}` : safe;
}
