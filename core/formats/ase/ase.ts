import { type Color, type Condition, carried, type Space, spaces } from '../../color/index.ts';
import { type Group, isLoose, type Kind, type Swatch } from '../../swatch/model.ts';
import { ByteReader, ByteWriter, type Place } from '../../text/bytes.ts';
import { FormatError } from '../../text/error.ts';
import { cutText, plural } from '../../text/text.ts';
import { type Draft, decoder } from '../draft.ts';
import type { PlainFormat } from '../format.ts';

const GROUP_START = 0xc001;
const GROUP_END = 0xc002;
const COLOR = 0x0001;
/** Names carry a 16-bit length that counts a closing NUL. */
const MAX_NAME_CHARACTERS = 0xfffe;

/** The four colour models: their tag in the file and how their floats relate to our components. */
const models: {
  tag: string;
  space: Color['space'];
  read(v: number[]): number[];
  write(v: number[]): number[];
}[] = [
  { tag: 'RGB ', space: 'rgb', read: (v) => v, write: (v) => v },
  { tag: 'CMYK', space: 'cmyk', read: (v) => v, write: (v) => v },
  // L* is stored as 0–1
  { tag: 'LAB ', space: 'lab', read: ([l, a, b]) => [l * 100, a, b], write: ([l, a, b]) => [l / 100, a, b] },
  { tag: 'Gray', space: 'gray', read: (v) => v, write: (v) => v },
];

/** Colour types: 0 global, 1 spot, 2 normal. */
const types: { kind: Kind; global?: true }[] = [
  { kind: 'process', global: true },
  { kind: 'spot' },
  { kind: 'process' },
];

const SPACES_HELD: Space[] = ['rgb', 'cmyk', 'lab', 'gray'];

export const ase: PlainFormat = {
  id: 'ase',
  name: 'ASE',
  about: 'Swatch exchange file. Keeps groups, spot colours and print numbers.',
  endings: ['ase'],
  mime: 'application/octet-stream',
  traits: {
    read: true,
    write: true,
    names: true,
    groups: true,
    kinds: ['process', 'spot'],
    spaces: SPACES_HELD,
    bits: 32,
  },

  recognise: (bytes) => (String.fromCharCode(...bytes.subarray(0, 4)) === 'ASEF' ? 1 : 0),

  decode: decoder((bytes, draft) => {
    const reader = new ByteReader(bytes);
    reader.ascii(4, 'the signature');
    const major = reader.u16('the version');
    reader.u16('the version');
    if (major !== 1)
      throw new FormatError(`its version is ${major} (byte 4); Papillon reads version 1 of ASE.`);
    const promised = reader.u32('the block count');

    // groups inside groups become groups of their own, named after the path to them
    const path: Group[] = [];
    let nested = false;
    let blocks = 0;
    let start = 0;
    // made once: it says where reading is
    const place = () => `block ${blocks} of ${promised} (byte ${start})`;
    const inName = () => `the name in ${place()}`;
    const read = colorReader(place, draft);
    const labs: number[][] = [];
    let body: ByteReader | undefined;
    const add = () => {
      const swatch = read(body!);
      if (swatch.color.space === 'lab') labs.push(swatch.color.components);
      draft.add(swatch);
    };
    while (reader.left > 0 && (blocks < promised || looksLikeBlock(reader))) {
      blocks++;
      draft.step();
      start = reader.at;
      const type = reader.u16(place);
      const length = reader.u32(place);
      if (length > reader.left)
        throw new FormatError(
          `${place()} says it is ${plural(length, 'byte')} long, but the file ends after ${reader.left}. It is cut short or damaged; get it again from where it was made.`,
        );
      body = reader.part(length, place, body);
      if (type === GROUP_START) {
        const name = readName(body, inName);
        const outer = path.at(-1);
        if (outer) nested = true;
        path.push(draft.enter(outer ? `${outer.name} / ${name}` : name));
      } else if (type === GROUP_END) {
        path.pop();
        draft.leave(path.at(-1));
      } else if (type === COLOR) {
        draft.attempt(add);
      } else {
        draft.warn(`Block ${blocks} is of the unknown type ${type} and was passed over.`);
      }
    }
    if (blocks < promised)
      throw new FormatError(
        `its header promises ${plural(promised, 'block')}, but it ends after ${blocks} (byte ${reader.at}). It is cut short; get it again from where it was made.`,
      );
    if (blocks > promised)
      draft.warn(`The header counts ${plural(promised, 'block')}; ${blocks} are there and were read.`);
    if (reader.left > 0)
      draft.warn(`${plural(reader.left, 'byte')} after the last block mean nothing and were left out.`);
    settleLightness(labs, draft);
    if (path.length > 0) draft.warn(`The group “${path.at(-1)?.name}” is not closed; it ends with the file.`);
    if (nested) draft.warn('Groups lie inside groups; each became a group of its own, named after its path.');
  }),

  encode(library, { condition }) {
    const groups = library.groups.map((group) => ({ ...group, grouped: !isLoose(library, group) }));
    const blocks = groups.reduce((sum, g) => sum + g.swatches.length + (g.grouped ? 2 : 0), 0);
    const to = new ByteWriter().ascii('ASEF').u16(1).u16(0).u32(blocks);
    for (const { grouped, name, swatches } of groups) {
      if (grouped) to.u16(GROUP_START).measured(() => writeName(to, name));
      for (const swatch of swatches) to.u16(COLOR).measured(() => writeColor(to, swatch, condition));
      if (grouped) to.u16(GROUP_END).u32(0);
    }
    return to.done();
  },
};

/** Some writers count only the colours; more blocks after the promised ones are read when they are sound. */
function looksLikeBlock(reader: ByteReader): boolean {
  if (reader.left < 6) return false;
  const ahead = new ByteReader(reader.bytes, false, reader.at);
  return [GROUP_START, GROUP_END, COLOR].includes(ahead.u16('')) && ahead.u32('') <= ahead.left;
}

const readName = (body: ByteReader, inside: Place) => body.utf16(body.u16(inside), inside);

const alike = (tag: string) => tag.trim().toLowerCase();

/** L* that no colour has: a few writers put it on 0–100 where 0–1 is meant, in all of a file. */
const NO_LIGHTNESS = 200;
function settleLightness(labs: number[][], draft: Draft): void {
  if (!labs.some((lab) => lab[0]! > NO_LIGHTNESS)) return;
  for (const lab of labs) lab[0]! /= 100;
  draft.warn(
    'Its Lab has L* on 0–100 instead of 0–1, by a slip of the program that wrote it, and was read so.',
  );
}

/** Reads the swatches of a file. @param place where reading is; what words it has for that is only made where they are needed */
function colorReader(place: () => string, draft: Draft): (body: ByteReader) => Omit<Swatch, 'id'> {
  const [inName, inModel, inColor] = ['name', 'colour model', 'colour'].map(
    (what) => () => `the ${what} in ${place()}`,
  ) as [Place, Place, Place];
  return (body) => {
    const name = readName(body, inName);
    const tag = body.ascii(4, inModel);
    const model = models.find((m) => m.tag === tag) ?? models.find((m) => alike(m.tag) === alike(tag));
    if (!model)
      throw new FormatError(
        `the swatch “${name}” in ${place()} has the unknown colour model “${tag}”; ASE knows RGB, CMYK, LAB and Gray.`,
      );
    const values: number[] = [];
    for (let i = spaces[model.space].channels.length; i > 0; i--) values.push(body.f32(inColor));
    if (!values.every(Number.isFinite))
      throw new FormatError(`the swatch “${name}” in ${place()} has a colour value that is not a number.`);
    // a few writers leave the type out
    const type = body.left >= 2 ? body.u16(place) : 2;
    if (!types[type])
      draft.warn(
        `The swatch “${name.slice(0, 80)}” in ${place()} has the unknown type ${type}; it was read as a process colour.`,
      );
    const kind = types[type] ?? types[2]!;
    return { name, ...kind, color: { space: model.space, components: model.read(values) } };
  };
}

function writeName(to: ByteWriter, name: string): ByteWriter {
  const cut = cutText(name, MAX_NAME_CHARACTERS);
  return to
    .u16(cut.length + 1)
    .utf16(cut)
    .u16(0);
}

function writeColor(to: ByteWriter, swatch: Swatch, condition: Condition): void {
  const { space, components } = carried(swatch.color, SPACES_HELD, condition);
  const model = models.find((m) => m.space === space)!;
  writeName(to, swatch.name).ascii(model.tag);
  for (const v of model.write(components)) to.f32(v);
  // a technical separation travels as a spot: its exact name is what the machine looks for
  to.u16(swatch.kind !== 'process' ? 1 : swatch.global ? 0 : 2);
}
