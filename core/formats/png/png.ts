import CRC32 from 'crc-32';
import { decode as decodePng, encode as encodePng } from 'fast-png';
import { type Condition, fromRgb8, toRgb8 } from '../../color/index.ts';
import { type Options, optionOf } from '../../options.ts';
import { countSwatches, type Library } from '../../swatch/model.ts';
import { ByteWriter } from '../bytes.ts';
import { decoder } from '../draft.ts';
import { FormatError } from '../error.ts';
import type { Format } from '../format.ts';
import { isRecord, parseJson } from '../json.ts';
import { chipsOf, columnsOption, type PixelSheet } from '../sheet.ts';

/** The largest sheet, in pixels: what browsers and sharp still draw. */
const MOST_PIXELS = 120e6;
/** Taller ones some of them do not open at all. */
const TALLEST = 30_000;
const KEYWORD = 'Papillon sheet';

/** Where everything stands on the sheet, in pixels. */
export function pngSheet(library: Library, options?: Options): PixelSheet {
  const count = Math.max(1, countSwatches(library));
  const names = Boolean(optionOf(png, options, 'names'));
  const strip = names ? 34 : 0;
  let chip = Number(optionOf(png, options, 'chip'));
  // a sheet that no program opens is no use: it gets wider, and chips shrink, before that
  const columns = Math.min(
    count,
    Math.max(
      Number(optionOf(png, options, 'columns')),
      Math.ceil(count / Math.floor(TALLEST / (chip + strip))),
    ),
  );
  const rows = Math.ceil(count / columns);
  while (chip > 1 && columns * chip * rows * (chip + strip) > MOST_PIXELS) chip = Math.floor(chip * 0.9);
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

/** The pixels as a PNG that says it is sRGB and how its chips lie. */
export function pngFile(sheet: PixelSheet, data: Uint8ClampedArray): Uint8Array<ArrayBuffer> {
  const { chip, strip, columns, chips } = sheet;
  const none = unused(data);
  const bytes = encodePng({
    width: sheet.width,
    height: sheet.height,
    data: opaque(data, none),
    channels: 3,
    text: { [KEYWORD]: JSON.stringify({ chip, strip, columns, count: chips.length }) },
  });
  // the sRGB chunk stands behind the header, which is always 33 bytes long
  const HEADER_END = 33;
  return (
    new ByteWriter()
      .bytes(bytes.subarray(0, HEADER_END))
      .u32(1)
      .ascii('sRGB')
      // rendering intent: relative colorimetric; then the chunk's CRC-32
      .u8(1)
      .u32(0xd9c92c7f)
      .bytes(transparency(none))
      .bytes(bytes.subarray(HEADER_END))
      .done()
  );
}

/** A colour, RGB as one number, that no pixel has: it stands for the places without a chip. */
function unused(data: Uint8ClampedArray): number {
  const there = new Set<number>();
  const words = new Uint32Array(data.buffer, data.byteOffset, data.length / 4);
  let last = -1;
  for (const word of words)
    if (word !== last) {
      last = word;
      there.add(word & 0xffffff);
    }
  let none = 0x010203;
  while (there.has(((none & 255) << 16) | (none & 0xff00) | (none >> 16))) none++;
  return none;
}

/** The pixels without opacity, which makes a sheet in half the time; transparent ones get a colour of their own. */
function opaque(data: Uint8ClampedArray, none: number): Uint8Array {
  const rgb = new Uint8Array((data.length / 4) * 3);
  for (let i = 0, o = 0; i < data.length; i += 4, o += 3) {
    const clear = data[i + 3] === 0;
    rgb[o] = clear ? none >> 16 : data[i]!;
    rgb[o + 1] = clear ? (none >> 8) & 255 : data[i + 1]!;
    rgb[o + 2] = clear ? none & 255 : data[i + 2]!;
  }
  return rgb;
}

/** The chunk that makes one colour transparent (PNG, 11.3.2.1). */
function transparency(color: number): Uint8Array {
  const content = new ByteWriter().ascii('tRNS');
  for (const shift of [16, 8, 0]) content.u16((color >> shift) & 255);
  const bytes = content.done();
  return new ByteWriter()
    .u32(6)
    .bytes(bytes)
    .u32(CRC32.buf(bytes) >>> 0)
    .done();
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

  encode(library, lent, options) {
    const sheet = pngSheet(library, options);
    const data = drawChips(sheet, lent.condition);
    // the names are drawn where core runs
    return sheet.strip > 0
      ? lent.drawLabels(sheet, data, lent.condition).then((named) => pngFile(sheet, named))
      : pngFile(sheet, data);
  },
};
