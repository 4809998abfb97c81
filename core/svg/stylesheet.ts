import type { Atrule, CssNode, Declaration, Selector } from 'css-tree';
import generate from 'css-tree/generator';
import parse from 'css-tree/parser';
import { FormatError } from '../text/error.ts';
import { blankRemarks } from '../text/text.ts';

/** One declaration of a style sheet. */
export interface Declared {
  property: string;
  value: string;
  important: boolean;
  /** What our own writer says in a comment behind it. */
  remark?: string;
}

/** A rule of a style sheet, laid out flat. */
export interface StyleRule {
  selectors: { text: string; weight: number }[];
  declared: Declared[];
  /** What it is for beside a plain light screen, in words such as `dark` or `print`; empty when for all. */
  medium: string;
}

/** More rules than any sheet of colours or drawing has, and brackets in brackets. */
const MAX_RULES = 100_000;
const MAX_DECLARATIONS = 200_000;
const MAX_DEPTH = 100;
const MAX_SELECTOR_CHARACTERS = 400;

/** @throws FormatError when brackets lie so deep that no parser would come back */
function refuseDeep(text: string): void {
  let depth = 0;
  // found by a search, which passes the rest by quicker than a look at every character
  for (const { 0: c } of text.matchAll(/[{}()[\]]/g)) {
    if (c === '{' || c === '(' || c === '[') {
      if (++depth > MAX_DEPTH)
        throw new FormatError(`its style sheet has brackets more than ${MAX_DEPTH} deep.`);
    } else if (depth > 0) depth--;
  }
}

/** The comment behind a declaration in which our own writer keeps a name. */
const REMARK = /;([ \t]*\/\* "(?:[^"\\\n]|\\.)*" \*\/)/g;
const OWN_REMARK = /\/\* ("(?:[^"\\\n]|\\.)*") \*\/\s*$/;

/**
 * The rules of a style sheet in order, those inside of others laid out flat (CSS Syntax 3, CSS Nesting 1). What cannot be parsed is
 * passed over, as CSS says.
 * @throws FormatError when it is more than any sheet is
 */
export function rulesOf(text: string): StyleRule[] {
  refuseDeep(text);
  const rules: StyleRule[] = [];
  const registered: Declared[] = [];
  let declarations = 0;
  let count = 0;
  const walk = (nodes: Iterable<CssNode>, within: StyleRule['selectors'], medium: string) => {
    const own: Declared[] = [];
    for (const node of nodes) {
      if (node.type === 'Declaration') {
        if (++declarations > MAX_DECLARATIONS)
          throw new FormatError(`it has more than ${MAX_DECLARATIONS.toLocaleString('en')} declarations.`);
        own.push(declaredOf(node));
      } else if (node.type === 'Rule') {
        if (++count > MAX_RULES)
          throw new FormatError(`its style sheets have more than ${MAX_RULES.toLocaleString('en')} rules.`);
        const inner = node.prelude.type === 'SelectorList' ? [...node.prelude.children] : [];
        walk(node.block.children, nested(within, inner as Selector[]), medium);
      } else if (node.type === 'Atrule' && node.name.toLowerCase() === 'property') {
        const initial = initialOf(node);
        if (initial) registered.push(initial);
      } else if (node.type === 'Atrule' && node.block && !NO_RULES.has(node.name.toLowerCase()))
        walk(node.block.children, within, joined(medium, mediumOf(node)));
    }
    if (own.length > 0) rules.push({ selectors: within, declared: own, medium });
  };
  // our own remarks come before the ends of what they are about, where they are part of the value
  const sheet = parse(text.includes('/* "') ? text.replace(REMARK, '$1;') : text, {
    parseValue: false,
    parseCustomProperty: false,
    onParseError: () => {},
  });
  if (sheet.type === 'StyleSheet') walk(sheet.children, [], '');
  // what a property is where no rule says otherwise
  return registered.length > 0
    ? [{ selectors: [{ text: ':root', weight: -1 }], declared: registered, medium: '' }, ...rules]
    : rules;
}

/** Blocks that style nothing. */
const NO_RULES = new Set(['keyframes', '-webkit-keyframes', 'font-face', 'counter-style', 'page']);

/** The value that `@property` gives a custom property at first (CSS Properties and Values 1, 3). */
function initialOf({ prelude, block }: Atrule): Declared | null {
  const property = prelude ? generate(prelude).trim() : '';
  for (const node of block?.children ?? [])
    if (
      node.type === 'Declaration' &&
      node.property.toLowerCase() === 'initial-value' &&
      property.startsWith('--')
    )
      return { ...declaredOf(node), property };
  return null;
}

const IMPORTANT = /\s*!\s*important\s*$/i;

function declaredOf({ property, value, important }: Declaration): Declared {
  const whole = value.type === 'Raw' ? value.value : generate(value);
  const remark = whole.endsWith('/') ? OWN_REMARK.exec(whole)?.[1] : undefined;
  const text = remark === undefined ? blankRemarks(whole) : blankRemarks(whole.replace(OWN_REMARK, ''));
  const marked = text.includes('!') && IMPORTANT.test(text);
  return {
    property,
    // a custom property takes everything up to its end for its value
    value: (marked ? text.replace(IMPORTANT, '') : text).trim(),
    important: important === true || marked,
    ...(remark === undefined ? {} : { remark }),
  };
}

/** Selectors of a rule inside of others: each of these before it, or in the place of its `&`. */
function nested(within: StyleRule['selectors'], inner: Selector[]): StyleRule['selectors'] {
  const own = inner.flatMap((selector) => {
    const text = generate(selector);
    return text.length > MAX_SELECTOR_CHARACTERS ? [] : [{ text, weight: weightOf(selector) }];
  });
  if (within.length === 0) return own;
  return own.flatMap((o) =>
    within.slice(0, 20).map((w) => ({
      text: o.text.includes('&') ? o.text.replaceAll('&', w.text) : `${w.text} ${o.text}`,
      weight: w.weight + o.weight,
    })),
  );
}

/** What a selector weighs (Selectors 4, 17): ids, then classes, attributes and pseudo-classes, then elements, as one number. */
function weightOf(selector: CssNode): number {
  if (!('children' in selector) || !selector.children) return 0;
  let weight = 0;
  for (const part of selector.children) {
    if (part.type === 'IdSelector') weight += 1e6;
    else if (part.type === 'ClassSelector' || part.type === 'AttributeSelector') weight += 1e3;
    else if (part.type === 'TypeSelector') weight += part.name === '*' ? 0 : 1;
    else if (part.type === 'PseudoElementSelector') weight += 1;
    else if (part.type === 'PseudoClassSelector') {
      const name = part.name.toLowerCase();
      if (name === 'where') continue;
      if (name !== 'is' && name !== 'not' && name !== 'has') weight += 1e3;
      else
        for (const list of part.children ?? [])
          if (list.type === 'SelectorList') weight += Math.max(0, ...[...list.children].map(weightOf));
    }
  }
  return weight;
}

const joined = (a: string, b: string) => (a && b && a !== b ? `${a}, ${b}` : a || b);

/** The window a drawing is thought to be looked at in, CSS pixels. */
const [WIDTH, HEIGHT] = [1280, 800];

/** What a block is for, in words; empty when it holds for a plain light screen. */
function mediumOf({ name, prelude }: Atrule): string {
  const text = prelude ? generate(prelude).toLowerCase() : '';
  if (/^(?:media|import)$/i.test(name)) return mediaIn(text);
  if (/^supports$/i.test(name)) {
    if (/display-p3|rec2020|color-gamut|a98-rgb|prophoto/.test(text)) return 'wide gamut';
    return /^\s*not\b/.test(text) ? 'older programs' : '';
  }
  return '';
}

/** Media queries (Media Queries 5) in words: the first that holds here counts, else the first. */
function mediaIn(text: string): string {
  const words = text.split(',').map((query) => {
    const type = /^\s*(?:only\s+)?(not\s+)?(all|screen|print|speech|tv|projection)?\b/.exec(query);
    const negated = type?.[1] !== undefined;
    if (type?.[2] && !['all', 'screen'].includes(type[2]) && !negated) return type[2];
    let found = negated && ['all', 'screen'].includes(type?.[2] ?? '') ? 'other media' : '';
    for (const [, feature] of query.matchAll(/\(([^()]*)\)/g)) found = joined(found, featureIn(feature!));
    return found;
  });
  return words.includes('') ? '' : words[0]!;
}

/** A feature in words; empty when a plain light screen has it. */
function featureIn(feature: string): string {
  const [name = '', value = ''] = feature.split(':').map((p) => p.trim());
  if (name === 'prefers-color-scheme') return value === 'dark' ? 'dark' : '';
  if (name === 'color-gamut') return value === 'srgb' ? '' : 'wide gamut';
  if (name === 'dynamic-range' || name === 'video-dynamic-range') return value === 'high' ? 'wide gamut' : '';
  if (name === 'prefers-contrast')
    return value === 'more' || value === 'custom' ? 'high contrast' : value === 'less' ? 'low contrast' : '';
  if (name === 'forced-colors') return value === 'active' ? 'high contrast' : '';
  if (name === 'inverted-colors') return value === 'inverted' ? 'inverted' : '';
  if (name === 'monochrome' || name === 'min-monochrome') return 'monochrome';
  const size = /^(min|max)-(width|height)$/.exec(name);
  const pixels = Number.parseFloat(value) * (/r?em$/.test(value) ? 16 : 1);
  if (size && Number.isFinite(pixels)) {
    const here = size[2] === 'width' ? WIDTH : HEIGHT;
    return (size[1] === 'min' ? here >= pixels : here <= pixels) ? '' : `${name} ${value}`;
  }
  return '';
}

/** A value with its `var()`s in the place of which their own values stand; null when one leads nowhere or too far. */
export function withVariables(value: string, lookUp: (name: string) => string | undefined): string | null {
  let steps = 0;
  const resolve = (text: string, depth: number): string | null => {
    if (!text.includes('var(')) return text;
    if (depth > MAX_VARIABLES || ++steps > MAX_STEPS || text.length > MAX_VALUE_CHARACTERS) return null;
    const at = text.indexOf('var(');
    let end = at + 4;
    for (let open = 1; end < text.length && open > 0; end++) {
      if (text[end] === '(') open++;
      else if (text[end] === ')') open--;
    }
    const inside = text.slice(at + 4, end - 1);
    const comma = inside.indexOf(',');
    const name = (comma < 0 ? inside : inside.slice(0, comma)).trim();
    const own = lookUp(name);
    let replaced = own === undefined ? null : resolve(own, depth + 1);
    // what leads nowhere has what stands behind its comma instead (CSS Custom Properties 1, 3)
    if (replaced === null && comma >= 0) replaced = resolve(inside.slice(comma + 1).trim(), depth + 1);
    return replaced === null ? null : resolve(text.slice(0, at) + replaced + text.slice(end), depth + 1);
  };
  return resolve(blankRemarks(value), 0);
}
const MAX_VARIABLES = 40;
const MAX_STEPS = 200;
const MAX_VALUE_CHARACTERS = 2000;
