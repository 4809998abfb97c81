import type { Matrix } from '../../svg/drawing.ts';
import type { XmlNode } from '../../text/xml.ts';

// A drawing may be a sheet of chips: equal shapes, each filled with a colour, with its name beside it.

/** What the reader says of such a drawing. */
export const SHEET_OF_CHIPS =
  'It is a sheet of chips: only their fills were taken, without page and outlines.';

export interface Box {
  left: number;
  top: number;
  right: number;
  bottom: number;
}

/** A line of text where it begins on its base line. */
export interface TextLine {
  text: string;
  x: number;
  y: number;
}

/** So many equal shapes make a sheet. */
const MIN_CHIPS = 4;
/** Chips differ by less than this part of their size. */
const TOLERANCE = 0.03;
/** How long a chip may be for its width. */
const MAX_ASPECT = 8;
/** Chips overlap by less than this part. */
const MAX_OVERLAP = 0.1;
/** A drawing with more shapes is not taken for a sheet. */
const MAX_SHAPES = 5000;
const MAX_LINES = 20_000;

const widthOf = (b: Box) => b.right - b.left;
const heightOf = (b: Box) => b.bottom - b.top;

/**
 * The place of each chip among filled shapes, where they are a sheet of chips and nothing else but the page they lie on; else null.
 */
export function chipsAmong(boxes: readonly Box[]): Set<number> | null {
  const able = boxes.map((box, i) => ({ box, i })).filter(({ box }) => widthOf(box) > 0 && heightOf(box) > 0);
  if (able.length < MIN_CHIPS || able.length > MAX_SHAPES) return null;
  const near = (a: number, b: number) => Math.abs(a - b) <= TOLERANCE * Math.max(a, b);
  let best: typeof able = [];
  const taken = new Set<number>();
  for (const { box, i } of able) {
    if (taken.has(i)) continue;
    const [w, h] = [widthOf(box), heightOf(box)];
    if (Math.max(w / h, h / w) > MAX_ASPECT) continue;
    const alike = able.filter((o) => near(widthOf(o.box), w) && near(heightOf(o.box), h));
    for (const o of alike) taken.add(o.i);
    if (alike.length > best.length) best = alike;
  }
  if (best.length < MIN_CHIPS) return null;
  const rows = [...best].sort((a, b) => a.box.top - b.box.top);
  for (const [k, { box }] of rows.entries())
    for (let n = k + 1; n < rows.length && rows[n]!.box.top < box.bottom; n++) {
      const other = rows[n]!.box;
      const dx = Math.min(box.right, other.right) - Math.max(box.left, other.left);
      const dy = box.bottom - other.top;
      // what lies upon another is a drawing
      if (dx > MAX_OVERLAP * widthOf(box) && dy > MAX_OVERLAP * heightOf(box)) return null;
    }
  const own = best.map((b) => b.box);
  const chips = new Set(best.map((b) => b.i));
  return boxes.every((box, i) => chips.has(i) || isPage(box, own)) ? chips : null;
}

/** Whether a shape is the page that all others lie on. */
export function isPage(box: Box, all: readonly Box[]): boolean {
  const covers = (o: Box) =>
    box.left <= o.left && box.top <= o.top && box.right >= o.right && box.bottom >= o.bottom;
  return all.length > 2 && all.every(covers);
}

/** The lines of a text element, in the coordinates of the drawing. */
export function linesOf(node: XmlNode, matrix: Matrix | null): TextLine[] {
  const lines: TextLine[] = [];
  const number = (text: string | undefined, usual: number) => {
    const value = Number.parseFloat(text ?? '');
    return Number.isFinite(value) ? value : usual;
  };
  const whole = (n: XmlNode): string => [n.text, ...n.children.map(whole)].join(' ');
  const walk = (n: XmlNode, x0: number, y0: number): void => {
    const x = number(n.attributes.x, x0);
    let y = number(n.attributes.y, y0) + number(n.attributes.dy, 0);
    const own = n.children.filter((c) => /(?:^|:)tspan$/.test(c.name));
    const split = own.some((c) => c.attributes.y !== undefined || c.attributes.dy !== undefined);
    const text = (split ? n.text : whole(n)).replace(/\s+/g, ' ').trim();
    if (text !== '') lines.push({ text, x, y });
    if (!split) return;
    for (const c of own) {
      walk(c, x, y);
      y = number(c.attributes.y, y) + number(c.attributes.dy, 0);
    }
  };
  walk(node, 0, 0);
  if (!matrix) return lines;
  const [a, b, c, d, e, f] = matrix as readonly number[] as [number, number, number, number, number, number];
  return lines.map(({ text, x, y }) => ({ text, x: a * x + c * y + e, y: b * x + d * y + f }));
}

/** How far a line is from a chip in the direction it is looked for, chips; null where it lies elsewhere. */
type Side = (line: TextLine, box: Box) => number | null;
const within = (v: number, from: number, to: number) => v >= from && v <= to;
const SIDES: Side[] = [
  ({ x, y }, b) => (within(x, b.left, b.right) && within(y, b.top, b.bottom) ? 0 : null),
  ({ x, y }, b) =>
    within(x, b.left - 0.2 * widthOf(b), b.right) && y > b.bottom ? (y - b.bottom) / heightOf(b) : null,
  ({ x, y }, b) => (x >= b.right && within(y, b.top, b.bottom) ? (x - b.right) / widthOf(b) : null),
  ({ x, y }, b) =>
    within(x, b.left - 0.2 * widthOf(b), b.right) && y <= b.top ? (b.top - y) / heightOf(b) : null,
  ({ x, y }, b) => (x < b.left && within(y, b.top, b.bottom) ? (b.left - x) / widthOf(b) : null),
];
/** Farther off than this a line belongs to something else, chips. */
const MAX_AWAY = 1.5;

/** A colour's own code is what it is, and no name. */
const CODE = /^(?:#?[0-9a-f]{3,8}|(?:rgb|cmyk|hs[bl]|lab|[rgbcmykl])\b.*\d.*|[\d\s.,;/%°-]+)$/i;

/** What is written beside each chip, on the side where most have something; empty where a chip has nothing. */
export function namesBeside(chips: readonly Box[], lines: readonly TextLine[]): string[] {
  const none = chips.map(() => '');
  if (lines.length === 0 || lines.length > MAX_LINES || chips.length * lines.length > 4e6) return none;
  let best = { named: 0, names: none };
  for (const side of SIDES) {
    const own: TextLine[][] = chips.map(() => []);
    for (const line of lines) {
      let [nearest, least] = [-1, MAX_AWAY];
      chips.forEach((box, i) => {
        const away = side(line, box);
        if (away !== null && away < least) [nearest, least] = [i, away];
      });
      if (nearest >= 0) own[nearest]!.push(line);
    }
    const names = own.map((list) => {
      const sorted = list.sort((a, b) => a.y - b.y || a.x - b.x);
      return (sorted.find((l) => !CODE.test(l.text)) ?? sorted[0])?.text ?? '';
    });
    const named = names.filter(Boolean).length;
    if (named > best.named) best = { named, names };
  }
  return best.named >= chips.length / 2 ? best.names : none;
}
