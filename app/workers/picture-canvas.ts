/// <reference lib="webworker" />
import jxlUrl from '@jsquash/jxl/codec/dec/jxl_dec.wasm?url';
import { decode as decodePng } from 'fast-png';
import heicUrl from 'libheif-js/libheif-wasm/libheif.wasm?url';
import {
  checkPictureBytes,
  checkPixels,
  decodeHere,
  OPAQUE,
  type Picture,
  PictureRefusedError,
  painterAsIs,
  pictureType,
  SRGB,
  spaceOf,
} from '#core/picture/index';
import { FormatError } from '#core/text/error';
import type { Colors } from '~/colors/colors';
import { type PictureCanvas, type Pixels, wordsOf } from './picture-answers';

const PREVIEW_SIDE = 1600;
const THUMBNAIL_SIDE = 160;
/** Pixels are read from the decoded picture in bands, so that they are never in memory three times. */
const BAND_ROWS = 512;

/** Reads a picture from its file. */
async function load(
  colors: Colors,
  file: Blob,
  name: string,
  stage: (text: string) => void,
): Promise<Pixels & { small: Picture; note: string | undefined | null }> {
  stage('Decoding');
  try {
    checkPictureBytes(file.size);
  } catch (error) {
    throw new FormatError(`${name}: ${(error as Error).message}`);
  }
  const { picture, bitmap, ours, note } = await read(colors, file, () => stage('Reading the pixels')).catch(
    (error) => {
      throw error instanceof FormatError ? new FormatError(`${name}: ${error.message}`) : error;
    },
  );
  const preview = { ...pixelsOf(bitmap, PREVIEW_SIDE), ...(picture.space ? { space: picture.space } : {}) };
  const small = pixelsOf(bitmap, THUMBNAIL_SIDE);
  bitmap.close();
  return { picture, preview, ours, small, note };
}

/** The pixels of a file, their colour space, and a warning about it. */
async function read(colors: Colors, file: Blob, decoded: () => void = () => undefined) {
  const bytes = new Uint8Array(await file.arrayBuffer());
  const { space, note } = spaceOf(bytes, pictureType(bytes));
  const { bitmap, here } = await decode(colors, file, bytes, space !== null);
  decoded();
  const picture = here ?? { ...pixelsOf(bitmap), space: space ?? SRGB };
  if (!here) restoreAlpha(picture, bytes);
  return { picture, bitmap, ours: here !== null, note: note ?? here?.note };
}

/**
 * @param raw the numbers as they are in the file; else brought to sRGB by the browser
 * @returns `here` when the browser had no part in the pixels
 */
async function decode(
  colors: Colors,
  file: Blob,
  bytes: Uint8Array<ArrayBuffer>,
  raw: boolean,
): Promise<{ bitmap: ImageBitmap; here: Picture | null }> {
  const type = pictureType(bytes);
  try {
    const here = await decodeHere(bytes, type, {
      engine: () => colors.load(),
      wasm: async (of) => (await fetch(of === 'heic' ? heicUrl : jxlUrl)).arrayBuffer(),
    });
    const bitmap = here
      ? await createImageBitmap(imageOf(here), { premultiplyAlpha: 'none' })
      : await createImageBitmap(file, {
          imageOrientation: 'from-image',
          colorSpaceConversion: raw ? 'none' : 'default',
        });
    checkPixels(bitmap.width, bitmap.height);
    return { bitmap, here };
  } catch (error) {
    if (error instanceof PictureRefusedError) throw new FormatError(error.message);
    throw new FormatError(
      `it begins like a ${type ?? 'picture'}, but does not decode. It is damaged or cut short (${bytes.length.toLocaleString('en-GB')} bytes); get it again from where it was made.`,
    );
  }
}

const imageOf = ({ data, width, height }: Picture) =>
  new ImageData(data as Uint8ClampedArray<ArrayBuffer>, width, height);

/** The size of a picture made so small that it fits into a square of this side. */
function sizeWithin({ width, height }: ImageBitmap, side: number): { width: number; height: number } {
  const factor = Math.min(1, side / Math.max(width, height));
  const down = (n: number) => Math.max(1, Math.round(n * factor));
  return { width: down(width), height: down(height) };
}

function pixelsOf(bitmap: ImageBitmap, side = Number.POSITIVE_INFINITY): Picture {
  const { width, height } = sizeWithin(bitmap, side);
  const data = new Uint8ClampedArray(4 * width * height);
  const rows = Math.min(height, BAND_ROWS);
  const context = new OffscreenCanvas(width, rows).getContext('2d', { willReadFrequently: true });
  if (!context) throw new FormatError('This browser cannot read pictures.');
  context.imageSmoothingEnabled = width < bitmap.width;
  context.imageSmoothingQuality = 'high';
  for (let y = 0; y < height; y += rows) {
    context.clearRect(0, 0, width, rows);
    context.drawImage(bitmap, 0, -y, width, height);
    const band = context.getImageData(0, 0, width, Math.min(rows, height - y));
    data.set(band.data, 4 * y * width);
  }
  return { width, height, data };
}

/** Whether any pixel is less than opaque, though at least so much. */
function hasAlpha({ data }: Picture, least: number): boolean {
  for (let i = 3; i < data.length; i += 4) if (data[i]! < 255 && data[i]! >= least) return true;
  return false;
}

/** Half transparent colours lose their last bit in a canvas; a PNG gives them back as they were written. */
function restoreAlpha({ width, height, data }: Picture, bytes: Uint8Array): void {
  if (pictureType(bytes) !== 'PNG') return;
  if (!hasAlpha({ width, height, data }, OPAQUE)) return;
  try {
    const png = decodePng(bytes);
    if (png.palette || png.channels < 4 || png.width !== width || png.height !== height) return;
    for (let i = 0; i < data.length; i++) data[i] = png.depth === 16 ? png.data[i]! >> 8 : png.data[i]!;
  } catch {
    // the browser has shown it, so that it is good enough as it is
  }
}

async function copyOf({ file, picture, ours }: Pixels & { file: Blob }, side: number) {
  const bitmap = await (ours
    ? createImageBitmap(imageOf({ ...picture, data: painterAsIs(picture.space)(wordsOf(picture)) }))
    : createImageBitmap(file, { imageOrientation: 'from-image' }));
  const { width, height } = sizeWithin(bitmap, side);
  const wide = picture.space && picture.space.name !== SRGB.name;
  const canvas = new OffscreenCanvas(width, height);
  const context = canvas.getContext('2d', { colorSpace: wide ? 'display-p3' : 'srgb' });
  if (!context) throw new FormatError('This browser cannot read pictures.');
  context.imageSmoothingQuality = 'high';
  context.drawImage(bitmap, 0, 0, width, height);
  bitmap.close();
  const clear = hasAlpha(picture, 0);
  const copy = await canvas.convertToBlob(
    clear ? { type: 'image/png' } : { type: 'image/jpeg', quality: 0.95 },
  );
  return { copy, width, height };
}

/** Pixels of four bytes as PNG. */
export function pngOf(data: Uint8ClampedArray<ArrayBuffer>, width: number, height: number): Promise<Blob> {
  const canvas = new OffscreenCanvas(width, height);
  canvas.getContext('2d')?.putImageData(new ImageData(data, width, height), 0, 0);
  return canvas.convertToBlob({ type: 'image/png' });
}

/** The pixels of a flat picture, read like those of any other picture, with a warning. */
export async function flatPixels(
  colors: Colors,
  file: Blob,
): Promise<{ picture: Picture; note?: string | undefined }> {
  const { picture, bitmap, note } = await read(colors, file);
  bitmap.close();
  return { picture, note };
}

/** A browser's canvas as what pictures are read with. @param colors fetches the engine when the first picture in CMYK comes */
export const pictureCanvas = (colors: Colors): PictureCanvas => ({
  load: (file, name, stage) => load(colors, file, name, stage),
  copyOf,
  pngOf,
});
