import type { CssNode } from 'css-tree';
import parse from 'css-tree/parser';
import { computedCss } from '../color/computed-css.ts';
import { blankRemarks } from '../text/text.ts';
import type { XmlNode } from '../text/xml.ts';
import { contentOf, everyElement } from './source.ts';

// Where each colour of a drawing is written. Every place gets a mark, which takes the place of its colour while styles are worked out: what
// is painted with a mark is painted with what is written there, through whatever rules, groups and variables.

/** A colour as it is written somewhere in a drawing. */
export interface Site {
  from: number;
  to: number;
  /** What stands there, such as `#c8102e`. */
  text: string;
}

const mark = (n: number) => `§${n}`;
/** The place that a paint is a mark of; null when it is none. */
export const siteOf = (paint: string): number | null => {
  const n = /^§(\d+)$/.exec(paint.trim())?.[1];
  return n === undefined ? null : Number(n);
};

const PAINTS = new Set(['fill', 'stroke', 'color', 'stop-color']);
/** What a property's value can be a colour of. */
const canPaint = (property: string) => PAINTS.has(property.toLowerCase()) || property.startsWith('--');
const WORDS =
  /^(?:none|transparent|currentcolor|inherit|initial|unset|revert|context-fill|context-stroke|auto|normal)$/i;
/** A notation of a colour, or a word that may be one. */
const NOTATION = /#[\da-f]{3,8}\b|\b(?!var\()[a-z-]+\([^()]*\)|\b[a-z]{3,24}\b/gi;

/** The colours in a value: all of it, or what stands behind the comma of a `var()`. */
function* colorsIn(value: string): Generator<{ from: number; to: number }> {
  const from = value.length - value.trimStart().length;
  const plain = value.replace(/\s*!\s*important\s*$/i, '').trim();
  if (plain === '' || plain.length > 200 || WORDS.test(plain)) return;
  if (!plain.includes('var(')) {
    if (computedCss(plain)) yield { from, to: from + plain.length };
    return;
  }
  for (const found of value.matchAll(NOTATION)) {
    const before = value.slice(0, found.index).trimEnd();
    if (before.endsWith(',') && computedCss(found[0]))
      yield { from: found.index, to: found.index + found[0].length };
  }
}

/** The declarations of an inline style, with where their values stand in it. */
function* declarationsIn(style: string): Generator<{ property: string; from: number; to: number }> {
  let at = 0;
  for (const declaration of blankRemarks(style).split(';')) {
    const colon = declaration.indexOf(':');
    if (colon > 0)
      yield {
        property: declaration.slice(0, colon).trim(),
        from: at + colon + 1,
        to: at + declaration.length,
      };
    at += declaration.length + 1;
  }
}

/** The declarations of a style sheet, with where their values stand in it. */
function* declarationsOf(sheet: string): Generator<{ property: string; from: number; to: number }> {
  const open: CssNode[] = [
    parse(sheet, { parseValue: false, parseCustomProperty: false, positions: true, onParseError: () => {} }),
  ];
  for (let node = open.pop(); node; node = open.pop()) {
    if (node.type === 'Declaration' && node.value.loc)
      yield {
        property: node.property,
        from: node.value.loc.start.offset,
        to: node.value.loc.end.offset,
      };
    else if (node.type === 'StyleSheet' || node.type === 'Block') open.push(...node.children);
    else if ((node.type === 'Rule' || node.type === 'Atrule') && node.block) open.push(node.block);
  }
}

/** Marks every colour that is written in a drawing, in the order of the text. @returns the places, by their marks' numbers */
export function markColors(root: XmlNode, text: string): Site[] {
  const sites: Site[] = [];
  /** A value with marks for its colours; null where it has none. */
  const marked = (
    value: string,
    declared: Iterable<{ from: number; to: number }>,
    at: number,
  ): string | null => {
    const parts: string[] = [];
    let done = 0;
    for (const { from, to } of declared)
      for (const color of colorsIn(blankRemarks(value.slice(from, to)))) {
        const own = { from: from + color.from, to: from + color.to };
        parts.push(value.slice(done, own.from), mark(sites.length));
        sites.push({ from: at + own.from, to: at + own.to, text: value.slice(own.from, own.to) });
        done = own.to;
      }
    return done === 0 ? null : parts.join('') + value.slice(done);
  };
  for (const node of everyElement(root)) {
    for (const { name, from, to } of node.source!.values) {
      const raw = text.slice(from, to);
      // numbers of characters in the place of them: what they stand for is not where they stand
      if (raw.includes('&')) continue;
      const declared =
        name === 'style'
          ? [...declarationsIn(raw)].filter((d) => canPaint(d.property))
          : PAINTS.has(name)
            ? [{ from: 0, to: raw.length }]
            : [];
      const own = declared.length > 0 ? marked(raw, declared, from) : null;
      if (own !== null) node.marked = { ...node.marked, [name]: own };
    }
    const content = node.name === 'style' ? contentOf(node, text) : null;
    if (!content) continue;
    const sheet = text
      .slice(content.from, content.to)
      .replace(/<!\[CDATA\[|\]\]>/g, (all) => ' '.repeat(all.length));
    if (sheet.trim() !== node.text.trim()) continue;
    const declared = [...declarationsOf(sheet)]
      .filter((d) => canPaint(d.property))
      .sort((a, b) => a.from - b.from);
    const own = marked(sheet, declared, content.from);
    if (own !== null) node.marked = { ...node.marked, '': own };
  }
  return sites;
}
