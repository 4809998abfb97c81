import {
  boardPdf,
  boardSvg,
  fontCss,
  outlinesOf,
  type SvgDrawing,
  textsOf,
  workKey,
} from '#core/board/index';
import type { Condition } from '#core/color/index';
import type { LoadFont } from '#core/formats/index';
import type { Library } from '#core/swatch/index';
import type { DrawnBoard } from '~/messages/artwork-messages';

/** What draws boards needs of the place where it runs. */
export interface BoardServices {
  loadFont: LoadFont;
  profile(hash: string): Promise<Uint8Array | null>;
  /** A work in its colourway as it is printed. */
  printed(
    hash: string,
    made: DrawnBoard['works'][number]['made'],
  ): Promise<{ bytes: Uint8Array; page?: number }>;
}

async function dataUrl(blob: Blob): Promise<string> {
  const bytes = new Uint8Array(await blob.arrayBuffer());
  let text = '';
  // as many arguments as a call takes
  for (let i = 0; i < bytes.length; i += 8192) text += String.fromCharCode(...bytes.subarray(i, i + 8192));
  return `data:${blob.type};base64,${btoa(text)}`;
}

/** A library with what the gradients and inks of a board are looked up in. */
const libraryOf = ({ press, swatches }: DrawnBoard): Library => {
  const known = new Set(swatches.map((s) => s.id));
  const all = [...swatches, ...press.inks.filter((s) => !known.has(s.id))];
  return { id: '', name: '', groups: [{ id: '', name: '', swatches: all }] };
};

/** The pages of a board as SVG. */
export async function boardSvgs(
  board: DrawnBoard,
  isOutlined: boolean,
  condition: Condition,
  { loadFont }: BoardServices,
): Promise<Blob[]> {
  const urls = async <T>(list: readonly T[], keyOf: (one: T) => string, blobOf: (one: T) => Blob) =>
    new Map(await Promise.all(list.map(async (one) => [keyOf(one), await dataUrl(blobOf(one))] as const)));
  const drawing: SvgDrawing = {
    ...{ library: libraryOf(board), condition, ground: board.ground, title: board.title },
    pictures: await urls(
      board.pictures,
      (p) => p.id,
      (p) => p.copy,
    ),
    works: await urls(
      board.works,
      (w) => workKey(w.work, w.colorway),
      (w) => w.shown,
    ),
    ...(isOutlined
      ? { outline: await outlinesOf(loadFont, textsOf(board.pages)) }
      : {
          fontCss: await fontCss(loadFont, (bytes) =>
            dataUrl(new Blob([bytes.slice()], { type: 'font/woff' })),
          ),
        }),
  };
  return board.pages.map((page) => new Blob([boardSvg(page, drawing)], { type: 'image/svg+xml' }));
}

/** A board as PDF. */
export async function boardAsPdf(
  board: DrawnBoard,
  how: { bleed: boolean; marks: boolean; x4: boolean },
  condition: Condition,
  { loadFont, profile, printed }: BoardServices,
): Promise<{ bytes: Uint8Array<ArrayBuffer>; warnings: string[] }> {
  const bytesOf = async (blob: Blob) => new Uint8Array(await blob.arrayBuffer());
  const pictures = new Map(
    await Promise.all(board.pictures.map(async (p) => [p.id, await bytesOf(p.copy)] as const)),
  );
  const works = new Map<string, { bytes: Uint8Array; page?: number }>();
  // one after the other: each is a document of its own
  for (const { work, colorway, hash, made, shown } of board.works)
    works.set(
      workKey(work, colorway),
      shown.type === 'image/png' && made.page === undefined
        ? { bytes: await bytesOf(shown) }
        : await printed(hash, made),
    );
  return boardPdf(board.pages, {
    ...{ library: libraryOf(board), title: board.title, parts: { pictures, works } },
    ground: board.printsGround ? board.ground : null,
    services: { condition, loadFont, profile, now: new Date().toISOString() },
    ...how,
  });
}
