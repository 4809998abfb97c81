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
const RUNS = 15;

interface Timed<T> {
  ms: number;
  result: T;
}

/**
 * The quickest of several runs of each, in milliseconds: what the machine does besides only ever adds to a time. They take
 * turns, so that what slows the machine for a while slows all of them.
 */
function quickest<T>(contenders: { run(): T; runs?: number }[]): Timed<T>[] {
  const timed: Timed<T>[] = contenders.map(({ run }) => ({ ms: Number.POSITIVE_INFINITY, result: run() }));
  for (let round = 1; round < RUNS; round++)
    contenders.forEach(({ run, runs = RUNS }, i) => {
      if (round >= runs) return;
      const start = performance.now();
      timed[i].result = run();
      timed[i].ms = Math.min(timed[i].ms, performance.now() - start);
    });
  return timed;
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
    const rows = Object.entries(methods(picture));
    const prepared = prepare(counted);
    const columns = COUNTS.map((count) =>
      quickest([
        ...rows.map(([method, run]) => ({ run: () => run(count), runs: method === 'image-q Wu' ? 2 : RUNS })),
        { run: () => reduce(prepared, count).map((c) => c.rgb) },
      ]),
    );
    [...rows.map(([method]) => method), 'another count'].forEach((method, r) => {
      const cells = columns.map(
        (c) => `${meanDeltaE00(counted, c[r].result).toFixed(3)} / ${c[r].ms.toFixed(1)}`,
      );
      console.log([method, ...cells].map((t) => t.padEnd(18)).join(''));
    });
  }
}

const [part, ...rest] = process.argv.slice(2);
if (part !== 'formats') await benchPictures();
if (part !== 'pictures') await benchFormats(...rest);
