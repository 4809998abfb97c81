import { fromRgb8, toRgb8 } from '../../color/index.ts';
import { allSwatches } from '../../swatch/model.ts';
import { ByteReader, ByteWriter } from '../../text/bytes.ts';
import { FormatError } from '../../text/error.ts';
import { plural } from '../../text/text.ts';
import { decoder } from '../draft.ts';
import type { PlainFormat } from '../format.ts';

const VERSION = 0x0300;
const MAX_SWATCHES = 0xffff;

export const riffPal: PlainFormat = {
  id: 'riff-pal',
  name: 'RIFF PAL',
  about: 'Binary colour table of drawing and CAD programs. RGB only, no names, no groups.',
  endings: ['pal'],
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

  recognise: (bytes) => (/^RIFF....PAL /s.test(String.fromCharCode(...bytes.subarray(0, 12))) ? 1 : 0),

  decode: decoder((bytes, draft) => {
    const reader = new ByteReader(bytes, true);
    reader.part(12, 'the RIFF header');
    let found = false;
    while (reader.left >= 8) {
      const start = reader.at;
      const id = reader.ascii(4, 'a chunk');
      const length = reader.u32('a chunk');
      if (id !== 'data') {
        // chunks are padded to whole words
        reader.part(Math.min(reader.left, length + (length % 2)), `the chunk “${id}”`);
        continue;
      }
      found = true;
      reader.u16('the version');
      const count = reader.u16('the count');
      if (4 + count * 4 > length)
        throw new FormatError(
          `its data chunk (byte ${start}) counts ${plural(count, 'colour')} but has room for ${Math.max(0, Math.floor((length - 4) / 4))}. It is damaged; get it again from where it was made.`,
        );
      let i = 1;
      const place = () => `colour ${i} of ${count} (byte ${reader.at})`;
      for (; i <= count; i++) {
        const [r, g, b] = [reader.u8(place), reader.u8(place), reader.u8(place)];
        reader.u8(place);
        draft.add({ color: fromRgb8(r, g, b) });
      }
      break;
    }
    if (!found) throw new FormatError('it has no data chunk, so it holds no colours.');
  }),

  encode(library, { condition }) {
    const swatches = allSwatches(library).slice(0, MAX_SWATCHES);
    const length = 4 + 4 * swatches.length;
    const writer = new ByteWriter(true)
      .ascii('RIFF')
      .u32(12 + length)
      .ascii('PAL data')
      .u32(length)
      .u16(VERSION)
      .u16(swatches.length);
    for (const { color } of swatches) {
      for (const v of toRgb8(color, condition)) writer.u8(v);
      writer.u8(0);
    }
    return writer.done();
  },
};
