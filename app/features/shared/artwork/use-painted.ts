import { useEffect, useMemo, useRef, useState } from 'react';
import { partAt } from '#core/artwork/index';
import type { Made } from '~/messages/artwork-messages';
import { useStores } from '~/state/stores';
import { latestOnly } from '~/workers/worker-client';

interface Shown {
  url: string;
  hash: string;
  made: Made;
}

/** Pixels on the longer side of a page that is looked at closely, and of a small one. */
const PAGE_SIDE = 2000;
export const SMALL_SIDE = 400;

/** What a worker has painted, as an image can show it. */
export async function asImage(painted: Blob, page: number | undefined, side = PAGE_SIDE): Promise<Blob> {
  if (painted.type !== 'application/pdf') return painted;
  const { pagePicture } = await import('../pdf-page');
  return pagePicture(painted, page ?? 0, side);
}

/**
 * An artwork as an image, redrawn when what becomes of it changes; the one before stays until the next can be seen.
 * @param side of a page of a PDF, the longer, pixels
 */
export function usePainted(
  hash: string | undefined,
  made: Made | null,
  side?: number,
): {
  url: string | null;
  /** What it shows, which may be older than what was asked for. */
  of: Made | null;
  problem: string | null;
} {
  const { artworks } = useStores();
  const [shown, setShown] = useState<Shown | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const kept = useRef<string | null>(null);
  const live = useRef(true);
  const paint = useMemo(
    () =>
      latestOnly(
        async (ask: { hash: string; made: Made }) => {
          const painted = await artworks.client.ask('paint', ask);
          const url = URL.createObjectURL(await asImage(painted, ask.made.page, side));
          const image = new Image();
          image.src = url;
          // an image that is put in place before it is decoded is a blank for a moment
          await image.decode().catch(() => undefined);
          return url;
        },
        (url, ask) => {
          if (!live.current) {
            URL.revokeObjectURL(url);
            return;
          }
          const last = kept.current;
          kept.current = url;
          setShown({ url, ...ask });
          setProblem(null);
          if (last) setTimeout(() => URL.revokeObjectURL(last), 1000);
        },
        (error) => setProblem(error.message),
      ),
    [artworks, side],
  );
  useEffect(() => {
    if (hash && made) paint({ hash, made });
  }, [paint, hash, made]);
  useEffect(() => {
    live.current = true;
    return () => {
      live.current = false;
      if (kept.current) URL.revokeObjectURL(kept.current);
      kept.current = null;
    };
  }, []);
  const here = shown && shown.hash === hash ? shown : null;
  return { url: here?.url ?? null, of: here?.made ?? null, problem };
}

/** Pixels of an image on white, at most this many a side. */
export async function pixelsOf(
  picture: Blob,
  aspect: number,
  side: number,
  smooth = true,
): Promise<{ data: Uint8ClampedArray; width: number; height: number }> {
  const url = URL.createObjectURL(picture);
  try {
    const image = new Image();
    image.src = url;
    await image.decode();
    const [width, height] = aspect >= 1 ? [side, side / aspect] : [side * aspect, side];
    const canvas = document.createElement('canvas');
    canvas.width = Math.max(1, Math.round(width));
    canvas.height = Math.max(1, Math.round(height));
    const context = canvas.getContext('2d', { willReadFrequently: true })!;
    context.imageSmoothingEnabled = smooth;
    context.fillStyle = '#fff';
    context.fillRect(0, 0, canvas.width, canvas.height);
    context.drawImage(image, 0, 0, canvas.width, canvas.height);
    return {
      data: context.getImageData(0, 0, canvas.width, canvas.height).data,
      width: canvas.width,
      height: canvas.height,
    };
  } finally {
    URL.revokeObjectURL(url);
  }
}

/** For every place of an artwork the number of the part that is seen there; −1 where none is. */
export interface PartMap {
  ids: Int32Array;
  width: number;
  height: number;
}

export const MAP_SIDE = 1100;
/** A thin line has no place that is of it alone: this many around are looked at. */
const AROUND = 3;

/** Where the parts of an artwork are. It follows from the shapes, whatever their colours. */
export function usePartMap(hash: string | undefined, made: Made | null, parts: number): PartMap | null {
  const { artworks } = useStores();
  const [map, setMap] = useState<(PartMap & { key: string }) | null>(null);
  const lines = made?.orders.flatMap((o) => (o.line ? [[o.from, o.parts, o.line]] : []));
  const key =
    made && hash
      ? JSON.stringify([hash, made.page, lines, made.outlines.map((o) => [o.of, o.offset, o.width])])
      : '';
  const latest = useRef(made);
  latest.current = made;
  useEffect(() => {
    const now = latest.current;
    if (!hash || !now || !key) return;
    let live = true;
    void (async () => {
      try {
        const picture = await artworks.client.ask('map', { hash, made: now });
        const { width: w, height: h } = now.size;
        const isPicture = picture.type === 'image/png' && now.page === undefined;
        const side = isPicture ? Math.min(MAP_SIDE, Math.max(w, h)) : MAP_SIDE;
        const { data, width, height } = await pixelsOf(picture, w / h, side, false);
        if (!live) return;
        const ids = new Int32Array(width * height);
        for (let i = 0; i < ids.length; i++)
          ids[i] =
            partAt(
              (data[4 * i]! << 16) | (data[4 * i + 1]! << 8) | data[4 * i + 2]!,
              parts + now.outlines.length,
            ) ?? -1;
        setMap({ ids, width, height, key });
      } catch {
        // without it the artwork is looked at and not pointed at; what is wrong with it is reported where it is painted
      }
    })();
    return () => {
      live = false;
    };
  }, [artworks, hash, key, parts]);
  return map?.key === key ? map : null;
}

/** The number of the part at a place, 0–1 across and down; null where there is none. */
export function partUnder({ ids, width, height }: PartMap, x: number, y: number): number | null {
  const [cx, cy] = [Math.floor(x * width), Math.floor(y * height)];
  for (let r = 0; r <= AROUND; r++)
    for (let dy = -r; dy <= r; dy++)
      for (let dx = -r; dx <= r; dx++) {
        if (Math.max(Math.abs(dx), Math.abs(dy)) !== r) continue;
        const [px, py] = [cx + dx, cy + dy];
        if (px < 0 || py < 0 || px >= width || py >= height) continue;
        const id = ids[py * width + px]!;
        if (id >= 0) return id;
      }
  return null;
}

/** The colour that is seen at a place of an image, 0–255 each. */
export async function colorAt(
  url: string,
  { x, y }: { x: number; y: number },
  aspect: number,
): Promise<[number, number, number]> {
  const image = new Image();
  image.src = url;
  await image.decode();
  const canvas = document.createElement('canvas');
  canvas.width = 1;
  canvas.height = 1;
  const context = canvas.getContext('2d', { willReadFrequently: true })!;
  context.fillStyle = '#fff';
  context.fillRect(0, 0, 1, 1);
  context.drawImage(image, -x * MAP_SIDE, (-y * MAP_SIDE) / aspect, MAP_SIDE, MAP_SIDE / aspect);
  const [r, g, b] = context.getImageData(0, 0, 1, 1).data;
  return [r!, g!, b!];
}
