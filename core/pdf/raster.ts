/** A point in pixels of the raster. */
export type Point = readonly [x: number, y: number];

/** How much of each pixel something covers, 0–1. */
export type Mask = Float32Array;

/** Rows that are looked at in each row of pixels. */
const SUBROWS = 4;

/** A small raster in which areas are covered, with soft edges. */
export class Raster {
  readonly size: number;

  constructor(
    readonly width: number,
    readonly height: number,
  ) {
    this.size = width * height;
  }

  /** What polygons cover, by the nonzero or the even-odd rule (ISO 32000-1, 8.5.3.3). */
  fill(polygons: readonly (readonly Point[])[], evenOdd = false): Mask {
    const mask = new Float32Array(this.size);
    const edges: [x0: number, y0: number, x1: number, y1: number][] = [];
    for (const points of polygons)
      points.forEach((p, i) => {
        const next = points[(i + 1) % points.length]!;
        if (p[1] !== next[1]) edges.push([p[0], p[1], next[0], next[1]]);
      });
    if (edges.length === 0) return mask;
    let [top, bottom] = [this.height, 0];
    for (const [, y0, , y1] of edges) {
      top = Math.min(top, y0, y1);
      bottom = Math.max(bottom, y0, y1);
    }
    const least = Math.max(0, Math.floor(top));
    const most = Math.min(this.height - 1, Math.ceil(bottom));
    for (let row = least; row <= most; row++)
      for (let k = 0; k < SUBROWS; k++) {
        const y = row + (k + 0.5) / SUBROWS;
        const crossings: [x: number, way: number][] = [];
        for (const [x0, y0, x1, y1] of edges)
          if (y0 <= y !== y1 <= y)
            crossings.push([x0 + ((y - y0) / (y1 - y0)) * (x1 - x0), y1 > y0 ? 1 : -1]);
        crossings.sort((a, b) => a[0] - b[0]);
        let winding = 0;
        for (const [i, [x, way]] of crossings.entries()) {
          winding += way;
          const next = crossings[i + 1];
          if (next && (evenOdd ? i % 2 === 0 : winding !== 0)) this.span(mask, row, x, next[0]);
        }
      }
    return mask;
  }

  private span(mask: Mask, row: number, from: number, to: number): void {
    const [a, b] = [Math.max(0, from), Math.min(this.width, to)];
    for (let x = Math.floor(a); x < b; x++) {
      const part = Math.min(b, x + 1) - Math.max(a, x);
      if (part > 0) mask[row * this.width + x]! += part / SUBROWS;
    }
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
    if (width < 1) for (let i = 0; i < mask.length; i++) mask[i]! *= width;
    return mask;
  }
}
