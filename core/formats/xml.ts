import { SaxesParser } from 'saxes';
import { FormatError } from './error.ts';

/** An element with its local name; namespaces' prefixes are the writer's own business. */
export interface XmlNode {
  name: string;
  attributes: Record<string, string>;
  children: XmlNode[];
  /** The text directly inside. */
  text: string;
  /** The line it begins in, from 1. */
  line: number;
}

const DEEPEST = 200;
/** More than any file has that is a list of colours, or a drawing: so many, and one for so many characters. */
const FEW_ELEMENTS = 100_000;
const CHARACTERS_EACH = 40;
const MOST_ATTRIBUTES = 1000;
const NONE: XmlNode[] = [];

/**
 * Reads XML into a tree. Entities other than XML's own five are not expanded, so a file cannot grow on opening.
 * @param each elements of this name are handed over as they end, and not kept: a long list needs no tree
 * @throws FormatError with line and column
 */
export function parseXml(text: string, each?: { name: string; take(node: XmlNode): void }): XmlNode {
  const root: XmlNode = { name: '', attributes: {}, children: [], text: '', line: 0 };
  const open = [root];
  const parser = new SaxesParser();
  const most = FEW_ELEMENTS + Math.floor(text.length / CHARACTERS_EACH);
  let count = 0;
  let attributesHere = 0;
  const place = () => `line ${parser.line}, column ${parser.column + 1}`;
  parser.on('error', (error) => {
    const why = error.message.replace(/^(\d+:)?\d+:\s*/, '').replace(/\.?$/, '');
    throw new FormatError(`${place()}: the XML is damaged (${why}). Get it again from where it was made.`);
  });
  parser.on('attribute', () => {
    if (++attributesHere > MOST_ATTRIBUTES)
      throw new FormatError(`${place()}: an element has more than ${MOST_ATTRIBUTES} attributes.`);
  });
  parser.on('opentag', ({ name, attributes }) => {
    attributesHere = 0;
    if (++count > most)
      throw new FormatError(
        `${place()}: it has more than ${most.toLocaleString('en')} elements; no swatch file of its size does.`,
      );
    if (open.length > DEEPEST)
      throw new FormatError(`${place()}: elements lie more than ${DEEPEST} deep; no swatch file does that.`);
    const own: Record<string, string> = {};
    for (const key in attributes) own[local(key)] = attributes[key];
    const node: XmlNode = { name: local(name), attributes: own, children: NONE, text: '', line: parser.line };
    const parent = open.at(-1)!;
    // most elements of a long file have none inside
    if (parent.children === NONE) parent.children = [node];
    else parent.children.push(node);
    open.push(node);
  });
  parser.on('closetag', () => {
    const node = open.pop()!;
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

/** Whether a text begins as XML with this root element, whatever its prefix. */
export function rootIs(text: string | null, name: string): boolean {
  if (text === null) return false;
  let at = text.startsWith('\uFEFF') ? 1 : 0;
  const past = (end: string, from: number) => {
    const found = text.indexOf(end, from);
    return found < 0 ? text.length : found + end.length;
  };
  for (;;) {
    while (/\s/.test(text[at] ?? '')) at++;
    if (text.startsWith('<?', at)) at = past('?>', at);
    else if (text.startsWith('<!--', at)) at = past('-->', at);
    else if (text.startsWith('<!DOCTYPE', at)) {
      const [bracket, end] = [text.indexOf('[', at), text.indexOf('>', at)];
      at = bracket >= 0 && bracket < end ? past('>', past(']', bracket)) : past('>', at);
    } else return new RegExp(`^<(?:[\\w.-]+:)?${name}[\\s/>]`).test(text.slice(at, at + 200));
  }
}
