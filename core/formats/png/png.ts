import CRC32 from 'crc-32';
import { decode as decodePng } from 'fast-png';
import { zlibSync } from 'fflate';
import { type Condition, fromRgb8, toRgb8 } from '../../color/index.ts';
import { type Options, optionOf } from '../../options.ts';
import type { PixelSheet } from '../../services.ts';
import { countSwatches, type Library } from '../../swatch/model.ts';
import { ByteWriter } from '../../text/bytes.ts';
import { FormatError } from '../../text/error.ts';
import { isRecord, parseJson } from '../../text/json.ts';
import { decoder } from '../draft.ts';
import type { Format } from '../format.ts';
import { chipsOf, columnsOption } from '../sheet.ts';

/** The largest sheet, in pixels: what browsers and sharp still draw. */
const MAX_PIXELS = 120e6;
/** Taller ones some of them do not open at all. */
const MAX_HEIGHT_PIXELS = 30_000;
const KEYWORD = 'Papillon sheet';

/** Where everything stands on the sheet, in pixels. */
export function pngSheet(library: Library, options?: Options): PixelSheet {
  const count = Math.max(1, countSwatches(library));
  const names = Boolean(optionOf(png, options, 'names'));
  const strip = names ? 34 : 0;
  let chip = Number(optionOf(png, options, 'chip'));
  // a sheet that no program opens is not useful: it gets wider, and chips shrink, before that
  const columns = Math.min(
    count,
    Math.max(
      Number(optionOf(png, options, 'columns')),
      Math.ceil(count / Math.floor(MAX_HEIGHT_PIXELS / (chip + strip))),
    ),
  );
  const rows = Math.ceil(count / columns);
  while (chip > 1 && columns * chip * rows * (chip + strip) > MAX_PIXELS) chip = Math.floor(chip * 0.9);
  return {
    width: columns * chip,
    height: rows * (chip + strip),
    chip,
    strip,
    columns,
    chips: chipsOf(library, columns).chips,
  };
}

/** The sheet's pixels, RGBA: chips touch, places after the last chip are transparent, strips for names white. */
export function drawChips(
  { width, height, chip, strip, chips }: PixelSheet,
  condition: Condition,
): Uint8ClampedArray<ArrayBuffer> {
  const data = new Uint8ClampedArray(width * height * 4);
  const words = new Uint32Array(data.buffer);
  for (const { swatch, column, row } of chips) {
    const [r, g, b] = toRgb8(swatch.color, condition);
    const word = ((255 << 24) | (b << 16) | (g << 8) | r) >>> 0;
    const top = row * (chip + strip);
    for (let y = top; y < top + chip + strip; y++) {
      const from = y * width + column * chip;
      words.fill(y < top + chip ? word : 0xffffffff, from, from + chip);
    }
  }
  return data;
}

/**
 * The pixels as a PNG (ISO/IEC 15948) that says it is sRGB and how its chips lie. Most rows of a sheet are the row above again, which
 * the filter “up” writes as nothing but zeros.
 */
export function pngFile(sheet: PixelSheet, data: Uint8ClampedArray): Uint8Array<ArrayBuffer> {
  const { width, height, chip, strip, columns, chips } = sheet;
  const words = new Uint32Array(data.buffer, data.byteOffset, width * height);
  const fresh: number[] = [];
  for (let y = 0; y < height; y++) if (y === 0 || !sameRow(words, y, width)) fresh.push(y);
  const none = unused(words, fresh, width);
  const UP = 2;
  const rows = new Uint8Array((3 * width + 1) * height);
  for (let y = 0; y < height; y++) rows[y * (3 * width + 1)] = UP;
  for (const y of fresh) {
    let o = y * (3 * width + 1);
    rows[o++] = 0;
    for (let i = y * width; i < (y + 1) * width; i++) {
      const word = words[i]!;
      const rgb = word >>> 24 === 0 ? none : word;
      rows[o++] = rgb & 255;
      rows[o++] = (rgb >> 8) & 255;
      rows[o++] = (rgb >> 16) & 255;
    }
  }
  const text = `${KEYWORD}\0${JSON.stringify({ chip, strip, columns, count: chips.length })}`;
  // 8 bits, RGB, deflate, the five filters, not interlaced
  const header = new ByteWriter().u32(width).u32(height).u8(8).u8(2).u8(0).u8(0).u8(0).done();
  const clear = new ByteWriter();
  for (const shift of [0, 8, 16]) clear.u16((none >> shift) & 255);
  return (
    new ByteWriter()
      .bytes(Uint8Array.from([0x89, 0x50, 0x4e, 0x47, 13, 10, 26, 10]))
      .bytes(pngChunk('IHDR', header))
      // rendering intent: relative colorimetric
      .bytes(pngChunk('sRGB', Uint8Array.of(1)))
      .bytes(pngChunk('tRNS', clear.done()))
      .bytes(pngChunk('tEXt', new ByteWriter().ascii(text).done()))
      .bytes(pngChunk('IDAT', zlibSync(rows, { level: 6 })))
      .bytes(pngChunk('IEND', new Uint8Array()))
      .done()
  );
}

export function pngChunk(type: string, content: Uint8Array): Uint8Array {
  const named = new ByteWriter().ascii(type).bytes(content).done();
  return new ByteWriter()
    .u32(content.length)
    .bytes(named)
    .u32(CRC32.buf(named) >>> 0)
    .done();
}

function sameRow(words: Uint32Array, y: number, width: number): boolean {
  for (let i = y * width, above = i - width; above < y * width; i++, above++)
    if (words[i] !== words[above]) return false;
  return true;
}

/** A colour that no pixel of these rows has, as its word: it stands for the places without a chip. */
function unused(words: Uint32Array, rows: number[], width: number): number {
  const there = new Set<number>();
  let last = -1;
  for (const y of rows)
    for (let i = y * width; i < (y + 1) * width; i++)
      if (words[i] !== last) {
        last = words[i]!;
        there.add(last & 0xffffff);
      }
  let none = 0x010203;
  while (there.has(none)) none++;
  return none;
}

/** A picture that we wrote, and what it says under our keyword. @throws FormatError when it is another's */
export function ownPicture(bytes: Uint8Array, keyword: string, what: string) {
  let picture: ReturnType<typeof decodePng>;
  try {
    picture = decodePng(bytes);
  } catch (error) {
    throw new FormatError(`it does not decode (${error instanceof Error ? error.message : error}).`);
  }
  const laid = parseJson(picture.text[keyword] ?? 'null');
  if (!isRecord(laid)) throw new FormatError(`it is a picture, not a ${what}. Open it in Gather.`);
  return { picture, laid };
}

export const png: Format = {
  id: 'png',
  name: 'PNG sheet',
  about: 'Picture of the chips in exact sRGB, to paint from or paste. Read back through Gather, Exact.',
  endings: ['png'],
  mime: 'image/png',
  options: [
    { ...columnsOption },
    { id: 'chip', label: 'Chip', type: 'number', min: 4, max: 400, initial: 64, unit: 'px' },
    { id: 'names', label: 'Names under the chips', type: 'boolean', initial: false },
  ],
  traits: {
    // a PNG is opened as a picture; decode here is for reading our own sheet back
    read: false,
    write: true,
    names: false,
    groups: false,
    kinds: ['process'],
    spaces: ['rgb'],
    bits: 8,
  },

  recognise: () => 0,

  decode: decoder((bytes, draft) => {
    const { picture, laid } = ownPicture(bytes, KEYWORD, 'sheet of chips');
    const [chip, strip, columns, count] = [laid.chip, laid.strip, laid.columns, laid.count].map(Number);
    for (let i = 0; i < count; i++) {
      const x = (i % columns) * chip + (chip >> 1);
      const y = Math.floor(i / columns) * (chip + strip) + (chip >> 1);
      const at = (y * picture.width + x) * picture.channels;
      if (!(at + 2 < picture.data.length)) throw new FormatError('it is smaller than its chips need.');
      draft.add({ color: fromRgb8(picture.data[at], picture.data[at + 1], picture.data[at + 2]) });
    }
  }),

  encode(library, services, options) {
    const sheet = pngSheet(library, options);
    const data = drawChips(sheet, services.condition);
    // the names are drawn where core runs
    return sheet.strip > 0
      ? services.drawLabels(sheet, data, services.condition).then((named) => pngFile(sheet, named))
      : pngFile(sheet, data);
  },
};
