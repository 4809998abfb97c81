import type { Picture } from './histogram.ts';

/** A part of a picture, in pixels from its upper left corner; fractions are allowed. */
export interface Region {
  /** The outline, closed from the last point to the first. A rectangle has four points. */
  outline: [x: number, y: number][];
  /** Everything but what the outline holds. */
  outside: boolean;
}

export const rectangle = (x0: number, y0: number, x1: number, y1: number): Region['outline'] => [
  [Math.min(x0, x1), Math.min(y0, y1)],
  [Math.max(x0, x1), Math.min(y0, y1)],
  [Math.max(x0, x1), Math.max(y0, y1)],
  [Math.min(x0, x1), Math.max(y0, y1)],
];

/** A copy of the picture in which all but the region is transparent. A pixel belongs to it when its middle does. */
export function within(picture: Picture, { outline, outside }: Region): Picture {
  const { width, height } = picture;
  const data = outside ? new Uint8ClampedArray(picture.data) : new Uint8ClampedArray(picture.data.length);
  for (let y = 0; y < height; y++)
    for (const [from, to] of spans(outline, y + 0.5)) {
      // the first pixel whose middle lies right of the crossing, and the first one beyond
      const x0 = Math.max(0, Math.ceil(from - 0.5));
      const x1 = Math.min(width, Math.ceil(to - 0.5));
      if (x1 <= x0) continue;
      const [at, end] = [4 * (y * width + x0), 4 * (y * width + x1)];
      if (outside) data.fill(0, at, end);
      else data.set(picture.data.subarray(at, end), at);
    }
  return { ...picture, data };
}

/** Where a row runs inside the outline, by the even-odd rule. */
function spans(outline: Region['outline'], y: number): [from: number, to: number][] {
  const crossings: number[] = [];
  outline.forEach(([x0, y0], i) => {
    const [x1, y1] = outline[(i + 1) % outline.length];
    if (y0 <= y !== y1 <= y) crossings.push(x0 + ((y - y0) / (y1 - y0)) * (x1 - x0));
  });
  crossings.sort((a, b) => a - b);
  return Array.from({ length: crossings.length >> 1 }, (_, i) => [crossings[2 * i], crossings[2 * i + 1]]);
}
