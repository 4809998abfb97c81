import { pictureType } from '../picture/sniff.ts';
import { type Edit, edited } from '../text/edit.ts';
import { FormatError } from '../text/error.ts';
import { plural } from '../text/text.ts';
import { entityTexts, type XmlNode } from '../text/xml.ts';
import {
  ANIMATABLE,
  ANIMATIONS,
  ATTRIBUTES,
  ELEMENTS,
  isData,
  PRESENTATION,
  SVG,
  TEXTS,
  XLINK,
  XLINK_ATTRIBUTES,
  XML,
  XML_ATTRIBUTES,
} from './allowed.ts';
import { isPlain, plainCss } from './css.ts';
import { asValue, contentOf, parseArtwork } from './source.ts';

/** The prefixes that everybody means the same by, where a drawing does not declare them. */
const USUAL: Record<string, string> = { xml: XML, xlink: XLINK, svg: SVG };

/** What is cut out, by what it is, with the lines it stood in. */
class Removed {
  private readonly lines = new Map<string, number[]>();

  add(what: string, line: number): void {
    const known = this.lines.get(what);
    if (known) known.push(line);
    else this.lines.set(what, [line]);
  }

  get warnings(): string[] {
    return [...this.lines].map(([what, lines]) => {
      const at = [...new Set(lines)];
      return `Taken out: ${what} (${at.length > 3 ? `${plural(at.length, 'line')}, the first ${at[0]}` : `line ${at.join(', ')}`}).`;
    });
  }
}

/**
 * A drawing of nothing but what is in the lists of what a drawing may hold: SVG's elements and attributes for drawing, CSS that
 * needs nothing from elsewhere, references to parts of itself and to pictures that came with it. Entities stand where they were used.
 * Everything else is cut out; what is allowed stays to the letter.
 *
 * @returns the drawing, and what was cut out in words
 * @throws FormatError when it is not sound SVG
 */
export function cleanArtwork(given: string): { text: string; root: XmlNode; warnings: string[] } {
  const removed = new Removed();
  checkBrackets(given);
  let doctype: Doctype | null = null;
  let text = given;
  let root = parseArtwork(text, (content, end) => {
    doctype = { content, end };
  });
  if (doctype && !USUAL_DOCTYPE.test((doctype as Doctype).content)) {
    text = withoutDoctype(given, doctype, removed);
    root = parseArtwork(text);
  }
  // what is cut out may bring together what stood on both sides of it: it is looked at again until nothing is found
  for (let round = 0; round < MAX_ROUNDS; round++) {
    const edits = [...editsOf(root, text, removed)];
    if (edits.length === 0) return { text, root, warnings: removed.warnings };
    text = edited(text, edits);
    root = parseArtwork(text);
  }
  throw new FormatError('it has so much hidden in itself that it cannot be cleaned. Export it again.');
}

const MAX_ROUNDS = 8;
const MAX_INSTRUCTIONS = 10_000;

/** More closing brackets than any drawing has; the parser looks at each as the beginning of an end. */
const MAX_BRACKETS = 1_000_000;

function checkBrackets(text: string): void {
  let brackets = 0;
  for (let at = text.indexOf(']'); at >= 0; at = text.indexOf(']', at + 1))
    if (++brackets > MAX_BRACKETS)
      throw new FormatError('it has more than a million closing brackets. Export it again.');
}

// --- before the root

/** The document type that SVG 1.1 recommends, which brings nothing along. */
const USUAL_DOCTYPE =
  /^\s+svg\s+PUBLIC\s+(["'])-\/\/W3C\/\/DTD SVG [\w. ]{1,20}\/\/EN\1\s+(["'])https?:\/\/www\.w3\.org\/[\w./-]{1,80}\.dtd\2\s*$/;

/** How remarks, sections and instructions begin and end. */
const BEGINS = /<!--|<!\[CDATA\[|<\?|&/g;
const ENDS: Record<string, string> = { '<!--': '-->', '<![CDATA[': ']]>', '<?': '?>', '&': ';' };

/** Everything in sound XML, from a place on, that is neither an element nor plain text: remarks, sections, instructions, references. */
function* markupIn(text: string, from = 0): Generator<{ kind: string; from: number; to: number }> {
  BEGINS.lastIndex = from;
  for (let found = BEGINS.exec(text); found; found = BEGINS.exec(text)) {
    const [kind] = found;
    const end = ENDS[kind]!;
    const at = text.indexOf(end, found.index + kind.length);
    const to = at < 0 ? text.length : at + end.length;
    yield { kind, from: found.index, to };
    BEGINS.lastIndex = to;
  }
}

interface Doctype {
  content: string;
  /** Where it ends in the text. */
  end: number;
}

/** A drawing without its document type, and with the entities that this declares put where they are used, as text. */
function withoutDoctype(text: string, { content, end }: Doctype, removed: Removed): string {
  // before it stand only blanks, remarks and instructions
  const from = prologEnd(text);
  if (!text.startsWith('<!DOCTYPE', from)) throw new FormatError('its document type is damaged.');
  const { names, textOf } = entityTexts(content, () => 'its document type');
  const declared = new Set(names);
  if (content.includes('[')) removed.add('declarations of a document type', 1);
  const edits: Edit[] = [{ from, to: end, text: '' }];
  for (const found of markupIn(text, end)) {
    const name = text.slice(found.from + 1, found.to - 1);
    if (found.kind === '&' && declared.has(name))
      edits.push({ from: found.from, to: found.to, text: asValue(textOf(name)) });
  }
  return edited(text, edits);
}

/** Where the first thing stands that is neither a blank nor a remark nor an instruction. */
function prologEnd(text: string): number {
  let at = 0;
  for (;;) {
    while (/\s/.test(text[at] ?? '')) at++;
    const end = text.startsWith('<!--', at) ? '-->' : text.startsWith('<?', at) ? '?>' : null;
    const found = end === null ? -1 : text.indexOf(end, at + 2);
    if (end === null || found < 0) return at;
    at = found + end.length;
  }
}

// --- elements

/** The namespaces that are declared where an element stands, by prefix. */
type Scope = ReadonlyMap<string, string>;

interface Open {
  node: XmlNode;
  scope: Scope;
  /** Inside notes and metadata. */
  data: boolean;
}

/** What is to be cut out of a drawing. */
function* editsOf(root: XmlNode, text: string, removed: Removed): Generator<Edit> {
  let [line, counted, instructions] = [1, 0, 0];
  for (const { kind, from, to } of markupIn(text)) {
    // the first one declares the encoding
    if (kind !== '<?' || (from === 0 && /^<\?xml\s/.test(text))) continue;
    if (++instructions > MAX_INSTRUCTIONS)
      throw new FormatError(
        `it has more than ${MAX_INSTRUCTIONS} instructions to other programs. Export it again.`,
      );
    for (; counted < from; counted++) if (text[counted] === '\n') line++;
    removed.add('instructions to other programs', line);
    yield { from, to, text: '' };
  }
  // a drawing that says no namespace is meant to be SVG
  const usual =
    root.source!.values.some((v) => v.name === 'xmlns') || root.source!.name.includes(':') ? '' : SVG;
  const open: Open[] = [{ node: root, scope: new Map([['', usual]]), data: false }];
  for (let at = open.pop(); at; at = open.pop()) {
    const { node } = at;
    const { from, open: opened, to, name, values } = node.source!;
    let { scope } = at;
    if (values.some(isDeclaration))
      scope = new Map([
        ...scope,
        ...values.filter(isDeclaration).map((v): [string, string] => [v.name.slice(6), v.value]),
      ]);
    const [prefix, local] = parted(name);
    const namespace = scope.get(prefix) ?? USUAL[prefix] ?? (prefix ? `undeclared:${prefix}` : '');
    const isSvg = namespace === SVG && !at.data;
    const data = !isSvg && prefix !== '' && isData(namespace);
    const animates = isSvg && ANIMATIONS.has(local);
    if (!data && (!isSvg || !ELEMENTS.has(local) || (animates && !isAllowedAnimation(node)))) {
      removed.add(
        local === 'script'
          ? 'scripts'
          : local === 'foreignObject'
            ? 'foreign objects'
            : animates
              ? 'animations of other things than the look'
              : `“${name.slice(0, 60)}”`,
        node.line,
      );
      yield { from, to: Math.max(opened, to), text: '' };
      continue;
    }
    yield* attributeEdits(node, scope, data, removed);
    if (isSvg && local === 'style') {
      const edit = styleEdit(node, text, removed);
      if (edit) yield edit;
      continue;
    }
    for (let i = node.children.length - 1; i >= 0; i--)
      open.push({ node: node.children[i]!, scope, data: data || at.data });
  }
}

/** Whether an attribute declares a namespace. */
const isDeclaration = ({ name }: { name: string }) =>
  name.startsWith('xmlns') && (name.length === 5 || name[5] === ':');

const parted = (name: string): [prefix: string, local: string] => {
  const colon = name.indexOf(':');
  return colon < 0 ? ['', name] : [name.slice(0, colon), name.slice(colon + 1)];
};

function isAllowedAnimation({ name, attributes: { attributeName } }: XmlNode): boolean {
  if (attributeName === undefined) return name === 'animateMotion' || name === 'animateTransform';
  return ANIMATABLE.has(attributeName);
}

// --- attributes

function* attributeEdits(node: XmlNode, scope: Scope, data: boolean, removed: Removed): Generator<Edit> {
  const { from, name: tag, values } = node.source!;
  let before = from + 1 + tag.length;
  for (const attribute of values) {
    const { name, value, from: start, to } = attribute;
    // from behind what is before it
    const whole = { from: before, to: to + 1, text: '' };
    before = to + 1;
    if (isDeclaration(attribute)) continue;
    const [prefix, local] = parted(name);
    const namespace = prefix ? (scope.get(prefix) ?? USUAL[prefix] ?? `undeclared:${prefix}`) : '';
    const why =
      data || (prefix && isData(namespace)) ? dataFault(local) : fault(node, namespace, local, value);
    if (why === null) continue;
    removed.add(why, node.line);
    if (namespace === '' && local === 'style' && !data) {
      const rest = plainCss(value, false);
      yield rest.trim() ? { from: start, to, text: asValue(rest) } : whole;
    } else yield whole;
  }
}

/** What is wrong with an attribute that is a note of some program: one that would be taken for SVG's own, or acts elsewhere. */
const dataFault = (local: string): string | null =>
  /^on/i.test(local) || DATA_NOT.has(local.toLowerCase()) || PRESENTATION.has(local)
    ? 'attributes that could be taken for others'
    : null;
const DATA_NOT = new Set([
  'href',
  'src',
  'srcset',
  'srcdoc',
  'style',
  'class',
  'base',
  'action',
  'formaction',
  'data',
  'ping',
  'poster',
]);

const OUTSIDE = 'references to other files';
const OWN_PREFIX = /^(?:data|aria)-[\w.-]+$/;

/** What is wrong with an attribute of a drawing's element; null for nothing. */
function fault(node: XmlNode, namespace: string, local: string, value: string): string | null {
  if (/^on/i.test(local)) return 'events';
  if (local === 'href' && (namespace === '' || namespace === XLINK))
    return isInside(value) || (node.name === 'image' || node.name === 'feImage' ? isPicture(value) : false)
      ? null
      : OUTSIDE;
  if (namespace === XLINK) return XLINK_ATTRIBUTES.has(local) ? null : UNKNOWN;
  if (namespace === XML) return XML_ATTRIBUTES.has(local) ? null : local === 'base' ? OUTSIDE : UNKNOWN;
  if (namespace !== '') return UNKNOWN;
  if (OWN_PREFIX.test(local)) return null;
  if (!ATTRIBUTES.has(local)) return UNKNOWN;
  if (TEXTS.has(local)) return null;
  if (!isPlain(value)) return OUTSIDE;
  return null;
}

const UNKNOWN = 'attributes that SVG does not have';

const isInside = (reference: string): boolean => /^\s*(?:#[^\s"'<>]*)?\s*$/.test(reference);

const PICTURE = /^\s*data:image\/(?:png|jpe?g|gif|webp|avif|bmp|tiff);base64,/i;
const BASE64 = /^[A-Za-z0-9+/=\s]*$/;
/** This many characters tell what a picture is. */
const HEAD = 400;

/** Whether a reference is a picture of a known kind that is written out in it. */
function isPicture(reference: string): boolean {
  const head = PICTURE.exec(reference)?.[0];
  if (head === undefined) return false;
  const content = reference.slice(head.length);
  return BASE64.test(content) && pictureType(fromBase64(content.slice(0, HEAD))) !== null;
}

const LETTERS = 'ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789+/';

function fromBase64(text: string): Uint8Array {
  const letters = [...text].filter((c) => LETTERS.includes(c));
  const bytes = new Uint8Array(Math.floor((letters.length * 3) / 4));
  letters.forEach((c, i) => {
    const bits = LETTERS.indexOf(c) << 2;
    const at = (i * 6) >> 3;
    const shifted = bits << (8 - ((i * 6) & 7));
    if (at < bytes.length) bytes[at]! |= (shifted >> 8) & 255;
    if (at + 1 < bytes.length) bytes[at + 1]! |= shifted & 255;
  });
  return bytes;
}

// --- style sheets

/** What is to be done to a style sheet; null for nothing. */
function styleEdit(node: XmlNode, text: string, removed: Removed): Edit | null {
  const content = contentOf(node, text);
  if (!content) return null;
  if (node.children.length === 0 && isPlain(node.text, true)) return null;
  removed.add(node.children.length > 0 ? 'elements in a style sheet' : OUTSIDE, node.line);
  const rest = plainCss(node.text, true);
  const raw = text.slice(content.from, content.to);
  const isSection = raw.trim().startsWith('<![CDATA[') && !rest.includes(']]>');
  return { ...content, text: isSection ? `<![CDATA[${rest}]]>` : asValue(rest) };
}
