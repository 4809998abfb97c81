import { computedCss } from '../color/computed-css.ts';
import { type Color, screenOnly, toHex } from '../color/index.ts';
import {
  drawingOf,
  eachShape,
  INHERITS,
  inheritedBy,
  labelOf,
  type Matrix,
  paintsOf,
  type Shape,
  TEXT,
} from '../svg/drawing.ts';
import { FormatError } from '../text/error.ts';
import type { XmlNode } from '../text/xml.ts';
import { areaOf } from './area.ts';
import { cleanArtwork } from './clean.ts';
import { markColors, type Site, siteOf } from './marks.ts';
import { type ArtworkSize, sizeOf } from './size.ts';

/** More shapes than anybody recolours. */
const MAX_SHAPES = 50_000;
/** What is drawn again and again counts each time. */
const MAX_LOOKED_AT = 400_000;

/** Something that is painted with one colour: the fill or stroke of a shape, or a stop of a gradient. */
export interface Part {
  id: number;
  /** The same as long as the drawing's text is: where its element stands in it, and what of that is painted. */
  key: string;
  node: XmlNode;
  role: 'fill' | 'stroke' | 'stop';
  color: Color;
  /** What the drawing itself writes into the colour, 0–1. */
  alpha: number;
  /** Where the colour is written, as numbers of {@link Artwork.sites}: nowhere, once, or where the shape is drawn in several ways. */
  sites: number[];
  /** Whether it has its colour, somewhere it is drawn, from no such place: black that nobody asked for, or what is written in another way. */
  unwritten: boolean;
  /** The `use`s that it is drawn through, where it has its colour of what lies around it. */
  through: XmlNode[];
  /** Whether its shape is painted in other ways where it is drawn again. */
  shared: boolean;
  /** Whether it is painted with the `color` of what draws it. */
  current: boolean;
  /** The text that it is a piece of, where it has its colour of that. */
  around?: XmlNode;
  /** What someone called it, or the nearest group around it; empty when nobody did. */
  name: string;
  /** The nearest group around it that has a name. */
  layer: string;
  /** Square units of the drawing, by its outline; what lies over it is not taken away. */
  area: number;
  /** Of a stop: the number of the first part of its gradient. */
  gradient?: number;
  /** Of a stroke, in units of the drawing. */
  width?: number;
  /** The shapes that it paints, each with how that is moved, turned and scaled there; null where nothing does. */
  drawn: { node: XmlNode; matrix: Matrix | null }[];
}

/** A drawing that can be recoloured. */
export interface Artwork {
  /** The drawing, cleaned. */
  text: string;
  root: XmlNode;
  size: ArtworkSize;
  parts: Part[];
  sites: Site[];
  /** Places that masks are painted with, which say how opaque something is. */
  held: ReadonlySet<number>;
  /** What was taken out or passed over, in words. */
  warnings: string[];
}

/** A colour of an artwork. */
export interface PaintedColor {
  /** `#rrggbb`, as a screen shows it. */
  hex: string;
  color: Color;
  parts: readonly { id: number }[];
  /** Of all that is painted, 0–1. */
  share: number;
  /** What its parts are called, each once. */
  names: string[];
  /** The ink it is, or a tint of, %. */
  ink?: { name: string; kind: 'spot' | 'technical'; percent: number };
}

/** A colour of a drawing with the parts that have it; for its share see {@link Part.area}. */
export interface ArtworkColor extends PaintedColor {
  parts: Part[];
}

export type ColorOrder = 'area' | 'position' | 'appearance';

/** Black that nobody asked for (SVG 2, 13.2): what a shape is filled with when nothing says. */
const UNASKED = 'black';

/**
 * Reads a drawing for recolouring.
 * @param text SVG
 * @throws FormatError when it is not sound SVG, or more than can be looked through
 */
export function readArtwork(text: string): Artwork {
  const { text: clean, root, warnings } = cleanArtwork(text);
  const sites = markColors(root, clean);
  const drawing = drawingOf(root);
  const { parents } = drawing;

  const parts: Part[] = [];
  const byPlace = new Map<XmlNode, Map<string, Part>>();
  const paintings = new Set<string>();
  const unread = new Set<string>();
  /** Every way in which a shape is filled and stroked. */
  const paintedIn = new Map<XmlNode, Set<string>>();
  const textPaints = new Map<XmlNode, Set<string>>();
  let [looked, shapes] = [0, 0];
  const enter = () => {
    if (++looked > MAX_LOOKED_AT)
      throw new FormatError(
        `it draws more than ${MAX_LOOKED_AT.toLocaleString('en')} things, those that are drawn again counted each time. Divide it.`,
      );
    return true;
  };

  const put = (
    node: XmlNode,
    role: Part['role'],
    paint: string,
    area: number,
    named: XmlNode,
    through: XmlNode | null,
    around: XmlNode | undefined,
    matrix: Matrix | null,
    width?: number,
    current = false,
  ) => {
    const site = siteOf(paint);
    const css = computedCss(site === null ? paint : (sites[site]?.text ?? ''));
    if (!css) {
      if (unread.size < 5) unread.add(paint.slice(0, 60));
      return;
    }
    const own = byPlace.get(node) ?? new Map<string, Part>();
    byPlace.set(node, own);
    // drawn again in other colours, a shape has a part for each
    const key = `${role} ${toHex(css.color, screenOnly)}`;
    const known = own.get(key);
    if (known) {
      known.area += area;
      known.drawn.push({ node: named, matrix });
      if (through && !known.through.includes(through)) known.through.push(through);
      if (site === null) known.unwritten = true;
      else if (!known.sites.includes(site)) known.sites.push(site);
      return;
    }
    const layer = layerOf(named, parents);
    const part: Part = {
      id: parts.length,
      key: '',
      node,
      role,
      drawn: [{ node: named, matrix }],
      ...(width === undefined ? {} : { width }),
      color: css.color,
      alpha: css.alpha ?? 1,
      sites: site === null ? [] : [site],
      unwritten: site === null,
      through: through ? [through] : [],
      ...(around ? { around } : {}),
      current,
      shared: false,
      name: labelOf(named) || layer,
      layer,
      area,
    };
    own.set(key, part);
    parts.push(part);
  };

  const shape = ({ node, style, inherited, matrix, through }: Shape) => {
    if (++shapes > MAX_SHAPES)
      throw new FormatError(
        `it has more than ${MAX_SHAPES.toLocaleString('en')} shapes. Join what belongs together, or divide it.`,
      );
    const isText = TEXT.has(node.name);
    const outer = isText ? parents.get(node)! : undefined;
    const around = outer && textPaints.get(outer);
    const declared = drawing.styleOf(node);
    const bare = (property: 'fill' | 'stroke') => {
      const own = declared[property];
      return own === undefined || INHERITS.test(own.trim());
    };
    const inherits = (property: 'fill' | 'stroke') =>
      bare(property) ||
      // a variable that leads nowhere
      (declared[property]!.includes('var(') && style[property] === inherited?.[property]);
    const mine = new Set<string>();
    const paints = [...paintsOf(style, drawing)];
    const areas = areaOf(node, matrix, style.strokeWidth);
    // a line encloses nothing
    if (style.fill === undefined && areas.fill > 0)
      paints.unshift({ paint: UNASKED, stroke: false, alpha: 1 });
    for (const property of ['fill', 'stroke'] as const) {
      const value = style[property] ?? '';
      const key = `${property} ${/^\s*currentcolor\s*$/i.test(value) ? style.color : value}`;
      const ways = paintedIn.get(node) ?? new Set<string>();
      paintedIn.set(node, ways.add(key));
    }
    for (const { paint, stroke, stop } of paints) {
      const key = `${stroke} ${paint}`;
      mine.add(key);
      // a piece of text that has the colour of the text around it is of one part with it
      const property = stroke ? 'stroke' : 'fill';
      if (around?.has(key) && bare(property)) continue;
      const area = stroke ? areas.stroke : areas.fill;
      if (stop) put(stop, 'stop', paint, area / paints.length, node, null, undefined, matrix);
      else {
        const own = inherits(property);
        const current = /^\s*currentcolor\s*$/i.test(style[property] ?? '') && declared.color === undefined;
        put(
          node,
          property,
          paint,
          area,
          node,
          own || current ? through : null,
          bare(property) && around ? outer : undefined,
          matrix,
          stroke ? areas.width : undefined,
          current && !own,
        );
      }
    }
    if (isText) textPaints.set(node, mine);
    for (const value of [style.fill, style.stroke, ...MARKERS.map((m) => node.attributes[m])]) {
      const id = /^url\(\s*["']?#([^"')]+)/.exec(value ?? '')?.[1];
      if (id) paintings.add(id);
    }
    return true;
  };
  eachShape(drawing, { enter, shape }, root);
  // patterns and markers are drawn where something is painted with them, and may be so with others
  for (const id of paintings) {
    const node = drawing.byId.get(id);
    if (node && (node.name === 'pattern' || node.name === 'marker'))
      eachShape(drawing, { enter, shape }, node, inheritedBy(node, drawing));
  }

  for (const [node, own] of byPlace)
    for (const [way, part] of own) {
      const { from } = node.source!;
      // what is drawn again in another colour is distinguished by that
      const several = [...own.values()].filter((p) => p.role === part.role).length > 1;
      part.key = several ? `${from} ${way}` : `${from} ${part.role}`;
    }
  const gradients = new Map<XmlNode, number>();
  for (const part of parts) {
    if (part.role !== 'stop') continue;
    const gradient = parents.get(part.node)!;
    if (!gradients.has(gradient)) gradients.set(gradient, part.id);
    part.gradient = gradients.get(gradient)!;
  }
  for (const part of parts) {
    const ways = [...(paintedIn.get(part.node) ?? [])].filter((w) => w.startsWith(`${part.role} `));
    part.shared = ways.length > 1;
  }

  const held = new Set<number>();
  for (const node of drawing.byId.values())
    if (node.name === 'mask')
      eachShape(
        drawing,
        {
          enter,
          shape: ({ style }) => {
            for (const { paint } of paintsOf(style, drawing)) {
              const site = siteOf(paint);
              if (site !== null) held.add(site);
            }
            return true;
          },
        },
        node,
        inheritedBy(node, drawing),
      );

  for (const [medium, n] of drawing.elsewhere)
    warnings.push(
      `${n} rule${n === 1 ? ' is' : 's are'} for “${medium}” and ${n === 1 ? 'was' : 'were'} passed over.`,
    );
  if (unread.size > 0)
    warnings.push(`Paints that Papillon cannot read as colours: ${[...unread].join(', ').slice(0, 200)}.`);
  return { text: clean, root, size: sizeOf(root), parts, sites, held, warnings };
}
const MARKERS = ['marker', 'marker-start', 'marker-mid', 'marker-end'];

/** The nearest group around a node that someone named. */
function layerOf(node: XmlNode, parents: ReadonlyMap<XmlNode, XmlNode>): string {
  for (let at = parents.get(node); at && at.name !== 'svg'; at = parents.get(at)) {
    const name = labelOf(at);
    if (name) return name;
  }
  return '';
}

/** Every colour of a drawing once, with its parts; what is written in five ways is one. */
export function colorsOf({ parts }: Artwork, order: ColorOrder = 'area'): ArtworkColor[] {
  const byHex = new Map<string, ArtworkColor>();
  const whole = parts.reduce((sum, p) => sum + p.area, 0);
  for (const part of parts) {
    const hex = toHex(part.color, screenOnly);
    const known = byHex.get(hex);
    const one = known ?? { hex, color: part.color, parts: [], share: 0, names: [] };
    if (!known) byHex.set(hex, one);
    one.parts.push(part);
    one.share += whole > 0 ? part.area / whole : 0;
    if (part.name && !one.names.includes(part.name)) one.names.push(part.name);
  }
  const colors = [...byHex.values()];
  if (order === 'area') return colors.sort((a, b) => b.share - a.share);
  // as they are drawn, or as they are written
  if (order === 'position') return colors;
  const first = new Map(colors.map((c) => [c, Math.min(...c.parts.map((p) => p.node.source!.from))]));
  return colors.sort((a, b) => first.get(a)! - first.get(b)!);
}
