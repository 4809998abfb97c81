import { parse as parseBinary } from '@plist/binary.parse';
import { type Color, fromCss, type Space, spaces } from '../../color/index.ts';
import { FormatError } from '../../text/error.ts';
import { isRecord } from '../../text/json.ts';
import { plural, sniff } from '../../text/text.ts';
import { parseXml, rootIs, type XmlNode, xmlText } from '../../text/xml.ts';
import { type Draft, decoder } from '../draft.ts';
import type { Format } from '../format.ts';

// Property lists: the binary layout as the published CFBinaryPList source has it, read by a package; keyed archives and the
// keys of colours in them from memory.

const BINARY = 'bplist00';
/** What older systems write instead: a stream of types that nothing else reads. */
const TYPED_STREAM = 'streamtyped';
/** What a list becomes when everything in it is written out. */
const MAX_EXPANDED = 1_000_000;

const startsWith = (bytes: Uint8Array, text: string, at = 0) =>
  String.fromCharCode(...bytes.subarray(at, at + text.length)) === text;

/** @throws FormatError when a binary list holds itself, or the same again and again until it fills the memory */
function refuseBomb(bytes: Uint8Array): void {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const trailer = bytes.length - 32;
  const number = (at: number, size: number) => {
    let n = 0;
    for (let i = 0; i < size; i++) n = n * 256 + view.getUint8(at + i);
    return n;
  };
  const [offsetSize, refSize] = [view.getUint8(trailer + 6), view.getUint8(trailer + 7)];
  const [count, top, table] = [8, 16, 24].map((at) => number(trailer + at, 8)) as [number, number, number];
  const sizes = new Map<number, number>();
  const sizeOf = (index: number, depth: number): number => {
    const known = sizes.get(index);
    if (known !== undefined) return known;
    if (index >= count || depth > 200)
      throw new FormatError('it is damaged: its parts lie in each other without end.');
    let at = number(table + index * offsetSize, offsetSize);
    const mark = view.getUint8(at++);
    let size = 1;
    if (mark >> 4 === 0xa || mark >> 4 === 0xd) {
      let length = mark & 15;
      if (length === 15) {
        const bytesOfLength = 2 ** (view.getUint8(at++) & 15);
        length = number(at, bytesOfLength);
        at += bytesOfLength;
      }
      const refs = mark >> 4 === 0xd ? 2 * length : length;
      // one that leads back here is caught by its depth
      for (let i = 0; i < refs && size <= MAX_EXPANDED; i++)
        size += sizeOf(number(at + i * refSize, refSize), depth + 1);
    }
    if (size > MAX_EXPANDED)
      throw new FormatError('it would grow beyond any list of colours on opening. It is damaged.');
    sizes.set(index, size);
    return size;
  };
  sizeOf(top, 0);
}

type Value = unknown;

/** The value of an element of an XML property list. */
function plistValue(node: XmlNode): Value {
  switch (node.name) {
    case 'dict': {
      const dict: Record<string, Value> = {};
      for (let i = 0; i + 1 < node.children.length; i += 2)
        if (node.children[i]!.text !== '__proto__')
          dict[node.children[i]!.text] = plistValue(node.children[i + 1]!);
      return dict;
    }
    case 'array':
      return node.children.map(plistValue);
    case 'data':
      return Uint8Array.from(atob(node.text.replace(/\s+/g, '')), (c) => c.charCodeAt(0));
    case 'integer':
    case 'real':
      return Number(node.text);
    case 'true':
    case 'false':
      return node.name === 'true';
    default:
      return node.text;
  }
}

function readList(bytes: Uint8Array<ArrayBuffer>): Value {
  try {
    if (!startsWith(bytes, BINARY)) {
      const [root] = parseXml(xmlText(bytes) ?? '').children;
      return root?.children[0] ? plistValue(root.children[0]) : null;
    }
    refuseBomb(bytes);
    return parseBinary(bytes.slice().buffer);
  } catch (error) {
    if (error instanceof FormatError) throw error;
    throw new FormatError('the property list is damaged. Export or download it again.');
  }
}

/** The numbers of a colour, which are kept as text in bytes, a NUL behind them. */
function numbersIn(value: Value): number[] {
  const bytes =
    value instanceof ArrayBuffer ? new Uint8Array(value) : value instanceof Uint8Array ? value : null;
  const text = bytes
    ? String.fromCharCode(...bytes.subarray(0, 200))
    : typeof value === 'string'
      ? value
      : '';
  const parts = text.replace(/\0+$/, '').trim().split(/\s+/);
  return parts[0] ? parts.map(Number) : [];
}

/** What colours are kept under, and their spaces. */
const KEYS: [string, Space][] = [
  ['NSRGB', 'rgb'],
  ['NSCMYK', 'cmyk'],
  ['NSWhite', 'gray'],
];

function colorOf(object: Record<string, Value>): { color: Color; alpha?: number } | null {
  for (const [key, space] of KEYS) {
    const numbers = numbersIn(object[key]);
    const count = spaces[space].channels.length;
    if (numbers.length < count || !numbers.every(Number.isFinite)) continue;
    const alpha = numbers[count];
    return {
      color: { space, components: numbers.slice(0, count) },
      ...(alpha !== undefined && alpha < 1 ? { alpha: Math.max(0, alpha) } : {}),
    };
  }
  return null;
}

/** A keyed archive: names and colours in two lists of one object, or as the keys and values of a dictionary. */
function readArchive(objects: unknown[], draft: Draft): void {
  const at = (ref: Value): Value => {
    // an XML list and the binary reader call a reference so
    const index = isRecord(ref) && 'CF$UID' in ref ? ref.CF$UID : ref;
    return typeof index === 'number' || typeof index === 'bigint' ? objects[Number(index)] : ref;
  };
  const listOf = (ref: Value): Value[] | null => {
    const list = at(ref);
    const inside = isRecord(list) ? list['NS.objects'] : list;
    return Array.isArray(inside) ? inside.map(at) : null;
  };
  const textOf = (value: Value): string | null =>
    typeof value === 'string'
      ? value
      : isRecord(value) && typeof value['NS.string'] === 'string'
        ? value['NS.string']
        : null;
  let without = 0;
  const add = (name: Value, value: Value) => {
    draft.step();
    const found = isRecord(value) ? colorOf(value) : null;
    if (found) draft.add({ name: textOf(name) ?? '', ...found });
    else without++;
  };
  const holdsColor = (list: Value[] | null): list is Value[] =>
    !!list?.some((v) => isRecord(v) && colorOf(v) !== null);
  const holdsText = (list: Value[] | null): list is Value[] =>
    !!list && list.length > 0 && list.every((v) => textOf(v) !== null);
  for (const object of objects) {
    draft.step();
    if (!isRecord(object)) continue;
    const lists = Object.entries(object).flatMap(([key, ref]) => {
      // the lists of a list are not two lists beside each other
      if (key === 'NS.objects' && !('NS.keys' in object)) return [];
      const list = key.startsWith('NS.') && Array.isArray(ref) ? ref.map(at) : listOf(ref);
      return list ? [list] : [];
    });
    const colors = lists.find(holdsColor);
    if (!colors) continue;
    const names = lists.find((l) => l !== colors && l.length === colors.length && holdsText(l));
    colors.forEach((color, i) => {
      add(names?.[i], color);
    });
    if (names) break;
  }
  if (without > 0)
    draft.warn(
      `${plural(without, 'colour is', 'colours are')} kept in a way that has no numbers, such as a pattern or a system’s own colour, and ${without === 1 ? 'was' : 'were'} left out.`,
    );
}

export const clr: Format = {
  id: 'clr',
  name: 'CLR',
  about: 'Colour list of an operating system, as a property list. Read only: names, RGB, CMYK and gray.',
  endings: ['clr'],
  mime: 'application/octet-stream',
  traits: {
    read: true,
    write: false,
    names: true,
    groups: false,
    kinds: ['process'],
    spaces: ['rgb', 'cmyk', 'gray'],
    bits: 32,
  },

  recognise(bytes) {
    if (startsWith(bytes, BINARY)) return 0.8;
    if (startsWith(bytes, TYPED_STREAM, 2)) return 0.7;
    return rootIs(bytes, 'plist') && /NSRGB|NSCMYK|NSWhite|#[\da-f]{6}/i.test(sniff(bytes, 1 << 18) ?? '')
      ? 0.8
      : 0;
  },

  decode: decoder((bytes, draft) => {
    if (startsWith(bytes, TYPED_STREAM, 2))
      throw new FormatError(
        'it is in the form that systems wrote before keyed archives, which Papillon does not read. Save the list again on a newer system.',
      );
    const list = readList(new Uint8Array(bytes));
    if (isRecord(list) && Array.isArray(list.$objects)) readArchive(list.$objects, draft);
    // a plain list of names and codes or numbers
    else if (isRecord(list))
      for (const [name, value] of Object.entries(list)) {
        draft.step();
        const code = typeof value === 'string' ? fromCss(value) : isRecord(value) ? colorOf(value) : null;
        if (code) draft.add({ name, ...code });
      }
    if (draft.count === 0) throw new FormatError('it is a property list without colours.');
  }),

  encode() {
    throw new Error('CLR is only read.');
  },
};
