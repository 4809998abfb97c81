/// <reference lib="webworker" />
import UTIF from 'utif2';
import {
  drawWith,
  exactColors,
  histogram,
  meanDeltaE00,
  type Picture,
  type Prepared,
  pictureType,
  prepare,
  reduce,
  sample,
} from '#core/picture/index';
import type { PictureQueries } from './picture-messages';
import { type Answers, serve } from './worker-client';

const MOST_PIXELS = 40_000_000;
const PREVIEW_SIDE = 1200;
const LOUPE_SIDE = 15;

let picture: Picture | null = null;
let preview: Picture | null = null;
let prepared: Prepared | null = null;

class PictureError extends Error {}

const answers: Answers<PictureQueries> = {
  async open({ file, name }, stage) {
    stage('Decoding');
    const bytes = new Uint8Array(await file.arrayBuffer());
    const bitmap = await decode(file, bytes, name);
    if (bitmap.width * bitmap.height > MOST_PIXELS)
      throw new PictureError(
        `${name}: the picture has ${Math.round((bitmap.width * bitmap.height) / 1e6)} megapixels; Papillon takes up to 40. Make a smaller copy first.`,
      );
    stage('Reading the pixels');
    picture = pixelsOf(bitmap, bitmap.width, bitmap.height);
    const scale = Math.min(1, PREVIEW_SIDE / Math.max(bitmap.width, bitmap.height));
    preview = pixelsOf(
      bitmap,
      Math.max(1, Math.round(bitmap.width * scale)),
      Math.max(1, Math.round(bitmap.height * scale)),
    );
    bitmap.close();
    stage('Counting the colours');
    prepared = prepare(histogram(picture));
    return {
      width: picture.width,
      height: picture.height,
      opaque: prepared.histogram.total,
      preview: { width: preview.width, height: preview.height, data: new Uint8ClampedArray(preview.data) },
    };
  },
  reduce: ({ count }) => ({ colors: reduce(opened().prepared, count) }),
  exact: ({ keepBackground }) => exactColors(opened().picture, 256, keepBackground),
  quality: ({ palette }) => ({ meanDeltaE00: meanDeltaE00(opened().prepared.histogram, palette) }),
  draw: ({ palette }) => ({ data: drawWith(opened().preview, palette) }),
  peek({ x, y, size }) {
    const { picture } = opened();
    const reach = (LOUPE_SIDE - 1) / 2;
    const around = new Uint8ClampedArray(4 * LOUPE_SIDE * LOUPE_SIDE);
    for (let row = 0; row < LOUPE_SIDE; row++)
      for (let column = 0; column < LOUPE_SIDE; column++) {
        const [px, py] = [x + column - reach, y + row - reach];
        if (px < 0 || py < 0 || px >= picture.width || py >= picture.height) continue;
        const from = 4 * (py * picture.width + px);
        around.set(picture.data.subarray(from, from + 4), 4 * (row * LOUPE_SIDE + column));
      }
    return { rgb: sample(picture, x, y, size), around, side: LOUPE_SIDE };
  },
};

function opened() {
  if (!picture || !preview || !prepared) throw new PictureError('No picture is open.');
  return { picture, preview, prepared };
}

async function decode(file: Blob, bytes: Uint8Array<ArrayBuffer>, name: string): Promise<ImageBitmap> {
  const type = pictureType(bytes);
  try {
    if (type === 'TIFF') {
      const [page] = UTIF.decode(bytes.buffer);
      UTIF.decodeImage(bytes.buffer, page);
      if (!page.width || !page.height) throw new Error('no size');
      const rgba = new Uint8ClampedArray(UTIF.toRGBA8(page));
      return await createImageBitmap(new ImageData(rgba, page.width, page.height), {
        premultiplyAlpha: 'none',
      });
    }
    return await createImageBitmap(file, { imageOrientation: 'from-image' });
  } catch {
    throw new PictureError(
      `${name}: it begins like a ${type ?? 'picture'}, but does not decode. It is damaged or cut short (${bytes.length.toLocaleString('en-GB')} bytes); get it again from where it was made.`,
    );
  }
}

function pixelsOf(bitmap: ImageBitmap, width: number, height: number): Picture {
  const context = new OffscreenCanvas(width, height).getContext('2d', { willReadFrequently: true });
  if (!context) throw new PictureError('This browser cannot read pictures.');
  context.imageSmoothingQuality = 'high';
  context.drawImage(bitmap, 0, 0, width, height);
  return { width, height, data: context.getImageData(0, 0, width, height).data };
}

serve(answers, (error) =>
  error instanceof PictureError
    ? error.message
    : `The picture cannot be worked on: ${(error as Error).message}`,
);
