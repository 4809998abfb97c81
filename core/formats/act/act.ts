import { fromRgb8, toRgb8 } from '../../color/index.ts';
import { allSwatches } from '../../swatch/model.ts';
import { ByteReader, ByteWriter } from '../../text/bytes.ts';
import { FormatError } from '../../text/error.ts';
import { looksLikeText, plural } from '../../text/text.ts';
import { decoder } from '../draft.ts';
import type { PlainFormat } from '../format.ts';

const MAX_SWATCHES = 256;
const TABLE_BYTES = MAX_SWATCHES * 3;
const TAIL_BYTES = 4;
const NO_TRANSPARENCY = 0xffff;

const hasSize = (bytes: Uint8Array) =>
  bytes.length === TABLE_BYTES || bytes.length === TABLE_BYTES + TAIL_BYTES;

export const act: PlainFormat = {
  id: 'act',
  name: 'ACT',
  about: 'Colour table of at most 256 RGB colours. No names, no groups.',
  endings: ['act'],
  clue: 'An ACT has 768 or 772 bytes',
  mime: 'application/octet-stream',
  traits: {
    read: true,
    write: true,
    names: false,
    groups: false,
    kinds: ['process'],
    spaces: ['rgb'],
    bits: 8,
    most: MAX_SWATCHES,
  },

  // no signature either: only the size tells, and that it is not text of that size
  recognise: (bytes) => (hasSize(bytes) && !looksLikeText(bytes) ? 0.6 : 0),

  decode: decoder((bytes, draft) => {
    if (!hasSize(bytes))
      throw new FormatError(
        `it is ${plural(bytes.length, 'byte')} long; a colour table (ACT) has ${TABLE_BYTES} or ${TABLE_BYTES + TAIL_BYTES}.`,
      );
    let transparent = NO_TRANSPARENCY;
    let count = MAX_SWATCHES;
    if (bytes.length > TABLE_BYTES) {
      const tail = new ByteReader(bytes.subarray(TABLE_BYTES));
      count = tail.u16('the count');
      if (count > MAX_SWATCHES)
        throw new FormatError(
          `it counts ${count} colours (byte ${TABLE_BYTES}), but a colour table holds at most ${MAX_SWATCHES}. It is damaged; get it again from where it was made.`,
        );
      if (count === 0 && bytes.subarray(0, TABLE_BYTES).some((b) => b !== 0)) {
        draft.warn('The table counts 0 colours but is not empty; all 256 places were read.');
        count = MAX_SWATCHES;
      }
      transparent = tail.u16('the transparent place');
    }
    // a place outside the table marks nothing
    for (let i = 0; i < count; i++)
      draft.add({
        color: fromRgb8(bytes[3 * i], bytes[3 * i + 1], bytes[3 * i + 2]),
        ...(i === transparent ? { alpha: 0 } : {}),
      });
  }),

  encode(library, { condition }) {
    const swatches = allSwatches(library).slice(0, MAX_SWATCHES);
    const transparent = swatches.findIndex((s) => s.alpha === 0);
    const writer = new ByteWriter();
    for (const { color } of swatches) for (const v of toRgb8(color, condition)) writer.u8(v);
    return (
      writer
        .bytes(new Uint8Array(TABLE_BYTES - 3 * swatches.length))
        .u16(swatches.length)
        // one place can be marked as transparent: the first that is wholly so
        .u16(transparent < 0 ? NO_TRANSPARENCY : transparent)
        .done()
    );
  },
};
