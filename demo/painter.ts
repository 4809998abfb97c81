import sharp from 'sharp';

export type Rgb = [number, number, number];

/** A repeatable scatter of numbers 0–1 over whole places. */
function scatter(x: number, y: number, seed: number): number {
  let h = Math.imul(x, 374761393) + Math.imul(y, 668265263) + Math.imul(seed, 2147483647);
  h = Math.imul(h ^ (h >>> 13), 1274126177);
  return ((h ^ (h >>> 16)) >>> 0) / 4294967296;
}

const smooth = (t: number) => t * t * (3 - 2 * t);

/** Soft noise 0–1 that changes over one unit. */
export function noise(x: number, y: number, seed = 0): number {
  const ix = Math.floor(x);
  const iy = Math.floor(y);
  const fx = smooth(x - ix);
  const fy = smooth(y - iy);
  const top = scatter(ix, iy, seed) * (1 - fx) + scatter(ix + 1, iy, seed) * fx;
  const bottom = scatter(ix, iy + 1, seed) * (1 - fx) + scatter(ix + 1, iy + 1, seed) * fx;
  return top * (1 - fy) + bottom * fy;
}

/** Noise of several sizes laid over each other, 0–1. */
export function clouds(x: number, y: number, seed = 0, octaves = 5): number {
  let sum = 0;
  let weight = 0.5;
  let total = 0;
  let scale = 1;
  for (let o = 0; o < octaves; o++) {
    sum += weight * noise(x * scale, y * scale, seed + o);
    total += weight;
    weight /= 2;
    scale *= 2;
  }
  return sum / total;
}

export const clamp = (v: number, low = 0, high = 1) => Math.min(high, Math.max(low, v));
/** 0 below `from`, 1 above `to`, soft between. */
export const step = (from: number, to: number, v: number) => smooth(clamp((v - from) / (to - from)));
export const mix = (a: Rgb, b: Rgb, t: number): Rgb => [
  a[0] + (b[0] - a[0]) * t,
  a[1] + (b[1] - a[1]) * t,
  a[2] + (b[2] - a[2]) * t,
];
export const shade = (c: Rgb, by: number): Rgb => [c[0] * by, c[1] * by, c[2] * by];

/** A colour along several stops, each at its place 0–1. */
export function ramp(stops: [number, Rgb][], t: number): Rgb {
  for (let i = 1; i < stops.length; i++) {
    const [from, a] = stops[i - 1];
    const [to, b] = stops[i];
    if (t <= to) return mix(a, b, clamp((t - from) / (to - from)));
  }
  return stops[stops.length - 1][1];
}

/** Paints every pixel from its place, 0–1 across and down, with a grain over it, into a PNG. */
export async function paint(
  width: number,
  height: number,
  at: (x: number, y: number) => Rgb,
  grain: number,
): Promise<Buffer> {
  const data = Buffer.alloc(width * height * 3);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const color = at(x / width, y / height);
      const g = (scatter(x, y, 77) + scatter(x, y, 78) - 1) * grain;
      for (let c = 0; c < 3; c++) data[3 * (y * width + x) + c] = Math.round(clamp(color[c] + g, 0, 255));
    }
  return sharp(data, { raw: { width, height, channels: 3 } })
    .png({ compressionLevel: 8 })
    .toBuffer();
}
