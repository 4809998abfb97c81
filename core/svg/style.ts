import { compile } from 'css-select';
import { FormatError } from '../text/error.ts';
import { blankRemarks } from '../text/text.ts';
import { elements, type XmlNode } from '../text/xml.ts';
import { rulesOf } from './stylesheet.ts';

/** What is known of an element: its attributes and properties by name, custom ones (`--sea`) too. */
export type Style = Record<string, string | undefined>;

/** The custom properties of a style with those it inherits; no new object where it has none of its own. */
export function variablesIn(own: Style, inherited: Style | undefined): Style | undefined {
  let all = inherited;
  for (const key in own)
    if (key.startsWith('--')) {
      if (all === inherited) all = { ...inherited };
      all![key] = own[key];
    }
  return all;
}

/** What of a style is looked at. */
const WANTED = new Set([
  ...['fill', 'stroke', 'color', 'fill-opacity', 'stroke-opacity', 'visibility', 'opacity', 'display'],
  ...['stop-color', 'stop-opacity', 'stroke-width'],
  ...['marker', 'marker-start', 'marker-mid', 'marker-end', 'mask'],
]);
const MAX_VALUE_CHARACTERS = 1000;
/** Which properties are looked at, custom ones beside. */
type Wanted = (property: string) => boolean;

interface Declaration {
  property: string;
  value: string;
  /** Of declarations that meet the heaviest holds, and of equal ones the later. */
  weight: number;
}

/** Beyond every weight of a selector. */
const INLINE = 1e10;
const IMPORTANT = 1e11;

/** Those of a list of declarations that are looked at. */
function* declarationsIn(text: string, wanted: Wanted): Generator<Declaration> {
  for (const declaration of blankRemarks(text).split(';')) {
    const at = declaration.indexOf(':');
    if (at < 0 || at > 100) continue;
    const name = declaration.slice(0, at).trim();
    const property = name.startsWith('--') ? name : name.toLowerCase();
    if (!wanted(property) && !property.startsWith('--')) continue;
    const given = declaration.slice(at + 1, at + MAX_VALUE_CHARACTERS).trim();
    const value = given.replace(/\s*!\s*important$/i, '');
    yield { property, value, weight: INLINE + (value === given ? 0 : IMPORTANT) };
  }
}

/** Finds something out of a node once, however often it is drawn. */
export function once<T>(find: (node: XmlNode) => T): (node: XmlNode) => T {
  const known = new Map<XmlNode, T>();
  return (node) => {
    let found = known.get(node);
    if (found === undefined) {
      found = find(node);
      known.set(node, found);
    }
    return found;
  };
}

/** How often an element is held against a selector in one file. */
const MAX_TESTS = 1_000_000;
/** Classes of one element that are looked at. */
const MAX_CLASSES = 50;

interface Rule {
  matches: (node: XmlNode) => boolean;
  declared: Declaration[];
  order: number;
}

/** A selector's last part says what it can be of: an id, a class, a name, or anything. */
function keyOf(selector: string): string {
  const last = /[^\s>+~]*$/.exec(selector.replace(/\([^()]*\)|\[[^\]]*\]/g, ''))?.[0] ?? '';
  return /#[\w-]+/.exec(last)?.[0] ?? /\.[\w-]+/.exec(last)?.[0] ?? /^[a-z][\w-]*/i.exec(last)?.[0] ?? '*';
}

/** Lets css-select walk our tree. */
function adapterOf(root: XmlNode) {
  const parents = new Map<XmlNode, XmlNode>();
  const open = [root];
  for (let node = open.pop(); node; node = open.pop())
    for (const child of node.children) {
      parents.set(child, node);
      open.push(child);
    }
  return {
    isTag: (node: XmlNode): node is XmlNode => node.name !== '',
    getAttributeValue: (node: XmlNode, name: string) => node.attributes[name],
    getChildren: (node: XmlNode) => node.children,
    getName: (node: XmlNode) => node.name,
    getParent: (node: XmlNode) => parents.get(node) ?? null,
    getSiblings: (node: XmlNode) => parents.get(node)?.children ?? [node],
    getText: (node: XmlNode) => node.text,
    hasAttrib: (node: XmlNode, name: string) => node.attributes[name] !== undefined,
    removeSubsets: (nodes: XmlNode[]) => nodes,
  };
}

/** The rules of the file's style sheets that hold on a screen, by what they can be of; and how many are for other media. */
function rulesIn(root: XmlNode, wanted: Wanted) {
  const byKey = new Map<string, Rule[]>();
  const elsewhere = new Map<string, number>();
  let order = 0;
  let adapter: ReturnType<typeof adapterOf> | null = null;
  for (const { text: plain, attributes, marked } of elements(root, 'style')) {
    const text = marked?.[''] ?? plain;
    const media = attributes.media ? `@media ${attributes.media}{${text}}` : text;
    for (const { selectors, declared, medium } of rulesOf(media)) {
      const own = declared.flatMap(({ property, value, important }) => {
        const name = property.startsWith('--') ? property : property.toLowerCase();
        return wanted(name) || name.startsWith('--')
          ? [
              {
                property: name,
                value: value.slice(0, MAX_VALUE_CHARACTERS),
                weight: important ? IMPORTANT : 0,
              },
            ]
          : [];
      });
      if (own.length === 0) continue;
      if (medium) {
        elsewhere.set(medium, (elsewhere.get(medium) ?? 0) + 1);
        continue;
      }
      for (const { text: selector, weight } of selectors) {
        adapter ??= adapterOf(root);
        let matches: (node: XmlNode) => boolean;
        try {
          matches = compile(selector, { adapter, xmlMode: true });
        } catch {
          // a selector that nobody knows selects nothing
          continue;
        }
        const key = keyOf(selector);
        const rule = {
          matches,
          declared: own.map((d) => ({ ...d, weight: d.weight + weight })),
          order: ++order,
        };
        const known = byKey.get(key);
        if (known) known.push(rule);
        else byKey.set(key, [rule]);
      }
    }
  }
  return { byKey, elsewhere };
}

/** Looks up what attributes and style sheets say of an element (SVG 2, 6.3–6.4; CSS Cascade 4). */
export function styler(
  root: XmlNode,
  wanted: Wanted = (property) => WANTED.has(property),
): {
  styleOf: (node: XmlNode) => Style;
  /** Rules for other media, which were passed over: how many for each. */
  elsewhere: Map<string, number>;
} {
  const { byKey, elsewhere } = rulesIn(root, wanted);
  let tests = 0;
  const candidates = ({ name, attributes }: XmlNode): Rule[] => {
    if (byKey.size === 0) return [];
    const classes = new Set(
      (attributes.class ?? '').slice(0, 10_000).split(/\s+/, MAX_CLASSES).filter(Boolean),
    );
    const keys = ['*', name, ...[...classes].map((c) => `.${c}`), `#${attributes.id ?? ''}`];
    return keys.flatMap((key) => byKey.get(key) ?? []).sort((a, b) => a.order - b.order);
  };
  const styleOf = once((node) => {
    const found = new Map<string, Declaration>();
    const put = (declaration: Declaration) => {
      const before = found.get(declaration.property);
      if (!before || declaration.weight >= before.weight) found.set(declaration.property, declaration);
    };
    for (const { matches, declared } of candidates(node)) {
      if (++tests > MAX_TESTS)
        throw new FormatError('its style sheets say more of its elements than Papillon looks through.');
      if (matches(node)) declared.forEach(put);
    }
    const attributes: Style = node.marked ? { ...node.attributes, ...node.marked } : node.attributes;
    if (attributes.style)
      for (const declaration of declarationsIn(attributes.style, wanted)) put(declaration);
    if (found.size === 0) return attributes;
    // attributes give way to sheets, sheets to the element's own style
    const style: Style = { ...attributes };
    for (const { property, value } of found.values()) style[property] = value;
    return style;
  });
  return { styleOf, elsewhere };
}
