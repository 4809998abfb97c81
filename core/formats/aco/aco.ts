import { type Color, carried, type Space } from '../../color/index.ts';
import { optionOf } from '../../options.ts';
import { allSwatches, type Swatch } from '../../swatch/model.ts';
import { ByteReader, ByteWriter } from '../../text/bytes.ts';
import { FormatError } from '../../text/error.ts';
import { cutText, plural } from '../../text/text.ts';
import { type Draft, decoder } from '../draft.ts';
import type { PlainFormat } from '../format.ts';

/** Each colour is a space number and four 16-bit words; unused words are 0. */
const COLOR_BYTES = 10;
const MAX_SWATCHES = 0xffff;

/** The spaces by number, and how their words relate to our components. */
const models: {
  number: number;
  space: Color['space'];
  read(w: number[]): number[];
  write(c: number[]): number[];
}[] = [
  { number: 0, space: 'rgb', read: (w) => w.slice(0, 3).map(unit), write: (c) => c.map(word) },
  {
    number: 1,
    space: 'hsb',
    read: ([h, s, b]) => [(h / 65535) * 360, unit(s), unit(b)],
    write: ([h, s, b]) => [word(h / 360), word(s), word(b)],
  },
  // ink is stored upside down: 0 is full ink
  {
    number: 2,
    space: 'cmyk',
    read: (w) => w.map((v) => 1 - unit(v)),
    write: (c) => c.map((v) => word(1 - v)),
  },
  {
    number: 7,
    space: 'lab',
    read: ([L, a, b]) => [L / 100, signed(a) / 100, signed(b) / 100],
    write: ([L, a, b]) => [
      within(L * 100, 0, 10000),
      within(a * 100, -12800, 12700),
      within(b * 100, -12800, 12700),
    ],
  },
  // wide-range ink counts the other way, in hundredths of a percent
  {
    number: 9,
    space: 'cmyk',
    read: (w) => w.map((v) => Math.min(1, v / 10000)),
    write: (c) => c.map((v) => within(v * 10000, 0, 10000)),
  },
  { number: 8, space: 'gray', read: ([g]) => [g / 10000], write: ([g]) => [within(g * 10000, 0, 10000)] },
];

const SPACES_HELD: Space[] = ['rgb', 'hsb', 'cmyk', 'lab', 'gray'];

/** Spaces whose words are an entry's number in a book of inks, not a colour. */
const BOOKS = new Set([3, 4, 5, 6, 10]);

const unit = (w: number) => w / 65535;
const word = (v: number) => within(v * 65535, 0, 65535);
const signed = (w: number) => (w > 0x7fff ? w - 0x10000 : w);
const within = (v: number, min: number, max: number) => Math.min(max, Math.max(min, Math.round(v)));

/** The colours of both sections: the second has the names, and where they count differently each colour of either is kept. */
function joined(first: Entry[], named: Entry[], draft: Draft): Entry[] {
  if (first.length === 0 || first.length === named.length) return named;
  const key = ({ name: _, ...entry }: Entry) => JSON.stringify('color' in entry ? entry.color : entry.space);
  const left = new Map<string, number>();
  for (const entry of named) left.set(key(entry), (left.get(key(entry)) ?? 0) + 1);
  const rest = first.filter((entry) => {
    const n = left.get(key(entry)) ?? 0;
    left.set(key(entry), n - 1);
    return n <= 0;
  });
  draft.warn(
    `Its two sections count ${first.length} and ${named.length} colours. Those of the second were read, which has the names${rest.length > 0 ? `, and ${rest.length} of the first that ${rest.length === 1 ? 'is' : 'are'} not in it` : ''}.`,
  );
  return [...named, ...rest];
}

export const aco: PlainFormat = {
  id: 'aco',
  name: 'ACO',
  about: 'Colour palette of painting programs. Keeps names and print numbers, no groups.',
  endings: ['aco'],
  mime: 'application/octet-stream',
  options: [{ id: 'old', label: 'For old programs, without names', type: 'boolean', initial: false }],
  traits: {
    read: true,
    write: true,
    names: true,
    groups: false,
    kinds: ['process'],
    spaces: SPACES_HELD,
    bits: 16,
    most: MAX_SWATCHES,
  },

  // no signature: a version word, a count, and colours in known spaces
  recognise(bytes) {
    if (bytes.length < 4 || bytes[0] !== 0 || (bytes[1] !== 1 && bytes[1] !== 2)) return 0;
    const count = (bytes[2] << 8) | bytes[3];
    const end = 4 + count * COLOR_BYTES;
    if (bytes[1] === 1 && (bytes.length === end || (bytes[end] === 0 && bytes[end + 1] === 2))) return 0.9;
    const space = (bytes[4] << 8) | bytes[5];
    return bytes.length > 5 && space <= 15 ? (bytes[1] === 2 ? 0.7 : 0.4) : 0;
  },

  decode: decoder((bytes, draft) => {
    const reader = new ByteReader(bytes);
    let version = reader.u16('the version');
    let first: Entry[] = [];
    if (version === 1) {
      try {
        readSection(reader, 1, first);
      } catch (error) {
        keep(first, draft);
        throw error;
      }
      if (reader.left >= 4) version = reader.u16('the version of the second section');
    }
    if (version === 2) {
      const named: Entry[] = [];
      try {
        readSection(reader, 2, named);
      } catch (error) {
        // the first section is whole: its colours are all there, with the names that could be read
        keep(
          first.map((e, i) => ({ ...e, name: named[i]?.name ?? '' })),
          draft,
        );
        if (first.length === 0) keep(named, draft);
        throw error;
      }
      first = joined(first, named, draft);
    } else if (version !== 1) {
      keep(first, draft);
      throw new FormatError(
        `a section with the version ${version} begins at byte ${reader.at - 2}; ACO has sections 1 and 2.`,
      );
    }
    keep(first, draft);
    if (reader.left > 0)
      draft.warn(`${plural(reader.left, 'byte')} after the last colour mean nothing and were left out.`);
  }),

  encode(library, { condition }, options) {
    const swatches = allSwatches(library).slice(0, MAX_SWATCHES);
    const writer = new ByteWriter();
    for (const version of optionOf(aco, options, 'old') ? [1] : [1, 2]) {
      writer.u16(version).u16(swatches.length);
      for (const { name, color } of swatches) {
        const held = carried(color, SPACES_HELD, condition);
        const model = models.find((m) => m.space === held.space)!;
        const words = model.write(held.components);
        writer.u16(model.number);
        for (let i = 0; i < 4; i++) writer.u16((words[i] ?? 0) & 0xffff);
        if (version === 2) {
          const cut = cutText(name, 0xfffe);
          writer
            .u32(cut.length + 1)
            .utf16(cut)
            .u16(0);
        }
      }
    }
    return writer.done();
  },
};

type Entry = Pick<Swatch, 'name' | 'color'> | { name: string; space: number; place: string };

/** Adds what was read; colours that are only a number in someone's book have no value to keep, and are reported. */
function keep(entries: Entry[], draft: Draft): void {
  const coded: string[] = [];
  for (const entry of entries) {
    if ('color' in entry) draft.add(entry);
    else {
      const called = entry.name ? `“${entry.name.slice(0, 80)}”` : 'one without a name';
      if (BOOKS.has(entry.space)) coded.push(called);
      else
        draft.attempt(() => {
          throw new FormatError(
            `${entry.place}, ${called}, is in the colour space number ${entry.space}, which ACO does not have; it has RGB, HSB, CMYK, Lab, gray and wide CMYK.`,
          );
        });
    }
  }
  if (coded.length > 0)
    draft.warn(
      `${plural(coded.length, 'colour is', 'colours are')} only a number in a colour book, without a value, and could not be read: ${coded.slice(0, 5).join(', ')}${coded.length > 5 ? '…' : ''}. Add them from the book.`,
    );
}

function readSection(reader: ByteReader, version: number, entries: Entry[]): void {
  const count = reader.u16(`the count of section ${version}`);
  let [i, start] = [1, 0];
  const place = () => `colour ${i} of ${count} in section ${version} (byte ${start})`;
  const inName = () => `the name of ${place()}`;
  for (; i <= count; i++) {
    start = reader.at;
    const number = reader.u16(place);
    const words = [reader.u16(place), reader.u16(place), reader.u16(place), reader.u16(place)];
    const model = models.find((m) => m.number === number);
    let name = '';
    if (version === 2) {
      const units = reader.u32(inName);
      if (units * 2 > reader.left)
        throw new FormatError(
          `${inName()} says it is ${plural(units, 'character')} long, but the file ends before. It is cut short or damaged; get it again from where it was made.`,
        );
      name = reader.utf16(units, inName);
    }
    entries.push(
      model
        ? { name, color: { space: model.space, components: model.read(words) } }
        : { name, space: number, place: place() },
    );
  }
}
