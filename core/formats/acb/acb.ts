import { type Color, carried } from '../../color/index.ts';
import { allSwatches, type Kind } from '../../swatch/model.ts';
import { ByteReader, ByteWriter, type Place, placeText } from '../../text/bytes.ts';
import { FormatError } from '../../text/error.ts';
import { cutText, keptApart, plural } from '../../text/text.ts';
import { aroundNumbers, factsOf } from '../book-names.ts';
import { decoder } from '../draft.ts';
import type { PlainFormat } from '../format.ts';

const MAGIC = '8BCB';
const CODE_LENGTH = 6;
const MAX_SWATCHES = 0xffff;
const MAX_TEXT_CHARACTERS = 0xffff;
/** The book's number among installed books; one outside those that are taken. */
const BOOK_ID = 32000;
const PAGE_SIZE = 7;
/** What stands behind the colours of a book, from memory: whether they are spots or process mixtures. */
const [SPOT, PROCESS] = ['spflspot', 'spflproc'];

const processBook = (bytes: Uint8Array) =>
  String.fromCharCode(...bytes.subarray(-PROCESS.length)) === PROCESS;

const byte = (v: number) => Math.min(255, Math.max(0, Math.round(v)));
const models: {
  number: number;
  space: Color['space'];
  read(b: number[]): number[];
  write(c: number[]): number[];
}[] = [
  { number: 0, space: 'rgb', read: (b) => b.map((v) => v / 255), write: (c) => c.map((v) => byte(v * 255)) },
  // ink is stored upside down: 0 is full ink
  {
    number: 2,
    space: 'cmyk',
    read: (b) => b.map((v) => 1 - v / 255),
    write: (c) => c.map((v) => byte((1 - v) * 255)),
  },
  {
    number: 7,
    space: 'lab',
    read: ([L, a, b]) => [(L / 255) * 100, a - 128, b - 128],
    write: ([L, a, b]) => [byte((L / 100) * 255), byte(a + 128), byte(b + 128)],
  },
];

/** Texts may be given as `$$$/…=text`, a key for translators with the text behind it; `^R` and `^C` are signs. */
const plain = (text: string) =>
  text
    .replace(/^"(.*)"$/s, '$1')
    .replace(/^\$\$\$\/[^=]*=/, '')
    .replace(/\^([RC])/g, (_, sign) => (sign === 'R' ? '®' : '©'));

export const acb: PlainFormat = {
  id: 'acb',
  name: 'ACB',
  about: 'Book of spot colours with names and codes, in one colour space. No groups.',
  endings: ['acb'],
  mime: 'application/octet-stream',
  traits: {
    read: true,
    write: true,
    names: true,
    groups: false,
    kinds: ['spot'],
    spaces: ['lab', 'rgb', 'cmyk'],
    oneSpace: true,
    bits: 8,
    most: MAX_SWATCHES,
  },

  recognise: (bytes) => (String.fromCharCode(...bytes.subarray(0, 4)) === MAGIC ? 1 : 0),

  decode: decoder((bytes, draft) => {
    const reader = new ByteReader(bytes);
    reader.ascii(4, 'the signature');
    const version = reader.u16('the version');
    if (version !== 1)
      throw new FormatError(`its version is ${version} (byte 4); Papillon reads version 1 of ACB.`);
    reader.u16('the book number');
    const text = (inside: Place) => {
      const units = reader.u32(inside);
      if (units * 2 > reader.left)
        throw new FormatError(
          `${placeText(inside)} says it is ${plural(units, 'character')} long (byte ${reader.at - 4}), but the file ends before. It is cut short or damaged; get it again from where it was made.`,
        );
      return reader.utf16(units, inside);
    };
    draft.name = plain(text('the title'));
    const prefix = plain(text('the prefix'));
    const suffix = plain(text('the suffix'));
    draft.note = plain(text('the description'));
    draft.book = factsOf(prefix, suffix);
    const count = reader.u16('the count');
    draft.columns = reader.u16('the page size');
    reader.u16('the page selector');
    const number = reader.u16('the colour space');
    const model = models.find((m) => m.number === number);
    if (!model)
      throw new FormatError(
        `its colours are in the colour space number ${number}; an ACB has RGB (0), CMYK (2) or Lab (7).`,
      );
    let blank = 0;
    const kind: Kind = processBook(bytes) ? 'process' : 'spot';
    let [i, start] = [1, 0];
    const place = () => `colour ${i} of ${count} (byte ${start})`;
    const inName = () => `the name of ${place()}`;
    const inCode = () => `the code of ${place()}`;
    for (; i <= count; i++) {
      start = reader.at;
      const name = text(inName);
      const short = reader.ascii(CODE_LENGTH, inCode).trimEnd();
      // the number between prefix and suffix may be longer than the code has room for
      const code = short && (prefix || suffix) && plain(name).startsWith(short) ? plain(name) : short;
      const values = [reader.u8(place), reader.u8(place), reader.u8(place)];
      if (model.space === 'cmyk') values.push(reader.u8(place));
      // pages are filled up with nameless places
      if (name === '' && code === '') blank++;
      else
        draft.add({
          name: `${prefix}${plain(name)}${suffix}`,
          ...(code.trim() === '' ? {} : { code }),
          kind,
          color: { space: model.space, components: model.read(values) },
        });
    }
    if (blank > 0) draft.warn(`${plural(blank, 'empty place')} of the book’s pages held no colour.`);
  }),

  encode(library, { condition }) {
    const swatches = allSwatches(library).slice(0, MAX_SWATCHES);
    // a book has one space: the one all share, else Lab, which holds them all
    const model =
      models.find((m) => swatches.every((s) => s.color.space === m.space)) ??
      models.find((m) => m.space === 'lab')!;
    const writer = new ByteWriter().ascii(MAGIC).u16(1).u16(BOOK_ID);
    const text = (value: string) => {
      const cut = cutText(value, MAX_TEXT_CHARACTERS);
      writer.u32(cut.length).utf16(cut);
    };
    const around = aroundNumbers(library);
    const apart = keptApart(CODE_LENGTH);
    for (const value of [library.name, around?.prefix ?? '', around?.suffix ?? '', library.note ?? ''])
      text(value);
    writer
      .u16(swatches.length)
      .u16(library.columns || PAGE_SIZE)
      .u16(0)
      .u16(model.number);
    for (const { name, code, color } of swatches) {
      // a place with neither name nor code would be read as empty
      text(around ? code! : name);
      writer.ascii((code ? apart(code, codeOf(code, name)) : codeOf(code, name)).padEnd(CODE_LENGTH));
      for (const v of model.write(carried(color, [model.space], condition).components)) writer.u8(v);
    }
    const all = swatches.length > 0 && swatches.every((s) => s.kind === 'process');
    return writer.ascii(all ? PROCESS : SPOT).done();
  },
};

/** Six characters of ASCII; a nameless swatch without a code gets a mark that keeps its place from being empty. */
function codeOf(code: string | undefined, name: string): string {
  const cut = (code ?? '').replace(/[^\x20-\x7e]/g, '?').slice(0, CODE_LENGTH);
  return cut.trim() === '' && /^\0*$/.test(name) ? '-' : cut;
}
