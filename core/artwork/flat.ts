import { styler } from '../svg/style.ts';
import { type Edit, edited } from '../text/edit.ts';
import type { Artwork } from './parts.ts';
import { recolored, type Writing } from './recolor.ts';
import { asValue, everyElement, parseArtwork, styleEdit } from './source.ts';

/** Presentation attributes (SVG 2, 6.6) that change what is seen. */
const PRESENTATION = new Set(
  'clip-path clip-rule color display dominant-baseline baseline-shift fill fill-opacity fill-rule font-family font-size font-style font-variant font-weight letter-spacing marker marker-end marker-mid marker-start mask opacity overflow stop-color stop-opacity stroke stroke-dasharray stroke-dashoffset stroke-linecap stroke-linejoin stroke-miterlimit stroke-opacity stroke-width text-anchor text-decoration visibility word-spacing'.split(
    ' ',
  ),
);

/**
 * A drawing with other colours, whose elements say themselves what style sheets say of them: for programs that follow few rules.
 * @param changes see {@link recolored}
 */
export function flattened(
  artwork: Artwork,
  changes: ReadonlyMap<number, string>,
  { lines }: Pick<Writing, 'lines'> = {},
): string {
  const text = recolored(artwork, changes, { inline: true, ...(lines ? { lines } : {}) });
  const root = parseArtwork(text);
  const { styleOf } = styler(root, (property) => PRESENTATION.has(property));
  const edits: Edit[] = [];
  for (const node of everyElement(root)) {
    const { name, source, attributes } = node;
    if (name === 'style') {
      edits.push({ from: source!.from, to: source!.to, text: '' });
      continue;
    }
    const style = styleOf(node);
    const own = Object.entries(style).filter(([p, v]) => v !== attributes[p] && PRESENTATION.has(p));
    if (own.length > 0)
      edits.push(styleEdit(node, text, own.map(([p, v]) => `${p}:${asValue(v!)}`).join(';'), true));
  }
  return edited(text, edits);
}
