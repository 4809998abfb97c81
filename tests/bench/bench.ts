// npm run bench: our quantiser beside two general-purpose ones, on the same pixels in the same run

import { readFileSync } from 'node:fs';
import { distance, utils as imageQ, palette as imageQPalette } from 'image-q';
import quantize from 'quantize';
import { decodePicture } from '../../cli/picture.ts';
import { histogram, meanDeltaE00, type Picture, prepare, reduce } from '../../core/picture/index.ts';

type Rgb = [number, number, number];

const COUNTS = [5, 10, 24, 64];
const RUNS = 7;

/** The middle of several runs, in milliseconds, after one to warm up. */
function median<T>(run: () => T): { ms: number; result: T } {
  let result = run();
  const times = Array.from({ length: RUNS }, () => {
    const start = performance.now();
    result = run();
    return performance.now() - start;
  });
  return { ms: times.sort((a, b) => a - b)[RUNS >> 1], result };
}

function methods(picture: Picture): Record<string, (count: number) => Rgb[]> {
  const points: Rgb[] = [];
  for (let i = 0; i < picture.data.length; i += 4)
    points.push([picture.data[i], picture.data[i + 1], picture.data[i + 2]]);
  const container = imageQ.PointContainer.fromUint8Array(
    new Uint8Array(picture.data),
    picture.width,
    picture.height,
  );
  return {
    // each does the whole of its work, from decoded pixels to a palette
    Papillon: (count) => reduce(prepare(histogram(picture)), count).map((c) => c.rgb),
    quantize: (count) => {
      const map = quantize(points, count);
      return map ? map.palette() : [];
    },
    'image-q Wu': (count) => {
      const wu = new imageQPalette.WuQuant(new distance.EuclideanBT709(), count);
      wu.sample(container);
      return wu
        .quantizeSync()
        .getPointContainer()
        .getPointArray()
        .map((p): Rgb => [p.r, p.g, p.b]);
    },
  };
}

for (const name of ['rocket.jpg', 'chelsea.png']) {
  const file = new URL(`../photos/${name}`, import.meta.url).pathname;
  const picture = await decodePicture(name, readFileSync(file));
  const counted = histogram(picture);
  console.log(
    `\n${name}, ${picture.width} × ${picture.height}: mean ΔE00 to the nearest palette colour / milliseconds, median of ${RUNS}`,
  );
  console.log(['', ...COUNTS.map((c) => `${c} colours`)].map((t) => t.padEnd(18)).join(''));
  for (const [method, run] of Object.entries(methods(picture))) {
    const cells = COUNTS.map((count) => {
      const { ms, result } = median(() => run(count));
      return `${meanDeltaE00(counted, result).toFixed(3)} / ${ms.toFixed(1)}`;
    });
    console.log([method, ...cells].map((t) => t.padEnd(18)).join(''));
  }
  const prepared = prepare(counted);
  const again = COUNTS.map((count) => `${median(() => reduce(prepared, count)).ms.toFixed(1)} ms`);
  console.log(['another count', ...again].map((t) => t.padEnd(18)).join(''));
}
