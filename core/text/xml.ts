import { SaxesParser } from 'saxes';
import { decodeAs } from './encodings.ts';
import { FormatError } from './error.ts';
import { readText } from './text.ts';

/** An element with its local name; namespaces' prefixes are the writer's own business. */
export interface XmlNode {
  name: string;
  attributes: Record<string, string>;
  children: XmlNode[];
  /** The text directly inside. */
  text: string;
  /** The line it begins in, from 1. */
  line: number;
  /** Where it stands in the text; only where that was asked for. */
  source?: Source;
  /** Values that count in the place of its attributes', its text's under the empty name; see the marks of artwork. */
  marked?: Record<string, string>;
}

/** Where an element stands, as offsets in UTF-16 units. */
export interface Source {
  /** Its start tag, from the `<` to behind the `>`. */
  from: number;
  open: number;
  /** Behind its end tag. */
  to: number;
  /** The name as it is written, with its prefix. */
  name: string;
  /** The attributes as they are written, names with their prefixes, what they say, and where that stands between their quotes. */
  values: { name: string; value: string; from: number; to: number }[];
}

const MAX_DEPTH = 200;
/** More than any file has that is a list of colours, or a drawing: this many, and one for this many characters. */
const FEW_ELEMENTS = 100_000;
const CHARACTERS_EACH = 40;
const MAX_ATTRIBUTES = 1000;
const NONE: XmlNode[] = [];

/** What the entities of a file may become, all together, and how deep they may lie in each other. */
const MAX_EXPANDED = 1_000_000;
const DEEPEST_ENTITY = 10;
const MAX_ENTITIES = 10_000;

/** The text of XML in the encoding that it declares (XML 1.0, 4.3.3); null when it is not text. */
export function xmlText(bytes: Uint8Array, cut = false): string | null {
  // UTF-16 without a mark begins with “<” and a NUL
  if (bytes[0] === 0x3c && bytes[1] === 0) return decodeAs(bytes, 'utf-16le');
  if (bytes[0] === 0 && bytes[1] === 0x3c) return decodeAs(bytes, 'utf-16be');
  const head = String.fromCharCode(...bytes.subarray(0, 200));
  const declared = /^(?:\xef\xbb\xbf)?\s*<\?xml[^>]*?\sencoding\s*=\s*["']([\w.:-]+)["']/.exec(head)?.[1];
  if (!declared || /^utf-?(8|16)$/i.test(declared)) return readText(bytes, cut);
  return decodeAs(bytes, declared) ?? readText(bytes, cut);
}

/** The entities that a document type declares as texts (XML 1.0, 4.2.1), by name; those outside of the file are none. */
function entitiesOf(doctype: string): Map<string, string> {
  const found = new Map<string, string>();
  let count = 0;
  for (const [, name, , double, single] of doctype.matchAll(
    /<!ENTITY\s+([\w.:-]{1,200})\s+("([^"]*)"|'([^']*)')\s*>/g,
  )) {
    if (!found.has(name!)) found.set(name!, double ?? single ?? '');
    if (++count > MAX_ENTITIES)
      throw new FormatError(`it declares more than ${MAX_ENTITIES} entities. Export it without them.`);
  }
  return found;
}

/**
 * What the entities that a document type declares stand for, each looked up when it is asked for, within limits.
 * @param place for messages
 */
export function entityTexts(
  doctype: string,
  place: () => string,
): { names: Iterable<string>; textOf(name: string): string } {
  const declared = entitiesOf(doctype);
  let characters = 0;
  const count = (text: string) => {
    // one that stands for nothing takes its time, too
    characters += 1 + text.length;
    if (characters > MAX_EXPANDED)
      throw new FormatError(
        `${place()}: its entities become more than a million characters; more than a swatch file needs.`,
      );
  };
  const expanded = (name: string, depth: number): string => {
    if (depth > DEEPEST_ENTITY)
      throw new FormatError(
        `${place()}: the entity “${name}” leads through more than ${DEEPEST_ENTITY} others, or to itself.`,
      );
    const text = declared
      .get(name)!
      .replace(/&(?:#(\d{1,7})|#x([\da-f]{1,6})|([\w.:-]+));/gi, (all, ten, hex, inner) => {
        const code = ten ? Number(ten) : hex ? Number.parseInt(hex, 16) : Number.NaN;
        if (code <= 0x10ffff) return String.fromCodePoint(code);
        return inner && declared.has(inner) ? expanded(inner, depth + 1) : (FIVE[inner] ?? all);
      });
    count(text);
    return text;
  };
  const texts = new Map<string, string>();
  return {
    names: [...declared.keys()].filter((name) => !(name in FIVE)),
    textOf(name) {
      const known = texts.get(name);
      if (known === undefined) {
        const text = expanded(name, 1);
        texts.set(name, text);
        return text;
      }
      count(known);
      return known;
    },
  };
}

function declareEntities(parser: SaxesParser, doctype: string, place: () => string): void {
  const { names, textOf } = entityTexts(doctype, place);
  for (const name of names) Object.defineProperty(parser.ENTITIES, name, { get: () => textOf(name) });
}
/** XML's own (XML 1.0, 4.6). */
const FIVE: Record<string, string> = { amp: '&', gt: '>', lt: '<', quot: '"', apos: "'" };

/**
 * Reads XML into a tree. Entities that the file declares as texts are expanded, within limits; none is fetched.
 * @param options `each`: elements of this name are handed over as they end, and not kept: a long list needs no tree; `places`: whether to
 * say where elements stand; `doctype`: hears of the document type, and where it ends
 * @throws FormatError with line and column
 */
export function parseXml(
  text: string,
  {
    each,
    places = false,
    doctype: hear,
  }: {
    each?: { name: string; take(node: XmlNode): void };
    places?: boolean;
    doctype?(content: string, end: number): void;
  } = {},
): XmlNode {
  const root: XmlNode = { name: '', attributes: {}, children: [], text: '', line: 0 };
  const open = [root];
  const parser = new SaxesParser();
  const most = FEW_ELEMENTS + Math.floor(text.length / CHARACTERS_EACH);
  let count = 0;
  let attributesHere = 0;
  const place = () => `line ${parser.line}, column ${parser.column + 1}`;
  parser.on('error', (error) => {
    const why = error.message.replace(/^(\d+:)?\d+:\s*/, '').replace(/\.?$/, '');
    throw new FormatError(`${place()}: the XML is damaged (${why}). Export or download it again.`);
  });
  parser.on('doctype', (doctype) => {
    hear?.(doctype, parser.position);
    declareEntities(parser, doctype, place);
  });
  let values: Source['values'] = [];
  parser.on('attribute', ({ name, value }) => {
    if (places) {
      // a value cannot have the quotes in it that it stands between
      const to = parser.position - 1;
      values.push({ name, value, from: text.lastIndexOf(text[to]!, to - 1) + 1, to });
    }
    if (++attributesHere > MAX_ATTRIBUTES)
      throw new FormatError(`${place()}: an element has more than ${MAX_ATTRIBUTES} attributes.`);
  });
  parser.on('opentag', ({ name, attributes }) => {
    attributesHere = 0;
    if (++count > most)
      throw new FormatError(
        `${place()}: it has more than ${most.toLocaleString('en')} elements; no swatch file of its size does.`,
      );
    if (open.length > MAX_DEPTH)
      throw new FormatError(
        `${place()}: elements lie more than ${MAX_DEPTH} deep; more than a swatch file needs.`,
      );
    const own: Record<string, string> = {};
    let prefixed = false;
    for (const key in attributes) {
      if (key.includes(':')) prefixed = true;
      else own[key] = attributes[key];
    }
    // of two that differ in their prefixes alone, the one without is what others read
    if (prefixed)
      for (const key in attributes) {
        const name = local(key);
        if (key.includes(':') && !(name in attributes)) own[name] = attributes[key];
      }
    const node: XmlNode = { name: local(name), attributes: own, children: NONE, text: '', line: parser.line };
    if (places) {
      const open = parser.position;
      node.source = { from: text.lastIndexOf('<', open - 1), open, to: open, name, values };
      values = [];
    }
    const parent = open.at(-1)!;
    // most elements of a long file have none inside
    if (parent.children === NONE) parent.children = [node];
    else parent.children.push(node);
    open.push(node);
  });
  parser.on('closetag', () => {
    const node = open.pop()!;
    if (node.source) node.source.to = parser.position;
    if (node.name !== each?.name) return;
    open.at(-1)!.children.pop();
    each.take(node);
  });
  const addText = (part: string) => {
    open.at(-1)!.text += part;
  };
  parser.on('text', addText);
  parser.on('cdata', addText);
  parser.write(text).close();
  return root;
}

const local = (name: string) => name.slice(name.indexOf(':') + 1);

/** Every element of this name, in document order. */
export function* elements(node: XmlNode, name: string): Generator<XmlNode> {
  const open = node.children.toReversed();
  for (let at = open.pop(); at; at = open.pop()) {
    if (at.name === name) yield at;
    for (let i = at.children.length - 1; i >= 0; i--) open.push(at.children[i]);
  }
}

export const childOf = (node: XmlNode | undefined, name: string) =>
  node?.children.find((c) => c.name === name);

/** Text for an element or a quoted attribute; characters XML cannot hold become blanks. */
export const escapeXml = (text: string) =>
  text
    .toWellFormed()
    .replace(/[\0-\x08\x0b\x0c\x0e-\x1f\ufffe\uffff]/g, ' ')
    .replace(/[&<>"\t\n\r]/g, (c) => XML_NAMES[c] ?? `&#${c.charCodeAt(0)};`);
const XML_NAMES: Record<string, string> = { '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;' };

/** So much may stand before the root: declarations of entities, remarks. */
const MAX_PROLOG_CHARACTERS = 1 << 16;

/** Whether bytes begin as XML with this root element, whatever its prefix. @param name the name, or a pattern of it */
export function rootIs(bytes: Uint8Array, name: string): boolean {
  const text = xmlText(
    bytes.subarray(0, MAX_PROLOG_CHARACTERS),
    bytes.length > MAX_PROLOG_CHARACTERS,
  )?.replace(/^\uFEFF/, '');
  if (!text) return false;
  let at = 0;
  const past = (end: string, from: number) => {
    const found = text.indexOf(end, from);
    return found < 0 ? text.length : found + end.length;
  };
  /** The end of a document type, past what stands in quotes and brackets in it. */
  const pastDoctype = () => {
    let inside = false;
    for (; at < text.length; at++) {
      const c = text[at]!;
      if (c === '"' || c === "'") at = past(c, at + 1) - 1;
      else if (text.startsWith('<!--', at)) at = past('-->', at) - 1;
      else if (c === '[') inside = true;
      else if (c === ']') inside = false;
      else if (c === '>' && !inside) return at + 1;
    }
    return at;
  };
  for (;;) {
    while (/\s/.test(text[at] ?? '')) at++;
    if (text.startsWith('<?', at)) at = past('?>', at);
    else if (text.startsWith('<!--', at)) at = past('-->', at);
    else if (text.startsWith('<!DOCTYPE', at)) at = pastDoctype();
    else return new RegExp(`^<(?:[\\w.-]+:)?${name}[\\s/>]`).test(text.slice(at, at + 200));
  }
}
