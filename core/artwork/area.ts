import svgpath from 'svgpath';
import { type Matrix, outline } from '../svg/drawing.ts';
import type { XmlNode } from '../text/xml.ts';

/** Longer outlines are measured by their beginning alone. */
const MAX_OUTLINE_CHARACTERS = 200_000;

/**
 * What a shape covers, in square units of the drawing: exact for its fill by Green's theorem, but for arcs, which are taken as cubics; its
 * stroke by length and width, which is given, too.
 */
export function areaOf(
  node: XmlNode,
  matrix: Matrix | null,
  strokeWidth: string | undefined,
): { fill: number; stroke: number; width: number } {
  const n = (key: string) => Number.parseFloat(node.attributes[key] ?? '') || 0;
  const scale = matrix ? Math.abs(matrix[0] * matrix[3] - matrix[1] * matrix[2]) : 1;
  const width = (Number.parseFloat(strokeWidth ?? '1') || 0) * Math.sqrt(scale);
  const of = (fill: number, length: number) => ({
    fill: Math.abs(fill) * scale || 0,
    stroke: length * Math.sqrt(scale) * width || 0,
    width,
  });
  switch (node.name) {
    case 'rect':
      return of(n('width') * n('height'), 2 * (n('width') + n('height')));
    case 'circle':
      return of(Math.PI * n('r') ** 2, 2 * Math.PI * n('r'));
    case 'ellipse':
      return of(Math.PI * n('rx') * n('ry'), Math.PI * (n('rx') + n('ry')));
    case 'text':
    case 'tspan':
    case 'textPath': {
      // half of a square for each letter: common practice, no source
      const size = Number.parseFloat(node.attributes['font-size'] ?? '16') || 16;
      return of(0.3 * size ** 2 * Math.min(10_000, node.text.trim().length), 0);
    }
    default: {
      const { area, length } = measure(
        outline(node).slice(0, MAX_OUTLINE_CHARACTERS),
        node.name === 'polygon',
      );
      return of(area, length);
    }
  }
}

type Point = [number, number];
const between = ([ax, ay]: Point, [bx, by]: Point) => Math.hypot(bx - ax, by - ay);

/** The area in an outline, all its pieces together, and its length. */
function measure(path: string, close: boolean): { area: number; length: number } {
  let [area, length, piece] = [0, 0, 0];
  let [start, at]: [Point, Point] = [
    [0, 0],
    [0, 0],
  ];
  const line = (to: Point) => {
    piece += (at[0] * to[1] - to[0] * at[1]) / 2;
    length += between(at, to);
    at = to;
  };
  const end = (closes: boolean) => {
    const reach = between(at, start);
    line(start);
    if (!closes) length -= reach;
    area += piece;
    piece = 0;
  };
  svgpath(path)
    .abs()
    .unshort()
    .unarc()
    .iterate((segment, _, x, y) => {
      const [kind, ...v] = segment as [string, ...number[]];
      if (kind === 'M') {
        end(false);
        start = [v[0]!, v[1]!];
        at = start;
      } else if (kind === 'Z') end(true);
      else if (kind === 'L') line([v[0]!, v[1]!]);
      else if (kind === 'H') line([v[0]!, y]);
      else if (kind === 'V') line([x, v[0]!]);
      else {
        const to: Point = [v.at(-2)!, v.at(-1)!];
        // a quadratic is a cubic whose handles go two thirds of the way
        const third = (p: Point): Point => [p[0] + (2 / 3) * (v[0]! - p[0]), p[1] + (2 / 3) * (v[1]! - p[1])];
        const [b, c]: [Point, Point] =
          kind === 'C'
            ? [
                [v[0]!, v[1]!],
                [v[2]!, v[3]!],
              ]
            : [third(at), third(to)];
        // half of the integral of x dy − y dx over the curve, the chord's share with it
        const cross = (p: Point, q: Point) => p[0] * q[1] - q[0] * p[1];
        piece +=
          (6 * cross(at, b) +
            3 * cross(at, c) +
            cross(at, to) +
            3 * cross(b, c) +
            3 * cross(b, to) +
            6 * cross(c, to)) /
          20;
        length += (between(at, to) + between(at, b) + between(b, c) + between(c, to)) / 2;
        at = to;
      }
    });
  end(close);
  return { area, length };
}
