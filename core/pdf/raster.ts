/** A point in pixels of the raster. */
export type Point = readonly [x: number, y: number];

/** How much of each pixel something covers, 0–1, inside the box that it lies in. */
export interface Mask {
  left: number;
  top: number;
  width: number;
  height: number;
  data: Float32Array;
}

/** Rows that are looked at in each row of pixels. */
const SUBROWS = 4;

const NOTHING: Mask = { left: 0, top: 0, width: 0, height: 0, data: new Float32Array(0) };

/** A small raster in which areas are covered, with soft edges. */
export class Raster {
  readonly size: number;
  /** Edges and pixels that were looked at since it was made. */
  work = 0;

  /** @param limit on its work: nothing is covered beyond it */
  constructor(
    readonly width: number,
    readonly height: number,
    private readonly limit = Number.POSITIVE_INFINITY,
  ) {
    this.size = width * height;
  }

  get isTired(): boolean {
    return this.work > this.limit;
  }

  /** What polygons cover, by the nonzero or the even-odd rule (ISO 32000-1, 8.5.3.3). */
  fill(polygons: readonly (readonly Point[])[], evenOdd = false): Mask {
    if (this.isTired) return NOTHING;
    const [only] = polygons;
    const box = only && polygons.length === 1 ? boxOf(only) : null;
    if (box) return this.box(box);
    const edges: [x0: number, y0: number, x1: number, y1: number][] = [];
    let [left, top, right, bottom] = [this.width, this.height, 0, 0];
    for (const points of polygons)
      points.forEach((p, i) => {
        const next = points[(i + 1) % points.length]!;
        left = Math.min(left, p[0]);
        right = Math.max(right, p[0]);
        top = Math.min(top, p[1]);
        bottom = Math.max(bottom, p[1]);
        if (p[1] !== next[1]) edges.push([p[0], p[1], next[0], next[1]]);
      });
    left = Math.max(0, Math.floor(left));
    top = Math.max(0, Math.floor(top));
    const width = Math.min(this.width, Math.ceil(right)) - left;
    const height = Math.min(this.height, Math.ceil(bottom)) - top;
    if (edges.length === 0 || !(width > 0) || !(height > 0)) return NOTHING;
    this.work += width * height + edges.length * height * SUBROWS;
    const mask = { left, top, width, height, data: new Float32Array(width * height) };
    for (let row = 0; row < height; row++)
      for (let k = 0; k < SUBROWS; k++) {
        const y = top + row + (k + 0.5) / SUBROWS;
        const crossings: [x: number, way: number][] = [];
        for (const [x0, y0, x1, y1] of edges)
          if (y0 <= y !== y1 <= y)
            crossings.push([x0 + ((y - y0) / (y1 - y0)) * (x1 - x0), y1 > y0 ? 1 : -1]);
        crossings.sort((a, b) => a[0] - b[0]);
        let winding = 0;
        for (const [i, [x, way]] of crossings.entries()) {
          winding += way;
          const next = crossings[i + 1];
          if (next && (evenOdd ? i % 2 === 0 : winding !== 0)) addSpan(mask, row, x - left, next[0] - left);
        }
      }
    return mask;
  }

  /** What a box covers: the sheer part of each pixel. */
  private box([x0, y0, x1, y1]: Box): Mask {
    const [left, top] = [Math.max(0, Math.floor(x0)), Math.max(0, Math.floor(y0))];
    const width = Math.min(this.width, Math.ceil(x1)) - left;
    const height = Math.min(this.height, Math.ceil(y1)) - top;
    if (!(width > 0) || !(height > 0)) return NOTHING;
    this.work += width * height;
    const data = new Float32Array(width * height);
    for (let y = 0; y < height; y++) {
      const high = Math.min(y1, top + y + 1) - Math.max(y0, top + y);
      for (let x = 0; x < width; x++)
        data[y * width + x] = high * (Math.min(x1, left + x + 1) - Math.max(x0, left + x));
    }
    return { left, top, width, height, data };
  }

  /** What a line of a width covers; joins and ends are left plain. */
  stroke(lines: readonly (readonly Point[])[], width: number): Mask {
    // a line finer than a pixel covers a part of those it goes through
    const half = Math.max(1, width) / 2;
    const quads: Point[][] = [];
    for (const points of lines)
      for (let i = 1; i < points.length; i++) {
        const [a, b] = [points[i - 1]!, points[i]!];
        const length = Math.hypot(b[0] - a[0], b[1] - a[1]);
        if (length === 0) continue;
        const [nx, ny] = [((b[1] - a[1]) / length) * half, (-(b[0] - a[0]) / length) * half];
        quads.push([
          [a[0] + nx, a[1] + ny],
          [b[0] + nx, b[1] + ny],
          [b[0] - nx, b[1] - ny],
          [a[0] - nx, a[1] - ny],
        ]);
      }
    const mask = this.fill(quads);
    if (width < 1) for (let i = 0; i < mask.data.length; i++) mask.data[i]! *= width;
    return mask;
  }
}

type Box = [x0: number, y0: number, x1: number, y1: number];

/** The box that a polygon is, where it is one that stands upright. */
function boxOf(points: readonly Point[]): Box | null {
  const [a, b, c, d, e] = points;
  if (!a || !b || !c || !d || points.length > 5 || (e && (e[0] !== a[0] || e[1] !== a[1]))) return null;
  const upright =
    (a[0] === b[0] && b[1] === c[1] && c[0] === d[0] && d[1] === a[1]) ||
    (a[1] === b[1] && b[0] === c[0] && c[1] === d[1] && d[0] === a[0]);
  return upright
    ? [Math.min(a[0], c[0]), Math.min(a[1], c[1]), Math.max(a[0], c[0]), Math.max(a[1], c[1])]
    : null;
}

function addSpan({ data, width }: Mask, row: number, from: number, to: number): void {
  const [a, b] = [Math.max(0, from), Math.min(width, to)];
  for (let x = Math.floor(a); x < b; x++) {
    const part = Math.min(b, x + 1) - Math.max(a, x);
    if (part > 0) data[row * width + x]! += part / SUBROWS;
  }
}

/** How much a mask covers of a pixel of the raster, 0–1. */
export function coverAt({ left, top, width, height, data }: Mask, x: number, y: number): number {
  const [u, v] = [x - left, y - top];
  return u < 0 || v < 0 || u >= width || v >= height ? 0 : Math.min(1, data[v * width + u]!);
}

/** What two masks cover together. */
export function intersection(one: Mask, other: Mask): Mask {
  const left = Math.max(one.left, other.left);
  const top = Math.max(one.top, other.top);
  const width = Math.min(one.left + one.width, other.left + other.width) - left;
  const height = Math.min(one.top + one.height, other.top + other.height) - top;
  if (!(width > 0) || !(height > 0)) return NOTHING;
  const data = new Float32Array(width * height);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++)
      data[y * width + x] = coverAt(one, left + x, top + y) * coverAt(other, left + x, top + y);
  return { left, top, width, height, data };
}
