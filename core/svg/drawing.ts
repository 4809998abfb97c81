import svgpath from 'svgpath';
import { childOf, type XmlNode } from '../text/xml.ts';
import { once, type Style, styler, variablesIn } from './style.ts';
import { withVariables } from './stylesheet.ts';

// What a drawing shows: its shapes as they are drawn, with what attributes, style sheets and groups say of them (SVG 2).

/** What is drawn only when something else refers to it. */
const NOT_DRAWN = new Set([
  'defs',
  'symbol',
  'clipPath',
  'mask',
  'pattern',
  'marker',
  'metadata',
  'style',
  'script',
]);
export const TEXT = new Set(['text', 'tspan', 'textPath']);
const SHAPES = new Set(['rect', 'circle', 'ellipse', 'line', 'polyline', 'polygon', 'path', ...TEXT]);
/** Names that programs give by themselves say nothing. */
const MACHINE_NAME =
  /^(rect|path|g|circle|ellipse|polygon|polyline|line|use|text|tspan|shape|object|layer|svg|group)[-_ ]?\d*$/i;

/** One character more than any notation of a colour has. */
export const MAX_PAINT_CHARACTERS = 501;
/** What a shape has of its own and of the groups it lies in. */
export interface Drawn {
  fill: string | undefined;
  stroke: string | undefined;
  color: string | undefined;
  fillOpacity: string | undefined;
  strokeOpacity: string | undefined;
  visibility: string | undefined;
  strokeWidth: string | undefined;
  opacity: number;
  variables: Style | undefined;
}

/** Keywords that stand for no value. */
export const INHERITS = /^(?:inherit|unset|revert|revert-layer)$/i;

export const drawn = (own: Style, inherited?: Drawn): Drawn => {
  const variables = variablesIn(own, inherited?.variables);
  /** A property that passes from a group to what is in it. */
  const passed = (value: string | undefined, before: string | undefined) => {
    if (value === undefined || INHERITS.test(value)) return before;
    const plain = value.includes('var(') ? withVariables(value, (name) => variables?.[name]) : value;
    // a value that leads nowhere is as good as none (CSS Custom Properties 1, 3.1)
    return plain === null ? before : plain.slice(0, MAX_PAINT_CHARACTERS);
  };
  return {
    fill: passed(own.fill, inherited?.fill),
    stroke: passed(own.stroke, inherited?.stroke),
    color: passed(own.color, inherited?.color),
    fillOpacity: passed(own['fill-opacity'], inherited?.fillOpacity),
    strokeOpacity: passed(own['stroke-opacity'], inherited?.strokeOpacity),
    visibility: passed(own.visibility, inherited?.visibility),
    strokeWidth: passed(own['stroke-width'], inherited?.strokeWidth),
    opacity: (inherited?.opacity ?? 1) * amount(passed(own.opacity, undefined)),
    variables,
  };
};

/** Of a long outline only the beginning is followed. */
export const MAX_OUTLINE_CHARACTERS = 20_000;
const NUMBER = /[-+]?(?:\d+\.?\d*|\.\d+)(?:e[-+]?\d+)?/gi;

/** Outline of a shape as path text. */
export function outline(node: XmlNode): string {
  const n = (key: string) => Number.parseFloat(node.attributes[key] ?? '') || 0;
  switch (node.name) {
    case 'rect':
      return `M${n('x')} ${n('y')}h${n('width')}v${n('height')}h${-n('width')}z`;
    case 'circle':
      return `M${n('cx') - n('r')} ${n('cy') - n('r')}L${n('cx') + n('r')} ${n('cy') + n('r')}`;
    case 'ellipse':
      return `M${n('cx') - n('rx')} ${n('cy') - n('ry')}L${n('cx') + n('rx')} ${n('cy') + n('ry')}`;
    case 'line':
      return `M${n('x1')} ${n('y1')}L${n('x2')} ${n('y2')}`;
    case 'polyline':
    case 'polygon': {
      const points = (node.attributes.points ?? '').slice(0, MAX_OUTLINE_CHARACTERS).match(NUMBER) ?? [];
      return points.length < 2 ? '' : `M${points.join(' ')}`;
    }
    case 'path':
      return node.attributes.d ?? '';
    default:
      return `M${n('x')} ${n('y')}`;
  }
}

/** a b c d e f of SVG: x' = a x + c y + e, y' = b x + d y + f. */
export type Matrix = [number, number, number, number, number, number];
const MAX_TRANSFORM_CHARACTERS = 10_000;
const SHORT_TRANSFORM = 1000;

/** What an element's own transform does. */
function matrixOf(transform: string): Matrix {
  // where three points go tells all of it; what cannot be read is left alone
  const ends: [number, number][] = [];
  svgpath('M0 0L1 0L0 1')
    .transform(transform.slice(0, MAX_TRANSFORM_CHARACTERS).replace(/\s+/g, ' ').slice(0, SHORT_TRANSFORM))
    .abs()
    .iterate(([, x, y]) => {
      ends.push([Number(x), Number(y)]);
    });
  const [[e, f], [ae, bf], [ce, df]] = ends;
  return [ae - e, bf - f, ce - e, df - f, e, f];
}

/** What an inner transform does inside another one. */
function within(outer: Matrix | null, inner: Matrix): Matrix {
  if (!outer) return inner;
  const [a, b, c, d, e, f] = outer;
  return [
    a * inner[0] + c * inner[1],
    b * inner[0] + d * inner[1],
    a * inner[2] + c * inner[3],
    b * inner[2] + d * inner[3],
    a * inner[4] + c * inner[5] + e,
    b * inner[4] + d * inner[5] + f,
  ];
}

/** A parsed drawing, with what is looked up in it again and again. */
export interface Drawing {
  root: XmlNode;
  styleOf: (node: XmlNode) => Style;
  /** Rules for other media, which were passed over: how many for each. */
  elsewhere: Map<string, number>;
  byId: Map<string, XmlNode>;
  /** A gradient's stops, or those of the gradient it refers to. */
  stopsOf: (gradient: XmlNode) => XmlNode[];
  transformOf: (node: XmlNode) => Matrix;
  parents: ReadonlyMap<XmlNode, XmlNode>;
  /** What holds for an element where it stands, whatever refers to it. */
  hereOf: (node: XmlNode) => Drawn;
}

export function drawingOf(root: XmlNode): Drawing {
  const byId = new Map<string, XmlNode>();
  const parents = new Map<XmlNode, XmlNode>();
  (function index(node: XmlNode) {
    if (node.attributes.id) byId.set(node.attributes.id, node);
    for (const child of node.children) {
      parents.set(child, node);
      index(child);
    }
  })(root);
  const looked = styler(root);
  return {
    root,
    byId,
    parents,
    ...looked,
    hereOf: once((node) => drawn(looked.styleOf(node), inheritedBy(node, { ...looked, parents }))),
    stopsOf: once((gradient) => allStops(gradient, byId)),
    transformOf: once((node) => matrixOf(node.attributes.transform!)),
  };
}

/** What an element has of the groups it lies in. */
export function inheritedBy(
  node: XmlNode,
  { styleOf, parents }: Pick<Drawing, 'styleOf' | 'parents'>,
): Drawn | undefined {
  const path: XmlNode[] = [];
  for (let at = parents.get(node); at; at = parents.get(at)) path.push(at);
  return path.reduceRight<Drawn | undefined>((above, at) => drawn(styleOf(at), above), undefined);
}

/** A shape as it is drawn. */
export interface Shape {
  node: XmlNode;
  style: Drawn;
  /** What it has of what lies around it. */
  inherited: Drawn | undefined;
  /** Where it is drawn; null where nothing moves it. */
  matrix: Matrix | null;
  /** The `use` that draws it, the innermost of several. */
  through: XmlNode | null;
}

export interface Looking {
  /** Whether to look at a node and what is in it. */
  enter(node: XmlNode): boolean;
  /** @returns false to pass over what is in it */
  shape(shape: Shape): boolean | undefined;
}

/**
 * Every shape that a node draws, in order, those that are drawn again through `use` too.
 * @param node the drawing's root, or what paints others: a pattern, a mask
 * @param inherited what it has of the groups it lies in
 */
export function eachShape(
  { styleOf, byId, transformOf }: Drawing,
  { enter, shape }: Looking,
  node: XmlNode,
  inherited?: Drawn,
): void {
  const walk = (
    node: XmlNode,
    inherited: Drawn | undefined,
    matrix: Matrix | null,
    depth: number,
    through: XmlNode | null,
  ) => {
    if (!enter(node) || (NOT_DRAWN.has(node.name) && depth > 0)) return;
    const own = styleOf(node);
    if (own.display === 'none') return;
    const style = drawn(own, inherited);
    const here = node.attributes.transform ? within(matrix, transformOf(node)) : matrix;
    if (
      SHAPES.has(node.name) &&
      style.visibility !== 'hidden' &&
      shape({ node, style, inherited, matrix: here, through }) === false
    )
      return;
    if (node.name === 'use') {
      const target = byId.get((node.attributes.href ?? '').replace(/^#/, ''));
      // a file may draw one shape many times, but not inside of itself without end
      if (target && depth < 20) {
        const [x, y] = ['x', 'y'].map((k) => Number.parseFloat(node.attributes[k] ?? '0') || 0);
        const there = within(here, [1, 0, 0, 1, x!, y!]);
        const parts = target.name === 'symbol' ? target.children : [target];
        for (const part of parts) walk(part, style, there, depth + 1, node);
      }
      return;
    }
    const children = node.name === 'switch' ? branchOf(node) : node.children;
    for (const child of children) walk(child, style, here, depth + 1, through);
  };
  walk(node, inherited, null, 0, null);
}

/** The language a drawing is thought to be looked at in. */
const LANGUAGE = /(?:^|,)\s*en\b/i;

/** The one child of a `switch` that is drawn (SVG 2, 5.9): the first whose conditions hold, else one for another language. */
function branchOf({ children }: XmlNode): XmlNode[] {
  const plain = children.filter(
    ({ name, attributes }) =>
      (SHAPES.has(name) || CONTAINERS.has(name)) && !attributes.requiredExtensions?.trim(),
  );
  const holds = ({ attributes: { systemLanguage } }: XmlNode) =>
    systemLanguage === undefined || LANGUAGE.test(systemLanguage);
  return [plain.find(holds) ?? plain[0] ?? []].flat();
}
const CONTAINERS = new Set(['g', 'a', 'svg', 'use', 'switch', 'image']);

export function amount(value: string | undefined): number {
  if (value === undefined) return 1;
  const text = value.trim();
  const n = Number.parseFloat(text) / (text.endsWith('%') ? 100 : 1);
  return Number.isFinite(n) ? Math.min(1, Math.max(0, n)) : 1;
}

/** What someone called a shape; empty when only a program did. */
export function labelOf(node: XmlNode): string {
  return (
    [
      childOf(node, 'title')?.text.trim(),
      node.attributes.label,
      node.attributes['aria-label'],
      node.attributes.id,
    ].find((n) => n && (n.length > 100 || !MACHINE_NAME.test(n))) ?? ''
  );
}

/** What a shape is painted with. */
export interface Paint {
  paint: string;
  stroke: boolean;
  alpha: number;
  /** The stop of a gradient that it is of. */
  stop?: XmlNode;
}

const SERVER = /^url\(\s*["']?#([^"')]+)["']?\s*\)/;
const SERVERS = new Set(['linearGradient', 'radialGradient', 'pattern']);

/** The patterns that a shape is painted with; one without content is what it refers to. */
export function patternsOf(style: Drawn, { byId }: Drawing): XmlNode[] {
  return [style.fill, style.stroke].flatMap((value) => {
    let node = byId.get(SERVER.exec(value?.trim() ?? '')?.[1] ?? '');
    for (let n = 0; n < 10 && node?.name === 'pattern' && node.children.length === 0; n++)
      node = byId.get((node.attributes.href ?? '').replace(/^#/, ''));
    return node?.name === 'pattern' ? [node] : [];
  });
}

/** The fill and stroke of one shape, gradients as their stops; black that nobody asked for is not counted. */
export function* paintsOf(style: Drawn, drawing: Drawing): Generator<Paint> {
  for (const stroke of [false, true]) {
    const value = (stroke ? style.stroke : style.fill)?.trim();
    if (!value || value === 'none' || value === 'transparent' || value === 'context-fill') continue;
    const alpha = style.opacity * amount(stroke ? style.strokeOpacity : style.fillOpacity);
    const server = SERVER.exec(value);
    const target = server ? drawing.byId.get(server[1]!) : undefined;
    // what leads nowhere is painted with what stands behind it (SVG 2, 13.2)
    const fallback =
      server && !(target && SERVERS.has(target.name)) ? value.slice(server[0].length).trim() : '';
    if (!server || fallback) {
      if (fallback !== 'none') yield { paint: currentOr(fallback || value, style), stroke, alpha };
    } else {
      const gradient = target;
      for (const stop of gradient ? drawing.stopsOf(gradient) : []) {
        const own = drawing.styleOf(stop);
        // a stop has its variables and its `color` of what it lies in itself, whatever it paints (SVG 2, 14.2.4)
        const here = drawing.hereOf(stop);
        const given = own['stop-color'] ?? 'black';
        const paint = given.includes('var(') ? withVariables(given, (name) => here.variables?.[name]) : given;
        yield {
          paint: currentOr(paint ?? 'black', here),
          stroke,
          alpha: alpha * amount(own['stop-opacity']),
          stop,
        };
      }
    }
  }
}

const currentOr = (paint: string, { color }: Drawn) =>
  paint.trim().toLowerCase() === 'currentcolor' ? (color ?? 'black') : paint.slice(0, MAX_PAINT_CHARACTERS);

/** A gradient's stops; one without takes those of the gradient it refers to. */
function allStops(gradient: XmlNode | undefined, byId: Map<string, XmlNode>, depth = 0): XmlNode[] {
  if (!gradient || depth > 10) return [];
  const own = gradient.children.filter((c) => c.name === 'stop');
  return own.length > 0
    ? own
    : allStops(byId.get((gradient.attributes.href ?? '').replace(/^#/, '')), byId, depth + 1);
}
