import { computedCss } from '../color/computed-css.ts';
import { screenOnly, toHex } from '../color/index.ts';
import { type Edit, edited } from '../text/edit.ts';
import { short } from '../text/text.ts';
import type { Artwork, Part } from './parts.ts';
import { sizeOf } from './size.ts';
import { attributeEdit, styleEdit } from './source.ts';

/** How a colour is written in a drawing: eight bits in sRGB, with what opacity was written into the one before. */
function written(hex: string, alpha: number, before = ''): string {
  if (alpha >= 1) return hex;
  const byte = Math.round(alpha * 255);
  // as many programs read eight digits as were asked to before
  if (before.startsWith('#')) return `${hex}${byte.toString(16).padStart(2, '0')}`;
  const n = Number.parseInt(hex.slice(1), 16);
  return `rgba(${n >> 16}, ${(n >> 8) & 255}, ${n & 255}, ${Number(alpha.toFixed(4))})`;
}

/** How a drawing is written. */
export interface Writing {
  /** Gives every part a style of its own, for programs that follow no rules of style sheets. */
  inline?: boolean;
  /** Lets parts say which swatch they have: by a class, or by a custom property of its name. */
  links?: Links;
  /** Parts that are lines along their shape, by their ids: `#rrggbb`, and how wide, in the units of the shape. */
  lines?: ReadonlyMap<number, { hex: string; width: number }>;
  /** Parts that are not painted at all. */
  without?: ReadonlySet<number>;
  /** The size it states, mm. */
  size?: { width: number; height: number };
  /** Writes colours without the opacity that stood in them. */
  opaque?: boolean;
  /** Further rules of style sheets, for pictures that are only looked at. */
  rules?: string;
}
export interface Links {
  as: 'classes' | 'variables';
  /** The swatch of a part, by the part's id, as an identifier and its `#rrggbb`. */
  of: ReadonlyMap<number, { name: string; hex: string }>;
}

const propertyOf = ({ role }: Part) => (role === 'stop' ? 'stop-color' : role);

/** What makes links of parts, and the style sheet that they lead to. A part whose colour is written with opacity has none: it would lose that. */
function* linkEdits(
  parts: readonly Part[],
  { as, of }: Links,
  text: string,
  root: Part['node'],
  declare: (node: Part['node'], declared: string) => void,
): Generator<Edit> {
  const rules = new Set<string>();
  const classes = new Map<Part['node'], string[]>();
  for (const part of parts) {
    const link = of.get(part.id);
    if (!link || part.alpha < 1) continue;
    const { name, hex } = link;
    const property = propertyOf(part);
    if (as === 'variables') {
      rules.add(`--${name}:${hex}`);
      // who knows no variables has the colour as it is written beside
      declare(part.node, `${property}:var(--${name},${hex})`);
    } else {
      const own = `${property === 'stop-color' ? 'stop' : property}-${name}`;
      rules.add(`.${own}{${property}:${hex}}`);
      classes.set(part.node, [...(classes.get(part.node) ?? []), own]);
    }
  }
  for (const [node, names] of classes) yield attributeEdit(node, text, 'class', names.join(' '), ' ');
  if (rules.size === 0) return;
  const sheet = as === 'variables' ? `:root{${[...rules].join(';')}}` : [...rules].join('');
  yield { from: root.source!.open, to: root.source!.open, text: `<style>${sheet}</style>` };
}

/** What lets a drawing state a size in mm. */
function* sizeEdits(
  root: Part['node'],
  text: string,
  { view }: Artwork['size'],
  { width, height }: { width: number; height: number },
): Generator<Edit> {
  const values = { width: `${short(width, 4)}mm`, height: `${short(height, 4)}mm` };
  for (const [name, value] of Object.entries(values)) {
    const known = root.source!.values.find((v) => v.name === name);
    if (known) yield { from: known.from, to: known.to, text: value };
    else yield attributeEdit(root, text, name, value, '');
  }
  if (!root.attributes.viewBox) yield attributeEdit(root, text, 'viewBox', view.join(' '), '');
}

/**
 * A drawing with other colours. Where all that a written colour paints changes alike, that is rewritten; where only some of it does, those
 * parts get a style of their own. Everything else stays to the letter.
 *
 * @param changes the new colour of parts, `#rrggbb`, by their ids; parts that are not in it stay as they are
 */
export function recolored(
  { text, root, parts, sites, held }: Artwork,
  changes: ReadonlyMap<number, string>,
  { inline = false, links, lines, without, size, opaque = false, rules }: Writing = {},
): string {
  const users = new Map<number, Part[]>();
  for (const part of parts)
    for (const site of part.sites) {
      const known = users.get(site);
      if (known) known.push(part);
      else users.set(site, [part]);
    }
  const edits: Edit[] = [];
  const done = new Set<number>();
  for (const [site, all] of users) {
    const hex = changes.get(all[0]!.id);
    const apart = (p: Part) => changes.get(p.id) !== hex || lines?.has(p.id) || without?.has(p.id);
    if (inline || hex === undefined || held.has(site) || all.some(apart)) continue;
    const { from, to, text: before } = sites[site]!;
    done.add(site);
    const css = computedCss(before);
    // one that is the same already is not written in another way
    if (css && toHex(css.color, screenOnly) === hex) continue;
    edits.push({ from, to, text: written(hex, opaque ? 1 : (css?.alpha ?? 1), before) });
  }
  const own = new Map<Part['node'], string[]>();
  const declare = (node: Part['node'], declared: string) => {
    const known = own.get(node);
    if (known) known.push(declared);
    else own.set(node, [declared]);
  };
  const important = /!\s*important/i.test(text) ? ' !important' : '';
  const bare = new Set<Part>();
  const lined = new Set<Part['node']>();
  for (const part of parts) {
    const line = lines?.get(part.id);
    const gone = without?.has(part.id);
    if (!line && !gone) continue;
    const said =
      line && part.role !== 'stop'
        ? `${part.role === 'fill' ? 'fill:none;' : ''}stroke:${line.hex};stroke-width:${Number(line.width.toPrecision(6))}`
        : part.role === 'stop'
          ? 'stop-opacity:0'
          : `${part.role}:none`;
    bare.add(part);
    if (line) lined.add(part.node);
    for (const node of part.shared && part.through.length > 0 ? part.through : [part.node])
      declare(node, important ? said.replace(/(?=;|$)/g, important) : said);
  }
  for (const part of parts) {
    if (bare.has(part) || (part.role === 'stroke' && lined.has(part.node))) continue;
    const hex = changes.get(part.id);
    if (hex === undefined || (!part.unwritten && part.sites.every((s) => done.has(s)))) continue;
    if (!inline && toHex(part.color, screenOnly) === hex) continue;
    const declared = `${propertyOf(part)}:${written(hex, opaque ? 1 : part.alpha)}${important}`;
    // where a shape is drawn in several colours, what draws it says which
    if (!part.shared || part.through.length === 0) declare(part.node, declared);
    else
      for (const node of part.through)
        declare(node, part.current ? `color:${written(hex, opaque ? 1 : part.alpha)}${important}` : declared);
  }
  // a piece of text that does not change says so, where the text around it now says otherwise
  for (const part of parts) {
    if (!part.around || !own.get(part.around)?.some((d) => d.startsWith(`${propertyOf(part)}:`))) continue;
    if (own.get(part.node)?.some((d) => d.startsWith(`${propertyOf(part)}:`))) continue;
    const hex = changes.get(part.id) ?? toHex(part.color, screenOnly);
    declare(part.node, `${propertyOf(part)}:${written(hex, opaque ? 1 : part.alpha)}${important}`);
  }
  // the artwork may have been given another size than its text states
  const stated = sizeOf(root);
  if (size && (stated.unit === 'px' || stated.width !== size.width))
    edits.push(...sizeEdits(root, text, stated, size));
  if (rules) edits.push({ from: root.source!.open, to: root.source!.open, text: `<style>${rules}</style>` });
  if (links) edits.push(...linkEdits(parts, links, text, root, declare));
  for (const [node, declared] of own) edits.push(styleEdit(node, text, declared.join(';')));
  return edited(text, edits);
}
