import { sha256 } from '@noble/hashes/sha2';
import { bytesToHex } from '@noble/hashes/utils';
import {
  type Artwork,
  artworkPdf,
  artworkText,
  codeOfPart,
  type FlatPicture,
  factsOf,
  type MadeArtwork,
  madeOf,
  madePdf,
  madeSvg,
  type PageLine,
  pageLines,
  pagePlates,
  pagesFacts,
  partMap,
  pictureFacts,
  platesOf,
  readArtwork,
  readFlat,
  recoloredPixels,
  separated,
  shownPdf,
  withOutlines,
} from '#core/artwork/index';
import { type Condition, USUAL_CONDITION } from '#core/color/index';
import { FormatError, type LoadFont } from '#core/formats/index';
import type { PdfArtwork } from '#core/pdf/artwork';
import { isPdf } from '#core/pdf/sniff';
import { inSrgb, type Picture, pictureType, warningOf } from '#core/picture/index';
import { MAX_ARTWORK_BYTES } from '#core/sizes';
import type { Library } from '#core/swatch/index';
import type { Colors } from '~/colors/colors';
import type { ArtworkQueries, DrawnBoard, Made, Press } from '~/messages/artwork-messages';
import type { BoardServices } from './board-answers';
import type { Answers } from './worker-client';

/** What the place where this runs lends it. */
export interface ArtworkServices {
  colors: Pick<Colors, 'condition' | 'bytesOf'>;
  loadFont: LoadFont;
  decode(file: Blob): Promise<{ picture: Picture; note?: string | undefined }>;
  /** Pixels of four bytes as PNG. */
  encode(data: Uint8ClampedArray<ArrayBuffer>, width: number, height: number): Promise<Blob>;
}

type Held = { drawing: Artwork } | { picture: FlatPicture; warnings: string[] } | { pages: PdfArtwork };

const SVG = 'image/svg+xml';
const asSvg = (text: string) => new Blob([text], { type: SVG });
const asPdf = (bytes: Uint8Array<ArrayBuffer>) => new Blob([bytes], { type: 'application/pdf' });
/** Pixels on the longer side of what says where the parts of a page are. */
const MAP_SIDE = 1100;
/** Numbers of parts as pixels that say them. */
function coded(ids: Int16Array | Int32Array): Uint8ClampedArray<ArrayBuffer> {
  const data = new Uint8ClampedArray(ids.length * 4);
  ids.forEach((id, i) => {
    if (id < 0) return;
    const code = codeOfPart(id);
    data.set([code >> 16, (code >> 8) & 255, code & 255, 255], 4 * i);
  });
  return data;
}
const greyOf = (share: number) => Math.round(255 * (1 - share));

/** What the artwork worker does. */
export function artworkAnswers({
  colors,
  loadFont,
  decode,
  encode,
}: ArtworkServices): Answers<ArtworkQueries> {
  const held = new Map<string, Held>();
  /** The last drawing of each with lines around its shapes, which takes as long to make as to read it. */
  const outlined = new Map<string, { key: string; made: Awaited<ReturnType<typeof withOutlines>> }>();

  const look = async (bytes: Uint8Array<ArrayBuffer>, breathe?: () => Promise<void>): Promise<Held> => {
    if (isPdf(bytes)) {
      const { PdfArtwork } = await import('#core/pdf/artwork');
      // one for all files, so that a colour is called the same wherever it is opened
      const usual = await colors.condition(USUAL_CONDITION, []);
      return { pages: await PdfArtwork.open(bytes, usual, breathe) };
    }
    if (!pictureType(bytes)) return { drawing: readArtwork(artworkText(bytes)) };
    const { picture, note } = await decode(new Blob([bytes]));
    const converted = inSrgb(picture);
    return {
      picture: readFlat(converted.picture),
      warnings: [...(note ? [note] : []), ...warningOf(converted)],
    };
  };
  const warnings = (one: Held) =>
    ('drawing' in one ? one.drawing : 'pages' in one ? one.pages : one).warnings;
  const facts = (one: Held) =>
    'drawing' in one
      ? factsOf(one.drawing)
      : 'pages' in one
        ? pagesFacts(one.pages)
        : pictureFacts(one.picture);
  const find = (hash: string): Held => {
    const one = held.get(hash);
    if (!one) throw new FormatError('the artwork is not open any more. Choose it again.');
    return one;
  };

  const drawn = async (
    hash: string,
    drawing: Artwork,
    { orders, outlines, size }: Made,
  ): Promise<MadeArtwork> => {
    const lines = outlines.map(({ of, offset, width }) => ({ of, offset, width }));
    const key = JSON.stringify([lines, size]);
    let known = outlined.get(hash);
    if (known?.key !== key) {
      known = { key, made: await withOutlines({ ...drawing, size }, lines) };
      outlined.set(hash, known);
    }
    const { artwork, keys } = known.made;
    return madeOf(
      artwork,
      orders,
      keys.map((key, i) => {
        const { color, to, swatch } = outlines[i]!;
        return { key, color, to, ...(swatch ? { swatch } : {}) };
      }),
    );
  };

  /** The lines around parts of a PDF, found once. */
  const lined = async (hash: string, pdf: PdfArtwork, { outlines }: Made): Promise<PageLine[]> => {
    const key = JSON.stringify(outlines.map(({ of, offset, width }) => [of, offset, width]));
    let known = linesOfPages.get(hash);
    if (known?.key !== key) {
      known = { key, lines: await pageLines(pdf, outlines) };
      linesOfPages.set(hash, known);
    }
    return known.lines.map((line, i) => {
      const { color, to, swatch } = outlines[i]!;
      return {
        page: line.page,
        paths: line.paths,
        width: line.width,
        color,
        to,
        ...(swatch ? { swatch } : {}),
      };
    });
  };
  const linesOfPages = new Map<string, { key: string; lines: PageLine[] }>();

  /** A picture in other colours, by what each of its own becomes. */
  const repainted = (picture: FlatPicture, changes: ReadonlyMap<number, string>) => {
    const { width, height, channels } = picture;
    const data = recoloredPixels(picture, changes);
    if (channels === 4) return encode(new Uint8ClampedArray(data.buffer), width, height);
    const whole = new Uint8ClampedArray(width * height * 4).fill(255);
    for (let i = 0; i < width * height; i++) whole.set(data.subarray(3 * i, 3 * i + 3), 4 * i);
    return encode(whole, width, height);
  };
  const idsOf = (picture: FlatPicture) => new Map(picture.colors.map((c) => [c.hex, Number(c.parts[0]!.id)]));
  const changesIn = (picture: FlatPicture, { orders }: Made) => {
    const ids = idsOf(picture);
    return new Map(
      orders.flatMap(({ from, to }) => (from === to ? [] : [[ids.get(from) ?? -1, to] as const])),
    );
  };

  const boardServices = (condition: Condition, library: Library): BoardServices => ({
    loadFont,
    profile: (id) => colors.bytesOf(id),
    async printed(hash, made) {
      const one = find(hash);
      if ('pages' in one) {
        const lines = await lined(hash, one.pages, made);
        const bytes = await madePdf(one.pages, made.orders, library, condition, { lines, fresh: true });
        return { bytes, page: made.page ?? 0 };
      }
      if ('picture' in one) throw new FormatError('a picture is taken as PNG.');
      const services = { condition, loadFont, profile: (id: string) => colors.bytesOf(id) };
      const pages = [{ ...(await drawn(hash, one.drawing, made)), name: '' }];
      return artworkPdf(pages, library, '', services);
    },
  });

  const pressed = async ({ condition, inks }: Press, made: Made[]) => {
    const used = made.flatMap((m) => [...m.orders, ...m.outlines].map((o) => o.color));
    const library: Library = { id: '', name: '', groups: [{ id: '', name: '', swatches: inks }] };
    return { library, condition: await colors.condition(condition, [...used, ...inks.map((s) => s.color)]) };
  };

  /** What a board is printed under, with every color on it at hand. */
  const pressedBoard = async ({ press, pages, swatches, works }: DrawnBoard) => {
    const own = pages.flatMap((p) => p.marks.flatMap((m) => (m.is === 'area' ? [m.swatch.color] : [])));
    const { library } = await pressed(
      press,
      works.map((w) => w.made),
    );
    const all = [...own, ...swatches.map((s) => s.color), ...press.inks.map((s) => s.color)];
    const made = works.flatMap((w) => [...w.made.orders, ...w.made.outlines].map((o) => o.color));
    return { library, condition: await colors.condition(press.condition, [...all, ...made]) };
  };

  return {
    async read({ file }, { breathe }) {
      if (file.size > MAX_ARTWORK_BYTES)
        throw new FormatError(
          `it has ${Math.round(file.size / 1e6)} MB; up to 20 MB can be opened. Take pictures out of it, or divide it.`,
        );
      const bytes = new Uint8Array(await file.arrayBuffer());
      const one = await look(bytes, breathe);
      // a drawing is kept cleaned, all else as it came
      const kept = 'drawing' in one ? new TextEncoder().encode(one.drawing.text) : bytes;
      const hash = bytesToHex(sha256(kept));
      held.set(hash, one);
      return { hash, bytes: new Blob([kept]), facts: facts(one), warnings: warnings(one) };
    },

    async open({ hash, bytes }) {
      const one = held.get(hash) ?? (await look(new Uint8Array(await bytes.arrayBuffer())));
      held.set(hash, one);
      return { facts: facts(one), warnings: warnings(one) };
    },

    shut({ hash }) {
      held.delete(hash);
      outlined.delete(hash);
      linesOfPages.delete(hash);
      return null;
    },

    async paint({ hash, made }) {
      const one = find(hash);
      if ('drawing' in one) return asSvg(madeSvg(await drawn(hash, one.drawing, made)));
      if ('pages' in one) {
        const usual = await colors.condition(USUAL_CONDITION, []);
        return asPdf(await shownPdf(one.pages, made.orders, usual, await lined(hash, one.pages, made)));
      }
      return repainted(one.picture, changesIn(one.picture, made));
    },

    async map({ hash, made }) {
      const one = find(hash);
      if ('drawing' in one) return asSvg(partMap(await drawn(hash, one.drawing, made)));
      if ('pages' in one) {
        const lines = await lined(hash, one.pages, made);
        const { ids, width, height } = await one.pages.mapOf(made.page ?? 0, MAP_SIDE, lines);
        return encode(coded(ids), width, height);
      }
      const { first, second, amount, width, height } = one.picture;
      const seen = first.map((a, i) => (second[i]! >= 0 && amount[i]! > 127 ? second[i]! : a));
      return encode(coded(seen), width, height);
    },

    async plates({ hash, made, press }) {
      const one = find(hash);
      const { library, condition } = await pressed(press, [made]);
      if ('drawing' in one)
        return separated(await drawn(hash, one.drawing, made), library, condition).map(
          ({ svg, ...plate }) => ({
            ...plate,
            picture: asSvg(svg),
          }),
        );
      if ('pages' in one)
        return (
          await pagePlates(one.pages, made.orders, library, condition, await lined(hash, one.pages, made))
        ).map(({ pdf, ...plate }) => ({
          ...plate,
          picture: asPdf(pdf),
        }));
      const ids = idsOf(one.picture);
      const { plates, coverage } = platesOf(made.orders, library, condition);
      return Promise.all(
        plates.map(async (plate) => {
          const greys = made.orders.map((o, i): [number, string] => {
            const v = greyOf(coverage[i]!.get(plate.name) ?? 0)
              .toString(16)
              .padStart(2, '0');
            return [ids.get(o.from) ?? -1, `#${v}${v}${v}`];
          });
          return { ...plate, picture: await repainted(one.picture, new Map(greys)) };
        }),
      );
    },

    async svg({ hash, made, links }) {
      const one = find(hash);
      if ('pages' in one) throw new FormatError('a PDF stays one: take it as PDF.');
      if (!('drawing' in one)) throw new FormatError('a picture stays one: take it as PNG.');
      return asSvg(
        madeSvg(await drawn(hash, one.drawing, made), { size: made.size, ...(links ? { links } : {}) }),
      );
    },

    async pdf({ hash, pages, title, press, sheet, only, fresh, x4 }, { stage, breathe }) {
      const one = find(hash);
      if ('picture' in one) throw new FormatError('a picture stays one: take it as PNG.');
      const { library, condition } = await pressed(
        press,
        pages.map((p) => p.made),
      );
      stage('Laying out');
      await breathe();
      if ('pages' in one) {
        const [{ made }] = pages as [(typeof pages)[number]];
        const lines = await lined(hash, one.pages, made);
        const bytes = await madePdf(one.pages, made.orders, library, condition, { lines, fresh: !!fresh });
        return { bytes: asPdf(bytes), warnings: [] };
      }
      const all = [];
      for (const { made, name } of pages) all.push({ ...(await drawn(hash, one.drawing, made)), name });
      const { bytes, warnings } = await artworkPdf(
        all,
        library,
        title,
        { condition, loadFont, profile: (id) => colors.bytesOf(id), now: new Date().toISOString() },
        { sheet: !!sheet, only: !!only, x4: !!x4 },
      );
      return { bytes: asPdf(bytes), warnings };
    },

    async boardSvg({ board, outlines }) {
      const { boardSvgs } = await import('./board-answers');
      const { library, condition } = await pressedBoard(board);
      return boardSvgs(board, outlines, condition, boardServices(condition, library));
    },

    async boardPdf({ board, ...how }) {
      const { boardAsPdf } = await import('./board-answers');
      const { library, condition } = await pressedBoard(board);
      const { bytes, warnings } = await boardAsPdf(board, how, condition, boardServices(condition, library));
      return { bytes: asPdf(bytes), warnings };
    },
  };
}
