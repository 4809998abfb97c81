import {
  correctionOf,
  type Found,
  findChart,
  findPalette,
  fitOf,
  type Histogram,
  histogram,
  type Look,
  type Painter,
  type PaletteSource,
  type Picture,
  type Prepared,
  painterAsIs,
  painterWith,
  paletteOf,
  partOf,
  pixelsIn,
  prepare,
  type Recipe,
  SRGB,
  sample,
  together,
  type View,
  verifyCorrection,
} from '#core/picture/index';
import { colorOfPixel } from '#core/picture/space';
import { FormatError } from '#core/text/error';
import type { PictureQueries, Source } from '~/messages/picture-messages';
import type { Answers } from './worker-client';

const LOUPE_SIDE = 15;
/** At most this many pixels of all open pictures are held at once; others are read from their files again when they are needed. */
const MAX_HELD_PIXELS = 100_000_000;

export interface Pixels {
  picture: Picture;
  /** A small copy with smooth pixels, for looks from afar. */
  preview: Picture;
  /** The browser cannot decode the file the same way, or not at all. */
  ours: boolean;
}

/** What a browser does with pictures. */
export interface PictureCanvas {
  /** @returns as well a copy for lists, and what went wrong with its profile */
  load(
    file: Blob,
    name: string,
    stage: (text: string) => void,
  ): Promise<Pixels & { small: Picture; note: string | undefined | null }>;
  /** A copy whose longer side has at most `side` pixels. */
  copyOf(
    pixels: Pixels & { file: Blob },
    side: number,
  ): Promise<{ copy: Blob; width: number; height: number }>;
  /** Pixels of four bytes as PNG. */
  pngOf(data: Uint8ClampedArray<ArrayBuffer>, width: number, height: number): Promise<Blob>;
}

interface Opened {
  file: Blob;
  name: string;
  pixels: Pixels | null;
  waking: Promise<void> | null;
}

export const wordsOf = ({ data }: Picture) => new Uint32Array(data.buffer, data.byteOffset, data.length >> 2);

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

const scaled = (view: View, factor: number): View => ({
  ...view,
  x: view.x * factor,
  y: view.y * factor,
  width: view.width * factor,
  height: view.height * factor,
});

/** What a palette follows from; the rest of the recipe is laid over it. */
const keyOf = (source: Source, recipe: Recipe) => {
  const { method, count, accent, held, cell, region, keepBackground, grid, points } = recipe;
  return JSON.stringify([source, method, count, accent, held, cell, region, keepBackground, grid, points]);
};

/**
 * What the picture worker does.
 *
 * @param maxHeld pixels of all open pictures that are held at once
 */
export function pictureAnswers(canvas: PictureCanvas, maxHeld = MAX_HELD_PIXELS): Answers<PictureQueries> {
  /** The ones used last stand last. */
  const opened = new Map<string, Opened>();

  function entry(id: string): Opened {
    const found = opened.get(id);
    if (!found) throw new FormatError('The picture is not open any more.');
    return found;
  }

  /** A picture whose pixels have been seen to. */
  function find(id: string): Pixels & { file: Blob } {
    const { pixels, file } = entry(id);
    if (!pixels) throw new FormatError('The picture is not in memory.');
    return { ...pixels, file };
  }

  /** Sees to it that the pixels of a picture are held. */
  async function need(id: string): Promise<void> {
    const one = entry(id);
    opened.delete(id);
    opened.set(id, one);
    while (!one.pixels) {
      one.waking ??= canvas
        .load(one.file, one.name, () => undefined)
        .then(({ picture, preview, ours }) => {
          one.pixels = { picture, preview, ours };
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
      if (total <= maxHeld) return;
      total -= one.pixels!.picture.width * one.pixels!.picture.height;
      one.pixels = null;
      parts.forget(id);
    }
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

  return {
    async open({ id, file, name }, { stage }) {
      const { small, note, ...pixels } = await canvas.load(file, name, stage);
      opened.set(id, { file, name, pixels, waking: null });
      makeRoom();
      stage('Counting the colours');
      const { total } = countOf([id], { cell: 1, region: null });
      const { picture } = pixels;
      const shown = painterAsIs(picture.space)(wordsOf(small));
      return {
        width: picture.width,
        height: picture.height,
        opaque: total,
        space: picture.space?.name ?? SRGB.name,
        note: note ?? null,
        thumbnail: await canvas.pngOf(shown, small.width, small.height),
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

    async correct({ id, known, reference, grid }) {
      await need(id);
      return correctionOf(find(id).picture, known, reference, grid).correction;
    },

    async verify({ id, correction, known, reference, grid }) {
      await need(id);
      const { picture } = find(id);
      const there = grid ?? findChart(picture);
      if (!there) throw new FormatError('no second chart was found. Lay a grid over it under Chart.');
      return verifyCorrection(picture, correction, known, reference, there);
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
      const found = find(id);
      const { file, picture } = found;
      if (Math.max(picture.width, picture.height) <= side && file.size <= bytes)
        return { copy: file, width: picture.width, height: picture.height };
      return canvas.copyOf(found, side);
    },
  };
}
