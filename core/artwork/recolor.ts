import { fromCss, screenOnly, toHex } from '../color/index.ts';
import type { Artwork, Part } from './parts.ts';
import { type Edit, edited, styleEdit } from './source.ts';

/** How a colour is written in a drawing: eight bits in sRGB, with what opacity was written into the one before. */
function written(hex: string, alpha: number, before = ''): string {
  if (alpha >= 1) return hex;
  const byte = Math.round(alpha * 255);
  // as many programs read eight digits as were asked to before
  if (before.startsWith('#')) return `${hex}${byte.toString(16).padStart(2, '0')}`;
  const n = Number.parseInt(hex.slice(1), 16);
  return `rgba(${n >> 16}, ${(n >> 8) & 255}, ${n & 255}, ${Number(alpha.toFixed(4))})`;
}

/**
 * A drawing with other colours. Where all that a written colour paints changes alike, that is written anew; where only some of it does, those
 * parts get a style of their own. Everything else stays to the letter.
 *
 * @param inline gives every part a style of its own, for programs that follow no rules of style sheets
 * @param changes the new colour of parts, `#rrggbb`, by their ids; parts that are not in it stay as they are
 */
export function recolored(
  { text, parts, sites, held }: Artwork,
  changes: ReadonlyMap<number, string>,
  inline = false,
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
    if (inline || hex === undefined || held.has(site) || !all.every((p) => changes.get(p.id) === hex))
      continue;
    const { from, to, text: before } = sites[site]!;
    done.add(site);
    const css = fromCss(before);
    // one that is the same already is not written in another way
    if (css && toHex(css.color, screenOnly) === hex) continue;
    edits.push({ from, to, text: written(hex, css?.alpha ?? 1, before) });
  }
  const own = new Map<Part['node'], string[]>();
  const important = /!\s*important/i.test(text) ? ' !important' : '';
  for (const part of parts) {
    const hex = changes.get(part.id);
    if (hex === undefined || (part.sites.length > 0 && part.sites.every((s) => done.has(s)))) continue;
    if (!inline && toHex(part.color, screenOnly) === hex) continue;
    const property = part.role === 'stop' ? 'stop-color' : part.role;
    const declared = `${property}:${written(hex, part.alpha)}${important}`;
    const known = own.get(part.node);
    if (known) known.push(declared);
    else own.set(part.node, [declared]);
  }
  for (const [node, declared] of own) edits.push(styleEdit(node, text, declared.join(';')));
  return edited(text, edits);
}
