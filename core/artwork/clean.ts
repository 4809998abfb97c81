import { plural } from '../formats/text.ts';
import type { XmlNode } from '../formats/xml.ts';
import { asValue, contentOf, type Edit, edited, everyElement, parseArtwork } from './source.ts';

/** Elements that do something, or bring other documents along (SVG 2, 15 and 12.4). */
const ACTIVE = new Set([
  ...['script', 'handler', 'listener', 'foreignObject', 'iframe', 'frame', 'object', 'embed', 'applet'],
  ...[
    'audio',
    'video',
    'canvas',
    'base',
    'link',
    'meta',
    'form',
    'input',
    'button',
    'textarea',
    'html',
    'body',
  ],
]);
/** Elements that change an attribute of another one. */
const ANIMATIONS = new Set(['animate', 'set', 'animateMotion', 'animateTransform', 'animateColor']);
/** Pictures that are nothing but pixels. */
const PIXELS = /^data:image\/(?:png|jpe?g|gif|webp|avif|bmp)[;,]/i;

/** Whether a reference leads to a part of the same drawing, or to pixels that came with it. */
const isInside = (reference: string) => {
  const plain = reference.replace(/[\s\0-\x1f]+/g, '');
  return plain === '' || plain.startsWith('#') || PIXELS.test(plain);
};

/** Letters of CSS may be written as their numbers (CSS Syntax 3, 4.3.7). */
const unescaped = (css: string) =>
  css.replace(/\\([\da-f]{1,6})\s?|\\([^\n])/gi, (_, code, letter) =>
    code ? String.fromCodePoint(Math.min(0x10ffff, Number.parseInt(code, 16))) : letter,
  );

/** What in a style leads out of the drawing, piece by piece. */
function* outsideIn(css: string): Generator<{ from: number; to: number; text: string }> {
  for (const found of css.matchAll(/url\(\s*("[^"]*"|'[^']*'|[^)]*)\s*\)/gi)) {
    const reference = unescaped(found[1]!.trim().replace(/^["']|["']$/g, ''));
    if (!isInside(reference)) yield { from: found.index, to: found.index + found[0].length, text: 'none' };
  }
  for (const found of css.matchAll(/@import[^;]*;?|(?:-moz-binding|behavior)\s*:[^;}]*/gi))
    yield { from: found.index, to: found.index + found[0].length, text: '' };
}

/** What leads out of a style sheet, or acts. */
const reaching = (css: string) =>
  css.match(/url\(|@import|expression\(|-moz-binding|behavior\s*:|javascript:/gi)?.length ?? 0;
/** Whether letters are written as numbers so that such a word is not seen at once. */
const isVeiled = (css: string) => css.includes('\\') && reaching(unescaped(css)) > reaching(css);

/**
 * Takes out of a drawing what acts or reaches out: scripts, events, foreign objects, references to anything but parts of itself,
 * and declarations of entities, which are put where they are used. The rest stays to the letter.
 *
 * @returns the drawing, and what was taken out in words
 * @throws FormatError when it is no sound SVG
 */
export function cleanArtwork(text: string): { text: string; root: XmlNode; told: string[] } {
  const removed = new Map<string, number[]>();
  const tell = (what: string, line: number) => {
    const lines = removed.get(what);
    if (lines) lines.push(line);
    else removed.set(what, [line]);
  };
  const edits: Edit[] = [];
  const root = parseArtwork(text);
  // where a document says what an entity means, others would read markup out of it
  const doctype = doctypeIn(text);
  const entities = doctype !== null && /<!ENTITY/.test(text.slice(doctype.from, doctype.to));
  if (doctype) {
    const inside = /\[[\s\S]*\]\s*>$/.test(text.slice(doctype.from, doctype.to));
    if (inside) edits.push({ ...doctype, text: '' });
    if (entities) tell('declarations of entities, which now stand where they were used', 1);
  }
  const start = root.source!.from;
  for (const found of text.slice(0, start).matchAll(/<\?(?!xml\s)[^>]*\?>/g)) {
    if (doctype && found.index >= doctype.from && found.index < doctype.to) continue;
    edits.push({ from: found.index, to: found.index + found[0].length, text: '' });
    tell('instructions to other programs', 1);
  }
  for (const node of everyElement(root)) {
    const { name, source, line, children } = node;
    const { from, open, to, values } = source!;
    const changes = ANIMATIONS.has(name)
      ? node.attributes.attributeName?.replace(/^.*:/, '').trim()
      : undefined;
    if (ACTIVE.has(name) || (changes && /^(?:href|on.*|style|src)$/i.test(changes))) {
      edits.push({ from, to: Math.max(open, to), text: '' });
      tell(name === 'script' ? 'scripts' : name === 'foreignObject' ? 'foreign objects' : `“${name}”`, line);
      continue;
    }
    for (const value of values) {
      const own = value.name.replace(/^.*:/, '');
      const raw = text.slice(value.from, value.to);
      const decoded = node.attributes[own] ?? '';
      // the attribute with its name and the blank before it
      const whole = { from: attributeStart(text, value, from), to: value.to + 1, text: '' };
      if (/^on/i.test(own)) {
        edits.push(whole);
        tell('events', line);
      } else if (/^(?:href|src)$/i.test(own)) {
        if (isInside(decoded) && !(name === 'use' && !decoded.trim().startsWith('#'))) continue;
        edits.push(whole);
        tell('references to other files', line);
      } else if (/^base$/i.test(own) && value.name !== 'base') edits.push(whole);
      else if (/url\(|@import|behavior|binding|\\/i.test(decoded)) {
        const out = [...outsideIn(decoded)];
        if (isVeiled(decoded)) {
          edits.push(whole);
          tell('styles that are written to be overlooked', line);
        } else if (out.length > 0) {
          edits.push({ from: value.from, to: value.to, text: asValue(edited(decoded, out)) });
          tell('references to other files', line);
        }
      } else if (entities && /&(?!#|amp;|lt;|gt;|quot;|apos;)/.test(raw))
        edits.push({ from: value.from, to: value.to, text: asValue(decoded) });
    }
    const content = contentOf(node, text);
    if (!content) continue;
    const raw = text.slice(content.from, content.to);
    if (name === 'style') {
      const out = [...outsideIn(raw)];
      if (isVeiled(raw)) {
        edits.push({ ...content, text: '' });
        tell('styles that are written to be overlooked', line);
      } else
        for (const one of out) {
          edits.push({ from: content.from + one.from, to: content.from + one.to, text: one.text });
          tell('references to other files', line);
        }
    } else if (entities && children.length === 0 && /&(?!#|amp;|lt;|gt;|quot;|apos;)/.test(raw))
      edits.push({ ...content, text: asValue(node.text) });
  }
  const told = [...removed].map(([what, lines]) => {
    const at = [...new Set(lines)];
    return `Taken out: ${what} (${at.length > 3 ? `${plural(at.length, 'line')}, the first ${at[0]}` : `line ${at.join(', ')}`}).`;
  });
  if (edits.length === 0) return { text, root, told };
  const clean = edited(text, edits);
  return { text: clean, root: parseArtwork(clean), told };
}

/** Where an attribute begins, its name and the blanks before it included. */
function attributeStart(text: string, { from, name }: { from: number; name: string }, tag: number): number {
  let at = text.lastIndexOf(name, from - 1);
  while (at > tag && /\s/.test(text[at - 1]!)) at--;
  return at;
}

/** Where the document type stands; null where there is none. */
function doctypeIn(text: string): { from: number; to: number } | null {
  const from = /<!DOCTYPE/i.exec(text.slice(0, 100_000))?.index;
  if (from === undefined) return null;
  let inside = false;
  for (let at = from; at < text.length; at++) {
    const c = text[at]!;
    if (c === '"' || c === "'") {
      const end = text.indexOf(c, at + 1);
      if (end < 0) return null;
      at = end;
    } else if (c === '[') inside = true;
    else if (c === ']') inside = false;
    else if (c === '>' && !inside) return { from, to: at + 1 };
  }
  return null;
}
