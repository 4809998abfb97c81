import type { Color, Condition, ConditionSetting } from '../color/model.ts';
import { toHex } from '../color/spaces.ts';
import type { Asked } from '../harmony/asked.ts';
import type { TextFieldId } from './fields.ts';

export const KINDS = ['process', 'spot', 'technical'] as const;
/** What a swatch is to a press: a process colour, a spot ink, or a separation that tells a machine what to do. */
export type Kind = (typeof KINDS)[number];

export const ORIGINS = ['picture', 'file', 'typed', 'book', 'harmony', 'artwork', 'tune', 'reading'] as const;
/** Where a swatch came from, in words the readout can show, and the place in the source where there is one. */
export interface Origin {
  from: (typeof ORIGINS)[number];
  /** The picture's, file's, book's, rule's or artwork's name. */
  name?: string;
  format?: string;
  /** The book's id, and the number in it. */
  book?: string;
  code?: string;
  /** The set of the book that it was taken with. */
  set?: string;
  /** Pixel position in the picture, from its upper left corner. */
  point?: [x: number, y: number];
  /** The family it was made in, which can be opened again, and the key of the member it was. */
  family?: Asked;
  member?: string;
}

/** A measured reflectance curve. */
export interface Spectrum {
  /** Wavelength of the first value and the step between values, nm. */
  start: number;
  step: number;
  /** Reflectance factors, 1 is a perfect white. */
  values: number[];
}

/** Part of an ink in a mix, by weight. */
export interface Part {
  of: string;
  parts: number;
}

export const SPECIALS = ['metallic', 'fluorescent'] as const;

/** Its texts beside the name (`code`, `role`, `note`…) are declared in `fields.ts`. */
export interface Swatch extends Partial<Record<TextFieldId, string>> {
  id: string;
  /** Unicode, kept exactly as given; may be empty. */
  name: string;
  kind: Kind;
  /** A process colour that artwork is linked to, so that changing the swatch changes the artwork. */
  global?: boolean;
  color: Color;
  alternates?: Color[];
  /** 0 transparent – 1 opaque. */
  alpha?: number;
  spectrum?: Spectrum;
  /** Of an ink, told by its exact name, %; the color is that of the tint. */
  tint?: { of: string; percent: number };
  /** What an ink is mixed from. */
  recipe?: Part[];
  /** It glitters or glows, which neither inks of a press nor a screen do: its color is only near. */
  special?: (typeof SPECIALS)[number];
  /** Empty places kept free before it, in palettes with fixed places. */
  gap?: number;
  origin?: Origin;
}

export interface Group {
  id: string;
  name: string;
  swatches: Swatch[];
}

/** Something beside swatches that a library holds; it refers to swatches by their ids. */
export interface Item {
  id: string;
  kind: string;
  name: string;
  refs?: string[];
  data: unknown;
}

/** What makes a library a book: it is not edited, and all libraries can take from it. */
export interface BookFacts {
  /** What books of the same inks on several papers have in common; its name where it is alone. */
  family?: string;
  substrate?: string;
  edition?: string;
  /** Instrument geometry, illuminant and what lay behind. */
  measurement?: string;
  /** What stands before and behind a number in an ink's name. */
  prefix?: string;
  suffix?: string;
  /** The bare sheet, and how tints come out on it: the n of Yule and Nielsen, and how much a dot of 50 % grows, 0–0.25. */
  paper?: { spectrum: Spectrum; spread: number; gain: number };
  /** Its names are for the user to set: machines look for them. */
  ownNames?: true;
}

/** A named set of swatches in groups. When the first group is nameless, its swatches are in no group. */
export interface Library {
  id: string;
  name: string;
  note?: string;
  /** How many swatches a palette panel should put in a row, where a format carries it. */
  columns?: number;
  /** What it is printed under; the usual one where it says nothing. */
  condition?: ConditionSetting;
  book?: BookFacts;
  groups: Group[];
  items?: Item[];
}

/** What a library says of itself. */
export type LibraryFacts = Omit<Library, 'id' | 'groups' | 'items'>;

/** Whether the group is the library's place for swatches in no group. */
export const isLoose = (library: Library, group: Group) => group.name === '' && library.groups[0] === group;

export const allSwatches = (library: Library): Swatch[] => library.groups.flatMap((g) => g.swatches);

export const countSwatches = (library: Library): number =>
  library.groups.reduce((n, g) => n + g.swatches.length, 0);

/** Every swatch by its id, with its group and place. */
export function swatchIndex(library: Library): Map<string, { swatch: Swatch; group: Group; index: number }> {
  const found = new Map<string, { swatch: Swatch; group: Group; index: number }>();
  for (const group of library.groups)
    group.swatches.forEach((swatch, index) => {
      found.set(swatch.id, { swatch, group, index });
    });
  return found;
}

/** A copy of the library that holds only the chosen swatches; groups left empty by that are left out, and what refers to others alone. */
export function subset(library: Library, keep: (swatch: Swatch, group: Group) => boolean): Library {
  const groups = library.groups
    .map((g) => ({ ...g, swatches: g.swatches.filter((s) => keep(s, g)) }))
    .filter((g) => g.swatches.length > 0);
  const { items, ...rest } = library;
  if (!items) return { ...rest, groups };
  const kept = new Set(groups.flatMap((g) => g.swatches.map((s) => s.id)));
  return {
    ...rest,
    groups,
    items: items.filter(({ refs }) => !refs?.length || refs.some((id) => kept.has(id))),
  };
}

/** A function that gives new identifiers; core has no randomness of its own. */
export type NewId = () => string;

/** Identifiers `1`, `2`, … for libraries that live only while a file is read or compared. */
export function countingIds(prefix = ''): NewId {
  let n = 0;
  return () => `${prefix}${++n}`;
}

/** A swatch's name, or its hex code if it has none. */
export const swatchLabel = ({ name, color }: Pick<Swatch, 'name' | 'color'>, condition: Condition): string =>
  name || toHex(color, condition).toUpperCase();

/** What a search looks through: name, code, role and hex of a swatch, in lower case, one to a line. */
export const toSearchText = ({ name, code = '', role = '', color }: Swatch, condition: Condition): string =>
  asSearchText([name, code, role, toHex(color, condition)]);

/** Texts in lower case, one to a line. */
export const asSearchText = (texts: string[]): string =>
  texts.map((text) => text.replace(/[\r\n]+/g, ' ').toLocaleLowerCase('en')).join('\n');

/** The swatches from one to another, both included, in the library's order; empty when either is not here. */
export function swatchesBetween(library: Library, a: string, b: string): Swatch[] {
  const all = allSwatches(library);
  const [from, to] = [a, b].map((id) => all.findIndex((s) => s.id === id)).sort((x, y) => x - y) as [
    number,
    number,
  ];
  return from < 0 ? [] : all.slice(from, to + 1);
}

/** A name for a new group that no other has. */
export function freeGroupName(
  { groups }: { groups: readonly { name: string }[] },
  name = 'New group',
): string {
  const taken = new Set(groups.map((g) => g.name));
  let free = name;
  for (let n = 2; taken.has(free); n++) free = `${name} ${n}`;
  return free;
}
