/// <reference lib="webworker" />
import { decode as decodePng } from 'fast-png';
import {
  checkPictureBytes,
  checkPixels,
  decodeHere,
  type Found,
  findPalette,
  fitOf,
  type Histogram,
  histogram,
  type Look,
  OPAQUE,
  type Painter,
  type PaletteSource,
  type Picture,
  PictureRefusedError,
  type Prepared,
  painterAsIs,
  painterWith,
  paletteOf,
  partOf,
  pictureType,
  pixelsIn,
  prepare,
  type Recipe,
  SRGB,
  sample,
  spaceOf,
  together,
  type View,
} from '#core/picture/index';
import { colorOfPixel } from '#core/picture/space';
import { Colors } from '~/colors/colors';
import type { PictureQueries, Source } from '~/messages/picture-messages';
import { type Answers, serve } from './worker-client';

const PREVIEW_SIDE = 1600;
const THUMBNAIL_SIDE = 160;
const LOUPE_SIDE = 15;
/** Pixels are read from the decoded picture in bands, so that they are never in memory three times. */
const BAND_ROWS = 512;

class PictureError extends Error {}

/** At most this many pixels of all open pictures are held at once; others are read from their files again when they are needed. */
const MAX_HELD_PIXELS = 100_000_000;

interface Pixels {
  picture: Picture;
  preview: Picture;
  /** The browser cannot decode the file the same way, or not at all. */
  ours: boolean;
}
interface Opened {
  file: Blob;
  name: string;
  pixels: Pixels | null;
  waking: Promise<void> | null;
}

/** The ones used last stand last. */
const opened = new Map<string, Opened>();

function entry(id: string): Opened {
  const found = opened.get(id);
  if (!found) throw new PictureError('The picture is not open any more.');
  return found;
}

/** A picture whose pixels have been seen to. */
function find(id: string): Pixels & { file: Blob } {
  const { pixels, file } = entry(id);
  if (!pixels) throw new PictureError('The picture is not in memory.');
  return { ...pixels, file };
}

/** Sees to it that the pixels of a picture are held. */
async function need(id: string): Promise<void> {
  const one = entry(id);
  opened.delete(id);
  opened.set(id, one);
  while (!one.pixels) {
    one.waking ??= load(one.file, one.name, () => undefined).then((pixels) => {
      one.pixels = pixels;
      one.waking = null;
      makeRoom();
    });
    await one.waking;
  }
}

/** Lets go of the pixels that have not been used for longest, but for the last one's. */
function makeRoom(): void {
  const held = [...opened].filter(([, o]) => o.pixels);
  let total = held.reduce((n, [, o]) => n + o.pixels!.picture.width * o.pixels!.picture.height, 0);
  for (const [id, one] of held.slice(0, -1)) {
    if (total <= MAX_HELD_PIXELS) return;
    total -= one.pixels!.picture.width * one.pixels!.picture.height;
    one.pixels = null;
    parts.forget(id);
  }
}

/** Remembers the last few results of costly steps; the key is all they follow from. */
function remembering<T>(most: number) {
  const kept = new Map<string, T>();
  return {
    get(key: string, make: () => T): T {
      const value = kept.has(key) ? (kept.get(key) as T) : make();
      kept.delete(key);
      kept.set(key, value);
      if (kept.size > most) kept.delete(kept.keys().next().value as string);
      return value;
    },
    has: (key: string) => kept.has(key),
    forget(part: string) {
      for (const key of kept.keys()) if (key.includes(part)) kept.delete(key);
    },
  };
}

const parts = remembering<Picture>(2);
const counted = remembering<{ histogram: Histogram; area: number }>(64);
const boards = remembering<Histogram>(3);
const ready = remembering<Prepared>(4);
const palettes = remembering<Found>(4);
const painters = remembering<Painter>(3);

/** The part of a picture that is looked at; the whole of it costs nothing and is not remembered. */
function part(id: string, look: Look): Picture {
  const { picture } = find(id);
  if (!look.region && look.cell <= 1) return picture;
  return parts.get(JSON.stringify([id, look.cell, look.region]), () => partOf(picture, look));
}

const countKey = (id: string, look: Look) => JSON.stringify([id, look]);
const countOne = (id: string, look: Look) =>
  counted.get(countKey(id, look), () => {
    const from = part(id, look);
    return { histogram: histogram(from), area: from.width * from.height };
  });

/** The colours of pictures whose pixels, or counts, have been seen to. */
const countOf = (source: Source, look: Look): Histogram =>
  source.length === 1
    ? countOne(source[0]!, look).histogram
    : boards.get(JSON.stringify([source, look]), () => {
        const counts = source.map((id) => countOne(id, look));
        return together(
          counts.map((c) => c.histogram),
          counts.map((c) => c.area),
        );
      });

/** Sees to the counts of pictures one after the other, so that they need not all be held at once. */
async function needCounts(source: Source, { cell, region }: Look): Promise<void> {
  const look = { cell, region };
  for (const id of source) {
    if (counted.has(countKey(id, look))) continue;
    await need(id);
    countOne(id, look);
  }
}

/** Pictures whose pixels, or counts, have been seen to, with the costly steps remembered. */
const sourceOf = (source: Source): PaletteSource => ({
  picture: source.length === 1 ? find(source[0]!).picture : null,
  part: (look) => part(source[0]!, look),
  prepared: (look) => ready.get(JSON.stringify([source, look]), () => prepare(countOf(source, look))),
});

/** What a palette follows from; the rest of the recipe is laid over it. */
const keyOf = (source: Source, recipe: Recipe) => {
  const { method, count, accent, held, cell, region, keepBackground, grid, points } = recipe;
  return JSON.stringify([source, method, count, accent, held, cell, region, keepBackground, grid, points]);
};

const answers: Answers<PictureQueries> = {
  async open({ id, file, name }, { stage }) {
    const pixels = await load(file, name, stage);
    opened.set(id, { file, name, pixels, waking: null });
    makeRoom();
    stage('Counting the colours');
    const { total } = countOf([id], { cell: 1, region: null });
    const { picture, small, note } = pixels;
    const shown = painterAsIs(picture.space)(wordsOf(small));
    return {
      width: picture.width,
      height: picture.height,
      opaque: total,
      space: picture.space?.name ?? SRGB.name,
      note: note ?? null,
      thumbnail: await asFile(shown, small.width, small.height, 'image/png'),
    };
  },

  shut({ id }) {
    opened.delete(id);
    for (const kept of [parts, counted, boards, ready, palettes]) kept.forget(id);
    return null;
  },

  async palette({ source, recipe }) {
    if (source.length > 1) await needCounts(source, recipe);
    else for (const id of source) await need(id);
    return paletteOf(sourceOf(source), recipe, (from) =>
      palettes.get(keyOf(source, recipe), () => findPalette(from, recipe)),
    );
  },

  async fit({ source, look, palette }) {
    await needCounts(source, look);
    return fitOf(countOf(source, look), palette);
  },

  async show({ id, cell, view, palette }) {
    await need(id);
    const { picture, preview } = find(id);
    const scale = view.outWidth / view.width;
    // far out, the small copy with its smooth pixels; near, the picture's own
    const small = preview.width / picture.width;
    const [from, factor] =
      cell > 1
        ? [part(id, { cell, region: null }), 1 / cell]
        : scale <= small
          ? [preview, small]
          : [picture, 1];
    const pixels = pixelsIn(from, scaled(view, factor));
    const paint = palette
      ? painters.get(JSON.stringify([picture.space?.name, palette]), () =>
          painterWith(palette, picture.space),
        )
      : painterAsIs(picture.space);
    return { data: paint(pixels) };
  },

  async peek({ id, x, y, size, cell }) {
    await need(id);
    const { picture } = find(id);
    const reach = (LOUPE_SIDE - 1) / 2;
    const view = { x: x - reach, y: y - reach, width: LOUPE_SIDE, height: LOUPE_SIDE };
    const around = painterAsIs(picture.space)(
      pixelsIn(picture, { ...view, outWidth: LOUPE_SIDE, outHeight: LOUPE_SIDE }),
    );
    const rgb =
      cell > 1
        ? sample(part(id, { cell, region: null }), Math.floor(x / cell), Math.floor(y / cell), 1)
        : sample(picture, x, y, size);
    const color = rgb && {
      color: colorOfPixel(rgb, picture.space),
      rgb,
      share: 0,
      first: y * picture.width + x,
    };
    return { color, around, side: LOUPE_SIDE };
  },

  async copy({ id, side, bytes }) {
    await need(id);
    const { file, picture, ours } = find(id);
    if (Math.max(picture.width, picture.height) <= side && file.size <= bytes)
      return { copy: file, width: picture.width, height: picture.height };
    const bitmap = await (ours
      ? createImageBitmap(imageOf({ ...picture, data: painterAsIs(picture.space)(wordsOf(picture)) }))
      : createImageBitmap(file, { imageOrientation: 'from-image' }));
    const { width, height } = sizeWithin(bitmap, side);
    const wide = picture.space && picture.space.name !== SRGB.name;
    const canvas = new OffscreenCanvas(width, height);
    const context = canvas.getContext('2d', { colorSpace: wide ? 'display-p3' : 'srgb' });
    if (!context) throw new PictureError('This browser cannot read pictures.');
    context.imageSmoothingQuality = 'high';
    context.drawImage(bitmap, 0, 0, width, height);
    bitmap.close();
    const clear = hasAlpha(picture, 0);
    const copy = await canvas.convertToBlob(
      clear ? { type: 'image/png' } : { type: 'image/jpeg', quality: 0.95 },
    );
    return { copy, width, height };
  },
};

/** Reads a picture from its file. */
async function load(
  file: Blob,
  name: string,
  stage: (text: string) => void,
): Promise<Pixels & { small: Picture; note: string | undefined | null }> {
  stage('Decoding');
  try {
    checkPictureBytes(file.size);
  } catch (error) {
    throw new PictureError(`${name}: ${(error as Error).message}`);
  }
  const bytes = new Uint8Array(await file.arrayBuffer());
  const { space, note } = spaceOf(bytes, pictureType(bytes));
  const { bitmap, here } = await decode(file, bytes, name, space !== null);
  stage('Reading the pixels');
  const picture = here ?? { ...pixelsOf(bitmap), space: space ?? SRGB };
  if (!here) restoreAlpha(picture, bytes);
  const preview = { ...pixelsOf(bitmap, PREVIEW_SIDE), ...(picture.space ? { space: picture.space } : {}) };
  const small = pixelsOf(bitmap, THUMBNAIL_SIDE);
  bitmap.close();
  return { picture, preview, ours: here !== null, small, note };
}

const wordsOf = ({ data }: Picture) => new Uint32Array(data.buffer, data.byteOffset, data.length >> 2);

const scaled = (view: View, factor: number): View => ({
  ...view,
  x: view.x * factor,
  y: view.y * factor,
  width: view.width * factor,
  height: view.height * factor,
});

/** The engine and the profile for inks are fetched when the first picture in CMYK comes. */
const colors = new Colors();

/**
 * @param raw the numbers as they are in the file; else brought to sRGB by the browser
 * @returns `here` when the browser had no part in the pixels
 */
async function decode(
  file: Blob,
  bytes: Uint8Array<ArrayBuffer>,
  name: string,
  raw: boolean,
): Promise<{ bitmap: ImageBitmap; here: Picture | null }> {
  const type = pictureType(bytes);
  try {
    const here = await decodeHere(bytes, type, () => colors.load());
    const bitmap = here
      ? await createImageBitmap(imageOf(here), { premultiplyAlpha: 'none' })
      : await createImageBitmap(file, {
          imageOrientation: 'from-image',
          colorSpaceConversion: raw ? 'none' : 'default',
        });
    checkPixels(bitmap.width, bitmap.height);
    return { bitmap, here };
  } catch (error) {
    if (error instanceof PictureRefusedError) throw new PictureError(`${name}: ${error.message}`);
    throw new PictureError(
      `${name}: it begins like a ${type ?? 'picture'}, but does not decode. It is damaged or cut short (${bytes.length.toLocaleString('en-GB')} bytes); get it again from where it was made.`,
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
  if (!context) throw new PictureError('This browser cannot read pictures.');
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

async function asFile(
  data: Uint8ClampedArray<ArrayBuffer>,
  width: number,
  height: number,
  type: string,
): Promise<Blob> {
  const canvas = new OffscreenCanvas(width, height);
  canvas.getContext('2d')?.putImageData(new ImageData(data, width, height), 0, 0);
  return canvas.convertToBlob({ type });
}

serve(answers, (error) =>
  error instanceof PictureError
    ? error.message
    : `The picture cannot be worked on: ${(error as Error).message}`,
);
