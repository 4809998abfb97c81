import svgpath from 'svgpath';
import { fromCss, toHex } from '../../color/index.ts';
import { type Format, FormatError, optionOf, textDecoder } from '../format.ts';
import { chipsOf, columnsOption } from '../sheet.ts';
import { plural, readText, short, writeText } from '../text.ts';
import { childOf, elements, escapeXml, parseXml, rootIs, type XmlNode } from '../xml.ts';

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
const TEXT = new Set(['text', 'tspan', 'textPath']);
const SHAPES = new Set(['rect', 'circle', 'ellipse', 'line', 'polyline', 'polygon', 'path', ...TEXT]);
/** Properties that pass from a group to what is in it. */
const INHERITED = ['fill', 'stroke', 'color', 'fill-opacity', 'stroke-opacity', 'visibility'];
/** Names that programs give by themselves say nothing. */
const MACHINE_NAME =
  /^(rect|path|g|circle|ellipse|polygon|polyline|line|use|text|tspan|shape|object|layer|svg|group)[-_ ]?\d*$/i;

type Style = Record<string, string | undefined>;

/** One paint found on a shape. */
interface Found {
  paint: string;
  stroke: boolean;
  alpha: number;
  name: string;
  left: number;
  top: number;
  bottom: number;
}

/** The rules of the file's style sheets with simple selectors; later and more exact ones win. */
function styleRules(root: XmlNode): { selector: string; weight: number; style: Style }[] {
  return [...elements(root, 'style')]
    .flatMap(({ text }) => [...text.replace(/\/\*[\s\S]*?\*\//g, '').matchAll(/([^{}]+)\{([^{}]*)\}/g)])
    .flatMap(([, selectors, body]) =>
      selectors.split(',').map((s) => {
        const selector = s.trim();
        return {
          selector,
          weight: selector.includes('#') ? 3 : selector.includes('.') ? 2 : 1,
          style: declarations(body),
        };
      }),
    )
    .filter((r) => /^[\w-]*([.#][\w-]+)?$/.test(r.selector))
    .sort((a, b) => a.weight - b.weight);
}

const declarations = (text: string): Style =>
  Object.fromEntries(
    text.split(';').flatMap((d) => {
      const at = d.indexOf(':');
      return at < 0
        ? []
        : [
            [
              d.slice(0, at).trim().toLowerCase(),
              d
                .slice(at + 1)
                .replace(/!important/, '')
                .trim(),
            ],
          ];
    }),
  );

/** Looks up what the style sheets say of an element. */
function styler(root: XmlNode): (node: XmlNode) => Style {
  const rules = new Map<string, { weight: number; style: Style }[]>();
  for (const { selector, weight, style } of styleRules(root)) {
    const known = rules.get(selector);
    if (known) known.push({ weight, style });
    else rules.set(selector, [{ weight, style }]);
  }
  const own = ({ attributes }: XmlNode): Style =>
    attributes.style ? { ...attributes, ...declarations(attributes.style) } : attributes;
  if (rules.size === 0) return own;
  return (node) => {
    const classes = (node.attributes.class ?? '').split(/\s+/).filter(Boolean);
    const keys = [
      node.name,
      ...classes.flatMap((c) => [`.${c}`, `${node.name}.${c}`]),
      `#${node.attributes.id ?? ''}`,
    ];
    const sheets = keys.flatMap((k) => rules.get(k) ?? []).sort((a, b) => a.weight - b.weight);
    // attributes give way to sheets, sheets to the element's own style
    return Object.assign(
      {},
      node.attributes,
      ...sheets.map((s) => s.style),
      declarations(node.attributes.style ?? ''),
    );
  };
}

/** Outline of a shape as path text, for its place on the page. */
function outline(node: XmlNode): string {
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
      const points = (node.attributes.points ?? '').match(/[-+]?(?:\d+\.?\d*|\.\d+)(?:e[-+]?\d+)?/gi) ?? [];
      return points.length < 2 ? '' : `M${points.join(' ')}`;
    }
    case 'path':
      return node.attributes.d ?? '';
    default:
      return `M${n('x')} ${n('y')}`;
  }
}

function boxOf(node: XmlNode, transforms: string[]): { left: number; top: number; bottom: number } {
  if (node.name === 'rect' && transforms.length === 0) {
    const [x, y, height] = ['x', 'y', 'height'].map((k) => Number.parseFloat(node.attributes[k] ?? '') || 0);
    return { left: x, top: y, bottom: y + height };
  }
  let [left, top, bottom] = [Number.POSITIVE_INFINITY, Number.POSITIVE_INFINITY, Number.NEGATIVE_INFINITY];
  let path = svgpath(outline(node).slice(0, 100_000));
  // innermost first; svgpath leaves a transform it cannot read alone
  for (const t of transforms.toReversed()) path = path.transform(t);
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
        bottom = Math.max(bottom, ends[i + 1]);
      }
    });
  return Number.isFinite(left) && Number.isFinite(top)
    ? { left, top, bottom }
    : { left: 0, top: 0, bottom: 0 };
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

export const svg: Format = {
  id: 'svg',
  name: 'SVG',
  about: 'Sheet of filled chips for drawing, cutting and web programs, in millimetres. Names as titles, RGB.',
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
    write: true,
    names: true,
    groups: false,
    kinds: ['process'],
    spaces: ['rgb'],
    bits: 8,
  },

  recognise: (bytes) => (rootIs(readText(bytes.subarray(0, 8192)), 'svg') ? 1 : 0),

  decode: textDecoder((text, draft, options) => {
    const [root] = parseXml(text).children;
    const found: Found[] = [];
    const styleOf = styler(root);
    const byId = new Map<string, XmlNode>();
    (function index(node: XmlNode) {
      if (node.attributes.id) byId.set(node.attributes.id, node);
      node.children.forEach(index);
    })(root);
    let texts = 0;
    let uses = 0;
    const walk = (node: XmlNode, inherited: Style, transforms: string[], depth: number) => {
      if (NOT_DRAWN.has(node.name) && depth > 0) return;
      const own = styleOf(node);
      if (own.display === 'none') return;
      const style: Style = { opacity: String(amount(inherited.opacity) * amount(own.opacity)) };
      for (const key of INHERITED)
        style[key] = own[key] === undefined || own[key] === 'inherit' ? inherited[key] : own[key];
      const here = node.attributes.transform ? [...transforms, node.attributes.transform] : transforms;
      if (TEXT.has(node.name) && !options?.text) {
        texts++;
        return;
      }
      if (SHAPES.has(node.name) && style.visibility !== 'hidden')
        paints(node, style, here, byId, styleOf, found);
      if (node.name === 'use') {
        const target = byId.get((node.attributes.href ?? '').replace(/^#/, ''));
        // a file may draw one shape many times, but not without end
        if (target && depth < 20 && uses++ < 10_000) {
          const shift = `translate(${Number.parseFloat(node.attributes.x ?? '0') || 0} ${Number.parseFloat(node.attributes.y ?? '0') || 0})`;
          const parts = target.name === 'symbol' ? target.children : [target];
          for (const part of parts) walk(part, style, [...here, shift], depth + 1);
        }
        return;
      }
      for (const child of node.children) walk(child, style, here, depth + 1);
    };
    walk(root, {}, [], 0);

    // a drawing uses a colour many times; a sheet of ours means each of its chips
    const sheet = root.attributes['data-sheet'] === 'papillon';
    const seen = new Set<string>();
    const named = new Set(found.filter((f) => f.name).map((f) => `${f.paint}/${f.alpha}`));
    const passed: string[] = [];
    for (const { paint, stroke, alpha, name } of sheet ? found : inReadingOrder(found)) {
      const key = `${paint}/${alpha}`;
      if (!sheet && (seen.has(`${key}/${name}`) || (!name && named.has(key)))) continue;
      seen.add(`${key}/${name}`);
      const css = fromCss(paint);
      if (!css) {
        passed.push(paint);
        continue;
      }
      const opacity = (css.alpha ?? 1) * alpha;
      draft.add({
        name,
        color: css.color,
        ...(opacity < 1 ? { alpha: opacity } : {}),
        ...(stroke ? { role: 'stroke' } : {}),
      });
    }
    if (texts > 0)
      draft.warn(`${plural(texts, 'piece')} of text ${texts === 1 ? 'was' : 'were'} passed over.`);
    if (passed.length > 0)
      draft.warn(
        `${plural(passed.length, 'paint is', 'paints are')} no colour Papillon reads: ${[...new Set(passed)].slice(0, 5).join(', ').slice(0, 200)}.`,
      );
    if (draft.count === 0 && !sheet) throw new FormatError('nothing in the drawing has a colour of its own.');
  }),

  encode(library, options) {
    const [columns, chip, gap] = ['columns', 'chip', 'gap'].map((id) => Number(optionOf(svg, options, id)));
    const names = optionOf(svg, options, 'names');
    const { chips, rows } = chipsOf(library, columns);
    const width = Math.max(1, Math.min(columns, chips.length)) * (chip + gap) - gap;
    const height = Math.max(1, rows) * (chip + gap) - gap;
    const mm = (v: number) => short(v, 3);
    const shapes = chips.map(({ swatch, column, row }) => {
      const title = names ? `<title>${escapeXml(swatch.name)}</title>` : '';
      const alpha = swatch.alpha === undefined || swatch.alpha === 1 ? '' : ` fill-opacity="${swatch.alpha}"`;
      return `<rect x="${mm(column * (chip + gap))}" y="${mm(row * (chip + gap))}" width="${mm(chip)}" height="${mm(chip)}" fill="${toHex(swatch.color)}"${alpha}${title ? `>${title}</rect>` : '/>'}\n`;
    });
    return writeText(
      `<svg xmlns="http://www.w3.org/2000/svg" data-sheet="papillon" width="${mm(width)}mm" height="${mm(height)}mm" viewBox="0 0 ${mm(width)} ${mm(height)}">\n${shapes.join('')}</svg>\n`,
    );
  },
};

function amount(value: string | undefined): number {
  const text = value?.trim() ?? '';
  const n = Number.parseFloat(text) / (text.endsWith('%') ? 100 : 1);
  return Number.isFinite(n) ? Math.min(1, Math.max(0, n)) : 1;
}

/** The fill and stroke of one shape, gradients as their stops; black that nobody asked for is not counted. */
function paints(
  node: XmlNode,
  style: Style,
  transforms: string[],
  byId: Map<string, XmlNode>,
  styleOf: (node: XmlNode) => Style,
  found: Found[],
): void {
  const box = boxOf(node, transforms);
  const label = [
    childOf(node, 'title')?.text.trim(),
    node.attributes.label,
    node.attributes['aria-label'],
    node.attributes.id,
  ].find((n) => n && !MACHINE_NAME.test(n));
  for (const [key, stroke] of [
    ['fill', false],
    ['stroke', true],
  ] as const) {
    const value = style[key]?.trim();
    if (!value || value === 'none' || value === 'transparent' || value === 'context-fill') continue;
    const alpha = amount(style.opacity) * amount(style[`${key}-opacity`]);
    const add = (paint: string, a: number) =>
      found.push({ ...box, paint, stroke, alpha: a, name: label ?? '' });
    const server = /^url\(\s*["']?#([^"')]+)["']?\s*\)/.exec(value);
    if (!server) add(value.toLowerCase() === 'currentcolor' ? (style.color ?? 'black') : value, alpha);
    else
      for (const stop of stopsOf(byId.get(server[1]), byId)) {
        const own = styleOf(stop);
        const color = own['stop-color'] ?? 'black';
        add(
          color.toLowerCase() === 'currentcolor' ? (style.color ?? 'black') : color,
          alpha * amount(own['stop-opacity']),
        );
      }
  }
}

/** A gradient's stops; one without takes those of the gradient it refers to. */
function stopsOf(gradient: XmlNode | undefined, byId: Map<string, XmlNode>, depth = 0): XmlNode[] {
  if (!gradient || depth > 10) return [];
  const own = gradient.children.filter((c) => c.name === 'stop');
  return own.length > 0
    ? own
    : stopsOf(byId.get((gradient.attributes.href ?? '').replace(/^#/, '')), byId, depth + 1);
}
