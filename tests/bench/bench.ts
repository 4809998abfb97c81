// npm run bench [pictures | formats]: our quantiser beside two general-purpose ones on the same pixels, and every
// format with 100,000 swatches beside other readers, all in the same run

import { readFileSync } from 'node:fs';
import { distance, utils as imageQ, palette as imageQPalette } from 'image-q';
import quantize from 'quantize';
import { decodePicture } from '../../cli/picture.ts';
import { histogram, meanDeltaE00, type Picture, prepare, reduce } from '../../core/picture/index.ts';
import { benchFormats } from './formats.ts';

type Rgb = [number, number, number];

const COUNTS = [5, 10, 24, 64];
const RUNS = 9;

/** The quickest of several runs, in milliseconds: what the machine does besides only ever adds to a time. */
function quickest<T>(run: () => T, runs = RUNS): { ms: number; result: T } {
  let result = run();
  let ms = Number.POSITIVE_INFINITY;
  for (let i = 1; i < runs; i++) {
    const start = performance.now();
    result = run();
    ms = Math.min(ms, performance.now() - start);
  }
  return { ms, result };
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
    papillon: (count) => reduce(prepare(histogram(picture)), count).map((c) => c.rgb),
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

async function benchPictures(): Promise<void> {
  for (const name of ['rocket.jpg', 'chelsea.png']) {
    const file = new URL(`../photos/${name}`, import.meta.url).pathname;
    const picture = await decodePicture(name, readFileSync(file));
    const counted = histogram(picture);
    console.log(
      `\n${name}, ${picture.width} × ${picture.height}: mean ΔE00 to the nearest palette colour / milliseconds, quickest of ${RUNS} runs`,
    );
    console.log(['', ...COUNTS.map((c) => `${c} colours`)].map((t) => t.padEnd(18)).join(''));
    for (const [method, run] of Object.entries(methods(picture))) {
      const cells = COUNTS.map((count) => {
        const { ms, result } = quickest(() => run(count), method === 'image-q Wu' ? 2 : RUNS);
        return `${meanDeltaE00(counted, result).toFixed(3)} / ${ms.toFixed(1)}`;
      });
      console.log([method, ...cells].map((t) => t.padEnd(18)).join(''));
    }
    const prepared = prepare(counted);
    const again = COUNTS.map((count) => `${quickest(() => reduce(prepared, count)).ms.toFixed(1)} ms`);
    console.log(['another count', ...again].map((t) => t.padEnd(18)).join(''));
  }
}

const [part, ...rest] = process.argv.slice(2);
if (part !== 'formats') await benchPictures();
if (part !== 'pictures') await benchFormats(...rest);
