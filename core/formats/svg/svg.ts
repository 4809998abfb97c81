import svgpath from 'svgpath';
import { computedCss } from '../../color/computed-css.ts';
import { fromRgb8, screenOnly, spaces, toHex } from '../../color/index.ts';
import { plainStops } from '../../gradient/index.ts';
import { optionOf } from '../../options.ts';
import {
  amount,
  type Drawing,
  drawingOf,
  eachShape,
  inheritedBy,
  type Looking,
  labelOf,
  MAX_OUTLINE_CHARACTERS,
  MAX_PAINT_CHARACTERS,
  type Matrix,
  outline,
  paintsOf,
  patternsOf,
  TEXT,
} from '../../svg/drawing.ts';
import { gradientsOf, resolvedStops, type Stop } from '../../swatch/gradient.ts';
import { allSwatches } from '../../swatch/model.ts';
import { FormatError } from '../../text/error.ts';
import { plural, short, writeText } from '../../text/text.ts';
import { elements, escapeXml, parseXml, rootIs, type XmlNode } from '../../text/xml.ts';
import { xmlDecoder } from '../draft.ts';
import type { PlainFormat } from '../format.ts';
import { chipsOf, columnsOption } from '../sheet.ts';
import {
  type Box,
  chipsAmong,
  isPage,
  linesOf,
  namesBeside,
  SHEET_OF_CHIPS,
  type TextLine,
} from './chips.ts';

/** So much of a drawing is looked at: what it draws again and again counts each time. */
const MAX_PAINTS = 80_000;
const MAX_LOOKED_AT = 200_000;
/** On a sheet of our own: as many as any file may have. */
const MAX_CHIPS = 150_000;
const MAX_CHARACTERS = 16_000_000;

/** One paint found on a shape. */
interface Found {
  paint: string;
  stroke: boolean;
  alpha: number;
  name: string;
  /** The number of its shape. */
  shape: number;
  left: number;
  top: number;
  right: number;
  bottom: number;
}

/** When so much has been followed, of the others only where they begin. */
const MAX_OUTLINES = 3_000_000;
const SHORT_OUTLINE = 100;
const MAX_LINES = 20_000;

function boxOf(node: XmlNode, matrix: Matrix | null, longest: number): Box {
  if (node.name === 'rect' && !matrix) {
    const n = (text = '') => Number.parseFloat(text) || 0;
    const { x, y, width, height } = node.attributes;
    return { left: n(x), top: n(y), right: n(x) + n(width), bottom: n(y) + n(height) };
  }
  let [left, top] = [Number.POSITIVE_INFINITY, Number.POSITIVE_INFINITY];
  let [right, bottom] = [Number.NEGATIVE_INFINITY, Number.NEGATIVE_INFINITY];
  let path = svgpath(outline(node).slice(0, longest));
  if (matrix) path = path.matrix(matrix);
  path
    .abs()
    .unshort()
    .iterate((segment, _, x, y) => {
      const numbers = segment.slice(1) as number[];
      const ends =
        segment[0] === 'A'
          ? numbers.slice(5)
          : segment[0] === 'H'
            ? [numbers[0], y]
            : segment[0] === 'V'
              ? [x, numbers[0]]
              : numbers;
      for (let i = 0; i + 1 < ends.length; i += 2) {
        left = Math.min(left, ends[i]);
        top = Math.min(top, ends[i + 1]);
        right = Math.max(right, ends[i]);
        bottom = Math.max(bottom, ends[i + 1]);
      }
    });
  return Number.isFinite(left) && Number.isFinite(top)
    ? { left, top, right, bottom }
    : { left: 0, top: 0, right: 0, bottom: 0 };
}

/** In reading order: rows from the top, each from the left. What begins above a row's middle belongs to it. */
function inReadingOrder(found: Found[]): Found[] {
  const rest = found.map((f, i) => ({ f, i })).sort((a, b) => a.f.top - b.f.top || a.i - b.i);
  const rows: (typeof rest)[] = [];
  let end = Number.NEGATIVE_INFINITY;
  for (const one of rest) {
    if (one.f.top >= end || rows.length === 0) {
      rows.push([]);
      end = one.f.top + (one.f.bottom - one.f.top) / 2;
    }
    rows.at(-1)!.push(one);
  }
  return rows.flatMap((row) => row.sort((a, b) => a.f.left - b.f.left || a.i - b.i).map((r) => r.f));
}

/**
 * The paints to be taken where a drawing is a sheet of chips, or is to be read as one: fills alone, without the page they lie on, with
 * the names that are written beside them; null where all are taken.
 */
function asChips(
  found: readonly Found[],
  lines: readonly TextLine[],
  wanted: boolean | undefined,
): { found: Found[]; isSheet: boolean } | null {
  if (wanted === false) return null;
  const fills = found.filter((f) => !f.stroke);
  const perShape = new Map<number, number>();
  for (const { shape } of fills) perShape.set(shape, (perShape.get(shape) ?? 0) + 1);
  // what has several paints is filled with a gradient
  const plain = fills.filter((f) => perShape.get(f.shape) === 1);
  const chips = plain.length === perShape.size ? chipsAmong(plain) : null;
  if (!chips && !wanted) return null;
  const own = chips ? plain.filter((_, i) => chips.has(i)) : fills.filter((f) => !isPage(f, fills));
  const names = namesBeside(own, lines);
  return { found: own.map((f, i) => ({ ...f, name: f.name || names[i]! })), isSheet: chips !== null };
}

export const svg: PlainFormat = {
  id: 'svg',
  name: 'SVG',
  about:
    'Sheet of filled chips for drawing, cutting and web programs, in millimetres. Names as titles, RGB, gradients as bars.',
  endings: ['svg'],
  mime: 'image/svg+xml',
  options: [
    { ...columnsOption },
    { id: 'chip', label: 'Chip', type: 'number', min: 2, max: 200, initial: 15, unit: 'mm' },
    { id: 'gap', label: 'Gap', type: 'number', min: 0, max: 50, initial: 2, unit: 'mm' },
    { id: 'names', label: 'Names as titles', type: 'boolean', initial: true },
  ],
  traits: {
    read: true,
    text: true,
    write: true,
    names: true,
    groups: false,
    kinds: ['process'],
    spaces: ['rgb'],
    bits: 8,
  },

  recognise: (bytes) => (rootIs(bytes, 'svg') ? 1 : 0),

  decode: xmlDecoder((text, draft, options) => {
    const [root] = parseXml(text).children;
    const found: Found[] = [];
    const drawing = drawingOf(root!);
    let texts = 0;
    let shapes = 0;
    const lines: TextLine[] = [];
    let looked = 0;
    const sofar = { characters: 0, outlines: 0 };
    // a drawing uses a colour many times; a sheet of ours means each of its chips
    const sheet = root!.attributes['data-sheet'] === 'papillon';
    const [mostPaints, mostLookedAt] = sheet ? [MAX_CHIPS, 3 * MAX_CHIPS] : [MAX_PAINTS, MAX_LOOKED_AT];
    const enough = () =>
      found.length >= mostPaints || looked > mostLookedAt || sofar.characters > MAX_CHARACTERS;
    const tiles = new Set<XmlNode>();
    const looking: Looking = {
      enter(node) {
        looked++;
        // on our own sheet a bar shows a gradient, whose colours its chips are
        return !enough() && !(sheet && node.attributes['data-gradient'] !== undefined);
      },
      shape({ node, style, matrix }) {
        if (TEXT.has(node.name) && lines.length < MAX_LINES) lines.push(...linesOf(node, matrix));
        if (TEXT.has(node.name) && !options?.text) {
          texts++;
          return false;
        }
        const longest = sofar.outlines < MAX_OUTLINES ? MAX_OUTLINE_CHARACTERS : SHORT_OUTLINE;
        const { left, top, right, bottom } = boxOf(node, matrix, longest);
        shapes++;
        sofar.outlines += Math.min(longest, (node.attributes.d ?? node.attributes.points ?? '').length);
        const name = labelOf(node);
        for (const { paint, stroke, alpha } of paintsOf(style, drawing)) {
          // written out, since there may be a hundred thousand
          found.push({ paint, stroke, alpha, name, shape: shapes, left, top, right, bottom });
          sofar.characters += name.length + paint.length;
        }
        // a pattern has its colours once, wherever it is painted
        for (const tile of patternsOf(style, drawing)) {
          if (tiles.has(tile)) continue;
          tiles.add(tile);
          eachShape(drawing, looking, tile, inheritedBy(tile, drawing));
        }
        return true;
      },
    };
    eachShape(drawing, looking, root!);
    if (enough())
      draft.warn(
        `It draws more than Papillon looks at; the colours of the first ${plural(Math.min(looked, mostLookedAt), 'element')} were read.`,
      );

    const seen = new Set<string>();
    const known = new Map<string, ReturnType<typeof computedCss>>();
    const read = (paint: string) => {
      let css = known.get(paint);
      if (css === undefined) {
        css = computedCss(paint);
        known.set(paint, css);
      }
      return css;
    };
    const keyOf = ({ color, alpha = 1 }: NonNullable<ReturnType<typeof computedCss>>, more: number) =>
      `${toHex(color, screenOnly)} ${spaces[color.space].gamut === 'rgb' ? '' : color.components} ${Math.round(alpha * more * 255)}`;
    const named = new Set(
      found.flatMap((f) => {
        const css = f.name ? read(f.paint) : null;
        return css ? [keyOf(css, f.alpha)] : [];
      }),
    );
    const unknown = new Set<string>();
    let unread = 0;
    const chips = sheet ? null : asChips(found, lines, options?.chips as boolean | undefined);
    if (chips?.isSheet) draft.warn(SHEET_OF_CHIPS);
    for (const { paint, stroke, alpha, name } of sheet ? found : inReadingOrder(chips?.found ?? found)) {
      const css = read(paint);
      if (!css) {
        unread++;
        if (unknown.size < 5) unknown.add(paint.slice(0, 60));
        continue;
      }
      // one colour written in five ways is one
      const key = keyOf(css, alpha);
      if (!sheet && (seen.has(`${key}/${name}`) || (!name && named.has(key)))) continue;
      seen.add(`${key}/${name}`);
      const opacity = (css.alpha ?? 1) * alpha;
      draft.add({
        name,
        color: css.color,
        ...(opacity < 1 ? { alpha: opacity } : {}),
        ...(stroke ? { role: 'stroke' } : {}),
      });
    }
    for (const [medium, n] of drawing.elsewhere)
      draft.warn(
        `${plural(n, 'rule is', 'rules are')} for “${medium}” and ${n === 1 ? 'was' : 'were'} passed over.`,
      );
    for (const gradient of gradientsIn(drawing)) draft.addGradient(gradient);
    // on a sheet of chips they are the names
    if (texts > 0 && !chips)
      draft.warn(`${plural(texts, 'piece')} of text ${texts === 1 ? 'was' : 'were'} passed over.`);
    if (unread > 0)
      draft.warn(
        `${plural(unread, 'paint')} cannot be read as a colour: ${[...unknown].join(', ').slice(0, 200)}.`,
      );
    if (draft.count === 0 && !sheet) throw new FormatError('nothing in the drawing has a colour of its own.');
  }),

  encode(library, { condition }, options) {
    const [columns, chip, gap] = ['columns', 'chip', 'gap'].map((id) => Number(optionOf(svg, options, id)));
    const names = optionOf(svg, options, 'names');
    const { chips, rows } = chipsOf(library, columns);
    const width = Math.max(1, Math.min(columns, chips.length)) * (chip + gap) - gap;
    const height = Math.max(1, rows) * (chip + gap) - gap;
    const mm = (v: number) => short(v, 3);
    const byId = new Map(allSwatches(library).map((s) => [s.id, s]));
    const gradients = gradientsOf(library);
    // gradients follow the chips, a bar for each
    const whole = chips.length === 0 ? 4 * (chip + gap) : width;
    const below = chips.length === 0 ? 0 : height + gap;
    const bars = gradients.map((gradient, i) => {
      const y = below + i * (chip + gap);
      const title = names ? `<title>${escapeXml(gradient.name)}</title>` : '';
      return `<rect data-gradient="" x="0" y="${mm(y)}" width="${mm(whole)}" height="${mm(chip)}" fill="url(#gradient-${i + 1})"${title ? `>${title}</rect>` : '/>'}\n`;
    });
    const defs = gradients.map((gradient, i) => {
      const stops = plainStops(
        gradient.data,
        resolvedStops(gradient, (id) => byId.get(id)),
        condition,
      ).map((s) => {
        const [r, g, b] = s.rgb.map((v) => Math.round(v * 255)) as [number, number, number];
        const opacity = s.alpha < 1 ? ` stop-opacity="${short(s.alpha, 4)}"` : '';
        return `<stop offset="${short(s.at, 5)}" stop-color="${toHex(fromRgb8(r, g, b), condition)}"${opacity}/>`;
      });
      return `<linearGradient id="gradient-${i + 1}"><title>${escapeXml(gradient.name)}</title>${stops.join('')}</linearGradient>\n`;
    });
    const tall = gradients.length > 0 ? below + gradients.length * (chip + gap) - gap : height;
    const wide = gradients.length > 0 ? whole : width;
    const shapes = chips.map(({ swatch, column, row }) => {
      const title = names ? `<title>${escapeXml(swatch.name)}</title>` : '';
      const alpha = swatch.alpha === undefined || swatch.alpha === 1 ? '' : ` fill-opacity="${swatch.alpha}"`;
      return `<rect x="${mm(column * (chip + gap))}" y="${mm(row * (chip + gap))}" width="${mm(chip)}" height="${mm(chip)}" fill="${toHex(swatch.color, condition)}"${alpha}${title ? `>${title}</rect>` : '/>'}\n`;
    });
    return writeText(
      `<svg xmlns="http://www.w3.org/2000/svg" data-sheet="papillon" width="${mm(wide)}mm" height="${mm(tall)}mm" viewBox="0 0 ${mm(wide)} ${mm(tall)}">\n${defs.length > 0 ? `<defs>\n${defs.join('')}</defs>\n` : ''}${shapes.join('')}${bars.join('')}</svg>\n`,
    );
  },
};

/** More gradients than this no drawing means. */
const MAX_GRADIENTS = 2000;

/** The gradients of a drawing, each with the stops it shows; mixed in sRGB, or in linear light where it says so (SVG 1.1, 13.2). */
function* gradientsIn({
  root,
  byId,
  styleOf,
  stopsOf,
}: Drawing): Generator<{ name: string; way: 'srgb' | 'linear'; stops: Omit<Stop, 'ref'>[] }> {
  let n = 0;
  const services = new Set([...byId.values()].flatMap((o) => o.attributes.href ?? []));
  for (const kind of ['linearGradient', 'radialGradient'])
    for (const node of elements(root, kind)) {
      if (++n > MAX_GRADIENTS) return;
      const stops: Omit<Stop, 'ref'>[] = [];
      let before = 0;
      for (const stop of stopsOf(node)) {
        const own = styleOf(stop);
        const css = computedCss((own['stop-color'] ?? 'black').slice(0, MAX_PAINT_CHARACTERS));
        if (!css) continue;
        before = Math.max(before, amount(stop.attributes.offset ?? '0'));
        const alpha = (css.alpha ?? 1) * amount(own['stop-opacity']);
        stops.push({ color: css.color, at: before, ...(alpha < 1 ? { alpha } : {}) });
      }
      // one that only lends its stops to others is reported with them
      if (stops.length < 2 || services.has(`#${node.attributes.id}`)) continue;
      const linear = node.attributes['color-interpolation'] === 'linearRGB';
      yield { name: labelOf(node) || `Gradient ${n}`, way: linear ? 'linear' : 'srgb', stops };
    }
}
