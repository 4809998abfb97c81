import { MAX_ARTWORK_BYTES } from '../sizes.ts';
import type { Edit } from '../text/edit.ts';
import { FormatError } from '../text/error.ts';
import { parseXml, type XmlNode, xmlText } from '../text/xml.ts';

/** The text of a drawing. @throws FormatError when it is too large, or none */
export function artworkText(bytes: Uint8Array): string {
  if (bytes.length > MAX_ARTWORK_BYTES)
    throw new FormatError(
      `the drawing has ${Math.round(bytes.length / 1e6)} MB; up to 20 MB can be recoloured. Take pictures out of it, or divide it.`,
    );
  const text = xmlText(bytes);
  if (text === null) throw new FormatError('it is not text: binary data are in it. It is damaged.');
  // what is written is UTF-8, whatever it was
  return text
    .replace(/^\uFEFF/, '')
    .replace(/^(<\?xml[^>]*?\sencoding\s*=\s*["'])([\w.:-]+)/, (all, before, name) =>
      /^utf-8$/i.test(name) ? all : `${before}UTF-8`,
    );
}

/**
 * The root of a drawing with every element's place.
 * @param doctype hears of the document type, and where it ends
 * @throws FormatError when it is not sound SVG
 */
export function parseArtwork(text: string, doctype?: (content: string, end: number) => void): XmlNode {
  const root = parseXml(text, { places: true, ...(doctype ? { doctype } : {}) }).children.find(
    (c) => c.name === 'svg',
  );
  if (!root) throw new FormatError('its root element is not “svg”; a drawing must be SVG.');
  return root;
}

/** Every element of a drawing, each before what is in it. */
export function* everyElement(root: XmlNode): Generator<XmlNode> {
  const open = [root];
  for (let node = open.pop(); node; node = open.pop()) {
    yield node;
    for (let i = node.children.length - 1; i >= 0; i--) open.push(node.children[i]!);
  }
}

/** A value as it may stand between quotes. */
export const asValue = (text: string) => text.replace(/[&<>"']/g, (c) => `&#${c.charCodeAt(0)};`);

/** What stands between an element's tags; null where it has none of its own. */
export function contentOf({ source }: XmlNode, text: string): { from: number; to: number } | null {
  if (!source || source.to <= source.open) return null;
  return { from: source.open, to: text.lastIndexOf('</', source.to - 1) };
}

/** Adds to an attribute of an element, behind what it has, or gives it one. @param join what stands between */
export function attributeEdit(
  { source }: XmlNode,
  text: string,
  name: string,
  value: string,
  join: string,
): Edit {
  const { from, open, values } = source!;
  const known = values.find((v) => v.name === name);
  if (known) {
    const before = text.slice(known.from, known.to).trimEnd();
    const apart = before === '' || before.endsWith(join) ? '' : join;
    return { from: known.to, to: known.to, text: apart + value };
  }
  // behind the last attribute, or the name
  const last = values.at(-1);
  const at = last ? last.to + 1 : from + /^<[^\s/>]+/.exec(text.slice(from, open))![0].length;
  return { from: at, to: at, text: ` ${name}="${value}"` };
}

/** Gives an element declarations in a style of its own: behind those it has, or in their place. */
export function styleEdit(node: XmlNode, text: string, declared: string, alone = false): Edit {
  const style = node.source!.values.find((v) => v.name === 'style');
  if (style && alone) return { from: style.from, to: style.to, text: declared };
  return attributeEdit(node, text, 'style', declared, ';');
}
