// npm run bench [pictures | drag | formats | storage | color | artwork | cleaning | database | page | pages | large | waits | tune | board | reading | pdf | floods]: our quantiser beside general-purpose ones on the same pixels, and every
// format with 100,000 swatches beside other readers, all in the same run; edits, whole libraries and the search
// beside the first versions' way of keeping them

import { readFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import sharp from 'sharp';
import { decodePicture } from '../../cli/picture.ts';
import type { Color } from '../../core/color/index.ts';
import {
  colorOfPixel,
  type Histogram,
  histogram,
  meanDeltaE00,
  type Picture,
  prepare,
  reduce,
} from '../../core/picture/index.ts';
import { benchArtwork } from './artwork.ts';
import { benchBoard } from './board.ts';
import { benchBooks } from './books.ts';
import { benchCleaning } from './cleaning.ts';
import { benchColor } from './color.ts';
import { contenders, kMeans, type Method, type Rgb } from './contenders.ts';
import { benchDatabase } from './database.ts';
import { benchDrag } from './drag.ts';
import { benchFloods } from './floods.ts';
import { benchFormats } from './formats.ts';
import { benchHarmony } from './harmony.ts';
import { benchLarge } from './large.ts';
import { benchPage } from './page.ts';
import { benchPages } from './pages.ts';
import { benchPdf } from './pdf.ts';
import { benchReading } from './reading.ts';
import { benchStorage } from './storage.ts';
import { benchTune } from './tune.ts';
import { benchWaits } from './waits.ts';

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
  const timed: Timed<T>[] = [];
  for (let round = 0; round < RUNS; round++)
    contenders.forEach(({ run, runs = RUNS }, i) => {
      if (round >= runs) return;
      const start = performance.now();
      const result = run();
      timed[i] = {
        result,
        ms: Math.min(timed[i]?.ms ?? Number.POSITIVE_INFINITY, performance.now() - start),
      };
    });
  return timed;
}

const PHOTOS = ['rocket.jpg', 'chelsea.png'];
/** Width, height and whether the slow ones take part; a photograph as it is, and enlarged as a camera would have it. */
const SIZES: { name: string; pixels?: number; times: boolean }[] = [
  { name: 'as it is', times: false },
  { name: '1 megapixel', pixels: 1e6, times: true },
  { name: '24 megapixels', pixels: 24e6, times: true },
];
/** Only these are timed; the others take many seconds, and are asked for their palettes of the photographs alone. */
const QUICK = ['quantize', 'image-q Wu'];
const MANY = 2e6;

async function enlarged(name: string, pixels?: number): Promise<Picture> {
  const file = fileURLToPath(new URL(`../photos/${name}`, import.meta.url));
  const bytes = readFileSync(file);
  if (!pixels) return decodePicture(name, bytes);
  const { width, height } = await decodePicture(name, bytes);
  const scale = Math.sqrt(pixels / (width * height));
  const larger = await sharp(bytes)
    .resize(Math.round(width * scale), Math.round(height * scale), { kernel: 'cubic', fit: 'fill' })
    .png({ compressionLevel: 1 })
    .toBuffer();
  return decodePicture('larger.png', larger);
}

const row = (cells: string[]) => console.log(cells.map((t, i) => t.padEnd(i ? 15 : 20)).join(''));
const asColors = (palette: Rgb[], { space }: Histogram): Color[] =>
  palette.map((rgb) => colorOfPixel(rgb, space));

async function benchPictures(): Promise<void> {
  const against = new Map<string, number[]>();
  for (const photo of PHOTOS)
    for (const { name, pixels, times } of SIZES) {
      const picture = await enlarged(photo, pixels);
      const counted = histogram(picture);
      const prepared = prepare(counted);
      const runs = picture.width * picture.height > MANY ? 5 : RUNS;
      const own: [string, Method][] = [
        ['Papillon, all of it', (count) => reduce(prepare(histogram(picture)), { count }).map((c) => c.rgb)],
        ['  another count', (count) => reduce(prepared, { count }).map((c) => c.rgb)],
      ];
      const others = Object.entries(contenders(picture)).filter(
        ([method]) => !times || QUICK.includes(method),
      );
      if (!times) others.push(['k-means, 12 starts', (count) => kMeans(counted, count)]);
      console.log(
        `\n${photo} ${name}, ${picture.width} × ${picture.height}: mean ΔE00 to the nearest palette colour / milliseconds, quickest of ${runs} runs (one of the slow ones)`,
      );
      row(['', ...COUNTS.map((c) => `${c} colours`)]);
      const columns = COUNTS.map((count) =>
        quickest(
          [...own, ...others].map(([method, run]) => ({
            run: () => run(count),
            runs: own.some(([o]) => o === method) || method === 'quantize' ? runs : 1,
          })),
        ),
      );
      [...own, ...others].forEach(([method], r) => {
        row([
          method,
          ...columns.map((column) => {
            const error = meanDeltaE00(counted, asColors(column[r].result, counted));
            // a larger copy overflows some of the others, which would flatter us
            if (!times) against.set(method, [...(against.get(method) ?? []), error]);
            return `${error.toFixed(3)} / ${column[r].ms.toFixed(0)}`;
          }),
        ]);
      });
      console.log(
        `kept besides the picture: ${((100 * kept(prepared)) / picture.data.length).toFixed(0)} % of its size`,
      );
    }
  const mine = against.get('Papillon, all of it') ?? [];
  const wu = against.get('image-q Wu') ?? [];
  const ratio = mine.reduce((sum, error, i) => sum + error / wu[i], 0) / mine.length;
  console.log(
    `\nmean ΔE00 beside image-q's Wu, on average over the photographs as they are: ${(100 * (1 - ratio)).toFixed(1)} % lower`,
  );
}

/** Bytes of all typed arrays in a histogram and what is made of it. */
function kept(value: unknown): number {
  if (ArrayBuffer.isView(value)) return value.byteLength;
  return value && typeof value === 'object' ? Object.values(value).reduce((sum, v) => sum + kept(v), 0) : 0;
}

const [part, ...rest] = process.argv.slice(2);
if (!part || part === 'pictures') await benchPictures();
if (!part || part === 'drag') await benchDrag();
if (!part || part === 'formats') await benchFormats(...rest);
if (!part || part === 'color') await benchColor();
if (!part || part === 'artwork') await benchArtwork();
if (!part || part === 'cleaning') benchCleaning(Number(rest[0] ?? 20));
if (!part || part === 'database') await benchDatabase();
// takes minutes, and a build
if (part === 'page') await benchPage();
if (part === 'pages') await benchPages();
if (part === 'large') await benchLarge();
if (part === 'waits') await benchWaits();
if (part === 'tune') await benchTune();
if (part === 'board') await benchBoard();
if (part === 'reading') await benchReading();
if (part === 'pdf') await benchPdf();
if (part === 'floods') await benchFloods();
if (!part || part === 'books') await benchBooks();
if (!part || part === 'harmony') await benchHarmony();
if (!part || part === 'storage') {
  await benchStorage(
    rest.includes('--json'),
    rest.find((r) => !r.startsWith('-')),
  );
}
