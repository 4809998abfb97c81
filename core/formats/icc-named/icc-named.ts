import { type Color, labToXyz50, spaces, toLab, toRgb8, xyz50ToLab } from '../../color/index.ts';
import { description, profile, textTag, xyzTag } from '../../pdf/icc.ts';
import { allSwatches } from '../../swatch/model.ts';
import { ByteReader, ByteWriter, type Place } from '../../text/bytes.ts';
import { FormatError } from '../../text/error.ts';
import { keptApart, oneLine, plural } from '../../text/text.ts';
import { aroundNumbers, factsOf } from '../book-names.ts';
import { decoder } from '../draft.ts';
import type { PlainFormat } from '../format.ts';

const NAME_BYTES = 32;
const HEADER_BYTES = 128;
/** The 16-bit PCS Lab of ncl2: 0xFF00 is L* 100, a* and b* are offset by 128; PCS XYZ: 0x8000 is 1. */
const L_UNIT = 0xff00 / 100;
const AB_UNIT = 0x100;
const XYZ_UNIT = 0x8000;

/** Device spaces by the header's signature. */
const DEVICES: Record<string, Color['space']> = { 'RGB ': 'rgb', CMYK: 'cmyk', GRAY: 'gray' };

export const iccNamed: PlainFormat = {
  id: 'icc-named',
  name: 'ICC named colours',
  about: 'Named colour profile for colour-managed printing. Keeps names of 31 letters, Lab and ink values.',
  endings: ['icc', 'icm'],
  mime: 'application/vnd.iccprofile',
  traits: {
    read: true,
    write: true,
    names: true,
    groups: false,
    kinds: ['spot'],
    spaces: ['lab'],
    bits: 16,
  },

  recognise(bytes) {
    const text = (at: number) => String.fromCharCode(...bytes.subarray(at, at + 4));
    return text(36) === 'acsp' && text(12) === 'nmcl' ? 1 : 0;
  },

  decode: decoder((bytes, draft) => {
    const header = new ByteReader(bytes);
    header.part(12, 'the profile header');
    header.ascii(4, 'the profile header');
    const device = DEVICES[header.ascii(4, 'the device space')];
    const pcs = header.ascii(4, 'the connection space').trim();
    if (pcs !== 'Lab' && pcs !== 'XYZ')
      throw new FormatError(
        `its connection space (byte 20) is “${pcs}”; a named colour profile has Lab or XYZ.`,
      );
    header.part(HEADER_BYTES - header.at, 'the profile header');
    const tags = header.u32('the tag count');
    let at: { offset: number; size: number } | null = null;
    for (let i = 1; i <= tags; i++) {
      const place = `tag ${i} of ${tags} (byte ${header.at})`;
      const [signature, offset, size] = [header.ascii(4, place), header.u32(place), header.u32(place)];
      if (signature === 'ncl2') at = { offset, size };
    }
    if (!at) throw new FormatError('it has no list of named colours (tag ncl2).');
    if (at.offset + at.size > bytes.length)
      throw new FormatError(
        `its list of colours should end at byte ${at.offset + at.size}, but the file ends at ${bytes.length}. It is cut short; get it again from where it was made.`,
      );
    const reader = new ByteReader(bytes.subarray(at.offset, at.offset + at.size));
    reader.part(12, 'the list of colours');
    const count = reader.u32('the count');
    const channels = reader.u32('the number of inks');
    if (channels > 15) throw new FormatError(`it gives each colour ${channels} inks; ICC allows 15.`);
    const text = (inside: Place) => reader.ascii(NAME_BYTES, inside).replace(/\0.*$/s, '');
    const prefix = text('the prefix');
    const suffix = text('the suffix');
    const numbered = prefix !== '' || suffix !== '';
    if (numbered) draft.book = factsOf(prefix, suffix);
    let [i, start] = [1, 0];
    const { offset } = at;
    const place = () => `colour ${i} of ${count} (byte ${offset + start})`;
    for (; i <= count; i++) {
      start = reader.at;
      const code = text(place);
      const name = `${prefix}${code}${suffix}`;
      const words = [reader.u16(place), reader.u16(place), reader.u16(place)];
      const inks = Array.from({ length: channels }, () => reader.u16(place) / 0xffff);
      const lab =
        pcs === 'Lab'
          ? [words[0] / L_UNIT, words[1] / AB_UNIT - 128, words[2] / AB_UNIT - 128]
          : xyz50ToLab(words.map((w) => w / XYZ_UNIT));
      draft.add({
        name,
        ...(numbered && code ? { code } : {}),
        kind: 'spot',
        color: { space: 'lab', components: lab },
        ...(device && channels === spaces[device].channels.length
          ? { alternates: [{ space: device, components: inks }] }
          : {}),
      });
    }
    if (channels > 0 && !device)
      draft.warn(
        `${plural(channels, 'ink value')} of each colour are of a press Papillon does not know, and were left out.`,
      );
  }),

  encode(library, { condition }) {
    const swatches = allSwatches(library);
    const device =
      swatches.length > 0 && swatches.every((s) => s.color.space === 'cmyk')
        ? 'CMYK'
        : swatches.length > 0 && swatches.every((s) => s.color.space === 'rgb')
          ? 'RGB '
          : null;
    const list = new ByteWriter().ascii('ncl2').u32(0).u32(0).u32(swatches.length);
    list.u32(device ? spaces[DEVICES[device]].channels.length : 0);
    const around = aroundNumbers(library);
    const apart = keptApart(NAME_BYTES - 1);
    for (const text of [around?.prefix ?? '', around?.suffix ?? '']) list.bytes(padded(plainAscii(text)));
    const word = (v: number) => Math.min(0xffff, Math.max(0, Math.round(v)));
    for (const { name, code, color } of swatches) {
      const called = around ? code! : name;
      list.bytes(padded(apart(called, plainAscii(called).slice(0, NAME_BYTES - 1))));
      const [L, a, b] = toLab(color, condition);
      list
        .u16(word(L * L_UNIT))
        .u16(word((a + 128) * AB_UNIT))
        .u16(word((b + 128) * AB_UNIT));
      const inks = device === 'RGB ' ? toRgb8(color, condition).map((v) => v / 255) : color.components;
      if (device) for (const v of inks) list.u16(word(v * 0xffff));
    }
    return profile('nmcl', device ?? 'CMYK', 'Lab ', [
      ['desc', description(library.name || 'Named colours')],
      ['cprt', textTag('Made with Papillon')],
      ['wtpt', xyzTag(labToXyz50([100, 0, 0]))],
      ['ncl2', list.done()],
    ]);
  },
};

/** ASCII; other characters become question marks. */
const plainAscii = (name: string) =>
  [...oneLine(name)].map((c) => (/[\x20-\x7e]/.test(c) ? c : '?')).join('');

/** 31 characters and a closing zero. */
function padded(text: string): Uint8Array {
  const bytes = new Uint8Array(NAME_BYTES);
  for (let i = 0; i < Math.min(text.length, NAME_BYTES - 1); i++) bytes[i] = text.charCodeAt(i);
  return bytes;
}
