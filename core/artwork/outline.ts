import svgpath from 'svgpath';
import { outline, TEXT } from '../svg/drawing.ts';
import { edited } from '../text/edit.ts';
import { FormatError } from '../text/error.ts';
import { short } from '../text/text.ts';
import type { XmlNode } from '../text/xml.ts';
import { type Artwork, type Part, readArtwork } from './parts.ts';
import { unitOf } from './size.ts';
import { asValue, contentOf } from './source.ts';

/** A line around shapes, as it is drawn. */
export interface DrawnOutline {
  /** Keys of the parts it goes around. */
  of: string[];
  /** mm outside of them; negative inside. */
  offset: number;
  /** Of the line, mm. */
  width: number;
}

/** How far a curve may be from the straight pieces that stand for it, mm: finer than any cutter. */
const FINE = 0.01;
/** The grid that lines are found on, to a mm. */
const GRID = 10_000;
const MAX_POINTS = 400_000;

export type Point = [number, number];

/** The outline of a shape as path text, with round corners and curves. */
function contour(node: XmlNode): string {
  const n = (key: string) => Number.parseFloat(node.attributes[key] ?? '') || 0;
  const round = (cx: number, cy: number, rx: number, ry: number) =>
    `M${cx - rx} ${cy}A${rx} ${ry} 0 0 1 ${cx + rx} ${cy}A${rx} ${ry} 0 0 1 ${cx - rx} ${cy}Z`;
  if (node.name === 'circle') return round(n('cx'), n('cy'), n('r'), n('r'));
  if (node.name === 'ellipse') return round(n('cx'), n('cy'), n('rx'), n('ry'));
  if (node.name === 'polygon') return `${outline(node)}Z`;
  if (node.name !== 'rect') return outline(node);
  const [x, y, w, h] = [n('x'), n('y'), n('width'), n('height')];
  // one radius stands for both (SVG 2, 7.4)
  const rx = Math.min(n('rx') || n('ry'), w / 2);
  const ry = Math.min(n('ry') || n('rx'), h / 2);
  if (rx === 0 || ry === 0) return outline(node);
  const corner = (dx: number, dy: number) => `a${rx} ${ry} 0 0 1 ${dx} ${dy}`;
  return `M${x + rx} ${y}H${x + w - rx}${corner(rx, ry)}V${y + h - ry}${corner(-rx, ry)}H${x + rx}${corner(-rx, -ry)}V${y + ry}${corner(rx, -ry)}Z`;
}

/** The straight pieces of a shape where it is drawn, in units of the drawing. @param fine how far they may be off */
function pieces(
  { node, matrix }: Part['drawn'][number],
  fine: number,
): { points: Point[]; closed: boolean }[] {
  const found: { points: Point[]; closed: boolean }[] = [];
  let now: Point[] = [];
  const end = (closed: boolean) => {
    if (now.length > 1) found.push({ points: now, closed });
    now = [];
  };
  const path = svgpath(contour(node)).abs().unshort();
  // arcs become cubics, which keep their shape under any matrix
  (matrix ? path.unarc().matrix(matrix) : path.unarc()).abs().iterate((segment, _, x, y) => {
    const [kind, ...v] = segment as [string, ...number[]];
    const at: Point = now.at(-1) ?? [x, y];
    if (kind === 'M') {
      end(false);
      now = [[v[0]!, v[1]!]];
    } else if (kind === 'Z') end(true);
    else if (kind === 'H') now.push([v[0]!, y]);
    else if (kind === 'V') now.push([x, v[0]!]);
    else if (kind === 'L') now.push([v[0]!, v[1]!]);
    else {
      const points: Point[] = [at];
      for (let i = 0; i < v.length; i += 2) points.push([v[i]!, v[i + 1]!]);
      // the handles' way bounds how far a curve is from its chord
      let length = 0;
      for (let i = 1; i < points.length; i++)
        length += Math.hypot(points[i]![0] - points[i - 1]![0], points[i]![1] - points[i - 1]![1]);
      const steps = Math.min(500, Math.max(2, Math.ceil(Math.sqrt(length / fine / 2))));
      for (let s = 1; s <= steps; s++) now.push(onCurve(points, s / steps));
    }
    if (now.length > MAX_POINTS) throw tooMuch();
  });
  end(false);
  return found;
}

const tooMuch = () =>
  new FormatError('the shapes are too finely drawn for a line around them. Simplify them first.');

/** A point of a Bézier curve by de Casteljau. */
function onCurve(points: readonly Point[], t: number): Point {
  let row = [...points];
  while (row.length > 1)
    row = row
      .slice(1)
      .map(([x, y], i): Point => [row[i]![0] + t * (x - row[i]![0]), row[i]![1] + t * (y - row[i]![1])]);
  return row[0]!;
}

export const noShape = () =>
  new FormatError('text has no shape before it is turned into outlines. Do so, or choose other parts.');

/** The line around shapes of a drawing as path text. @throws FormatError where there is nothing to go around */
async function around(artwork: Artwork, { of, offset }: DrawnOutline): Promise<string> {
  const unit = unitOf(artwork.size);
  const wanted = new Set(of);
  const parts = artwork.parts.filter((p) => wanted.has(p.key));
  if (parts.some((p) => p.drawn.some((d) => TEXT.has(d.node.name)))) throw noShape();
  const shapes = parts.map((part) => ({
    pieces: part.drawn.flatMap((d) => pieces(d, FINE / unit)),
    stroke: part.role === 'stroke' ? (part.width ?? 1) : null,
  }));
  const line = await lineAround(shapes, offset, unit);
  return line.map((path) => `M${path.map(([x, y]) => `${short(x, 4)} ${short(y, 4)}`).join('L')}Z`).join('');
}

/** The straight pieces of a shape. */
export interface Outlined {
  pieces: { points: Point[]; closed: boolean }[];
  /** How wide it is stroked, in its own units; null where it is filled. */
  stroke: number | null;
}

/**
 * The line around shapes, in their units: together, outside of their strokes, with round joins, without the holes.
 *
 * @param offset mm
 * @param unit mm in a unit
 * @throws FormatError where there is nothing to go around
 */
export async function lineAround(
  parts: readonly Outlined[],
  offset: number,
  unit: number,
): Promise<Point[][]> {
  const { default: clipper } = await import('clipper-lib');
  const grid = ([x, y]: Point) => ({ X: Math.round(x * unit * GRID), Y: Math.round(y * unit * GRID) });
  const shapes: ReturnType<typeof grid>[][] = [];
  const grown = (paths: ReturnType<typeof grid>[][], by: number, end: number) => {
    const maker = new clipper.ClipperOffset(2, FINE * GRID);
    maker.AddPaths(paths, clipper.JoinType.jtRound, end);
    const out: ReturnType<typeof grid>[][] = [];
    maker.Execute(out, by);
    return out;
  };
  let points = 0;
  for (const part of parts) {
    const all = part.pieces;
    points += all.reduce((sum, p) => sum + p.points.length, 0);
    if (points > MAX_POINTS) throw tooMuch();
    if (part.stroke === null) {
      const closed = all.map((p) => p.points.map(grid));
      // both ways round count, as for nonzero filling
      shapes.push(...closed.map((path) => (clipper.Clipper.Orientation(path) ? path : path.reverse())));
      continue;
    }
    // a stroke covers half its width on both sides
    const half = (part.stroke * unit * GRID) / 2;
    for (const closed of [true, false]) {
      const own = all.filter((p) => p.closed === closed).map((p) => p.points.map(grid));
      if (own.length === 0) continue;
      shapes.push(...grown(own, half, clipper.EndType.etOpenRound));
      if (closed) shapes.push(...own.map((p) => (clipper.Clipper.Orientation(p) ? p : p.reverse())));
    }
  }
  const union = new clipper.Clipper();
  union.AddPaths(shapes, clipper.PolyType.ptSubject, true);
  const together: ReturnType<typeof grid>[][] = [];
  const { pftNonZero } = clipper.PolyFillType;
  union.Execute(clipper.ClipType.ctUnion, together, pftNonZero, pftNonZero);
  const solid = together.filter((path) => clipper.Clipper.Orientation(path));
  const line = grown(solid, offset * GRID, clipper.EndType.etClosedPolygon).filter((path) =>
    clipper.Clipper.Orientation(path),
  );
  if (line.length === 0)
    throw new FormatError(
      parts.length === 0
        ? 'the parts that the line goes around are not in the artwork.'
        : 'nothing is left of the shapes so far inside. Take a smaller offset.',
    );
  return line.map((path) => path.map(({ X, Y }): Point => [X / GRID / unit, Y / GRID / unit]));
}

/**
 * A drawing with lines around some of its shapes, behind all that it has; each is a part whose key stands in `keys`, in the order of the outlines.
 * @throws FormatError where one cannot be drawn
 */
export async function withOutlines(
  artwork: Artwork,
  outlines: readonly DrawnOutline[],
): Promise<{ artwork: Artwork; keys: string[] }> {
  const content = contentOf(artwork.root, artwork.text);
  if (outlines.length === 0 || !content) return { artwork, keys: [] };
  const unit = unitOf(artwork.size);
  const paths: string[] = [];
  for (const [i, one] of outlines.entries()) {
    const style = `fill:none;stroke:#000000;stroke-width:${short(one.width / unit, 6)}`;
    paths.push(
      `<path id="${asValue(freeId(artwork.text, i))}" style="${style}" d="${await around(artwork, one)}"/>`,
    );
  }
  const added = readArtwork(
    edited(artwork.text, [{ from: content.to, to: content.to, text: paths.join('') }]),
  );
  const own = added.parts.filter((p) => p.node.source!.from >= content.to);
  return { artwork: { ...added, warnings: artwork.warnings }, keys: own.map((p) => p.key) };
}

function freeId(text: string, n: number): string {
  let id = `cut-line-${n + 1}`;
  while (text.includes(`"${id}"`)) id += '-';
  return id;
}
