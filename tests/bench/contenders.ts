import { converter } from 'culori';
import { distance, palette as imageQ, utils } from 'image-q';
import quantize from 'quantize';
import type { Histogram, Picture } from '../../core/picture/index.ts';

export type Rgb = [number, number, number];

/** From decoded pixels to a palette of a number of colours. */
export type Method = (count: number) => Rgb[];

type ImageQ = typeof imageQ.WuQuant | typeof imageQ.RGBQuant | typeof imageQ.NeuQuant;

/** General-purpose quantisers from the registries, each as its users would call it, on the same pixels. */
export function contenders(picture: Picture): Record<string, Method> {
  const bytes = new Uint8Array(picture.data);
  const points: Rgb[] = [];
  for (let i = 0; i < bytes.length; i += 4) points.push([bytes[i], bytes[i + 1], bytes[i + 2]]);
  const container = utils.PointContainer.fromUint8Array(bytes, picture.width, picture.height);
  const with_ =
    (Quantiser: ImageQ): Method =>
    (count) => {
      const one = new Quantiser(new distance.EuclideanBT709(), count);
      one.sample(container);
      return one
        .quantizeSync()
        .getPointContainer()
        .getPointArray()
        .map((p): Rgb => [p.r, p.g, p.b]);
    };
  return {
    quantize: (count) => {
      const map = quantize(points, count);
      return map ? map.palette() : [];
    },
    'image-q Wu': with_(imageQ.WuQuant),
    'image-q RGBQuant': with_(imageQ.RGBQuant),
    'image-q NeuQuant': with_(imageQ.NeuQuant),
  };
}

const toOklab = converter('oklab');
const toRgb = converter('rgb');

/**
 * Weighted k-means in OKLab from many starts, of which the best is kept: Lloyd's algorithm begun by k-means++
 * (Arthur and Vassilvitskii 2007), with a fixed sequence of pseudo-random numbers so that a run can be repeated.
 */
export function kMeans(histogram: Histogram, count: number, restarts = 12, rounds = 40): Rgb[] {
  const n = histogram.size;
  const x = new Float64Array(3 * n);
  for (let i = 0; i < n; i++) {
    const [r, g, b] = histogram.rgb.subarray(3 * i, 3 * i + 3);
    const { l, a, b: bb } = toOklab({ mode: 'rgb', r: r / 255, g: g / 255, b: b / 255 });
    x.set([l, a, bb], 3 * i);
  }
  let state = 1;
  const random = () => {
    state = (Math.imul(state, 1664525) + 1013904223) >>> 0;
    return state / 2 ** 32;
  };
  const gap = (i: number, c: ArrayLike<number>, at: number) =>
    (x[3 * i] - c[at]) ** 2 + (x[3 * i + 1] - c[at + 1]) ** 2 + (x[3 * i + 2] - c[at + 2]) ** 2;
  const pick = (weight: Float64Array) => {
    let left = random() * weight.reduce((sum, w) => sum + w, 0);
    for (let i = 0; i < n; i++) {
      left -= weight[i];
      if (left <= 0) return i;
    }
    return n - 1;
  };
  const k = Math.min(count, n);
  let best: { cost: number; centre: Float64Array } | null = null;
  for (let restart = 0; restart < restarts; restart++) {
    const centre = new Float64Array(3 * k);
    const weight = Float64Array.from(histogram.count);
    const near = new Float64Array(n).fill(Number.POSITIVE_INFINITY);
    for (let c = 0; c < k; c++) {
      const at = pick(weight);
      centre.set(x.subarray(3 * at, 3 * at + 3), 3 * c);
      for (let i = 0; i < n; i++) {
        near[i] = Math.min(near[i], gap(i, centre, 3 * c));
        weight[i] = near[i] * histogram.count[i];
      }
    }
    let cost = Number.POSITIVE_INFINITY;
    for (let round = 0; round < rounds; round++) {
      const sums = new Float64Array(4 * k);
      let now = 0;
      for (let i = 0; i < n; i++) {
        let d = Number.POSITIVE_INFINITY;
        let own = 0;
        for (let c = 0; c < k; c++) {
          const g = gap(i, centre, 3 * c);
          if (g < d) {
            d = g;
            own = c;
          }
        }
        now += d * histogram.count[i];
        sums[4 * own] += histogram.count[i];
        for (let a = 0; a < 3; a++) sums[4 * own + 1 + a] += histogram.count[i] * x[3 * i + a];
      }
      for (let c = 0; c < k; c++)
        if (sums[4 * c] > 0)
          for (let a = 0; a < 3; a++) centre[3 * c + a] = sums[4 * c + 1 + a] / sums[4 * c];
      if (now > cost * 0.9999) break;
      cost = now;
    }
    if (!best || cost < best.cost) best = { cost, centre };
  }
  return Array.from({ length: k }, (_, c) => {
    const [l, a, b] = best?.centre.subarray(3 * c, 3 * c + 3) ?? [0, 0, 0];
    const rgb = toRgb({ mode: 'oklab', l, a, b });
    return [rgb.r, rgb.g, rgb.b].map((v) => Math.round(255 * Math.min(1, Math.max(0, v)))) as Rgb;
  });
}
