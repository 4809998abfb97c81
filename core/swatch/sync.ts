import { type Stored, stored } from '../stored.ts';
import {
  type Change,
  type Fields,
  libraryFields,
  type Op,
  type RowKind,
  toSwatch,
  type Write,
} from './change.ts';
import type { LibraryFacts, Swatch } from './model.ts';
import { LibraryRows } from './rows.ts';
import type { Steps } from './steps.ts';

// What page and server say to each other about one library.

/** Where a server that refuses something names its database: only the one that changes were made for can refuse them. */
export const DATABASE_HEADER = 'Papillon-Database';

/** The page's changes, in their order, made on what it knew of the library. */
export interface Sent {
  by: string;
  /** The last change of the library that the page knows. */
  seen: number;
  /** Of the database that they were made for; a page from before this was asked for does not say. */
  epoch?: string;
  changes: Change[];
}

/** What became of a change. One that was refused has no number, and nothing of it was done. */
export interface Outcome {
  id: string;
  seq: number | null;
  /** What has to be told: why it was refused, what was left out, whose values it took the place of. */
  said: string[];
}

/** A change as it was done. */
export interface DoneChange {
  seq: number;
  id: string;
  by: string;
  label: string;
  undoes?: string;
  /** Left out when it was done just as the page sent it. */
  ops?: Op[];
  /** It took the place of values that whoever made it had not seen: those who had given them. */
  over?: string[];
  /** It touched comments alone. */
  talk?: boolean;
}

/** How far the library has come, and what has happened since the page last heard. */
export interface News {
  /** Of the database: numbers of another one mean nothing. */
  epoch: string;
  seq: number;
  /** Null when there is too much of it, or the page knows what is not here: the library is to be read again. */
  changes: DoneChange[] | null;
  steps: Steps;
}

export interface Reply extends News {
  outcomes: Outcome[];
}

// --- a whole library, as lines of JSON: first a head, then its rows in pieces, the end last

export interface LibraryHead extends LibraryFacts {
  id: string;
  epoch: string;
  seq: number;
  swatchCount: number;
  groups: { id: string; order: string; name: string }[];
  items: { id: string; fields: Fields }[];
  steps: Steps;
}

/** A swatch's row as it travels: id, group, order, name, code, kind, role, and the rest with its version. */
export type TravellingSwatch = [
  id: string,
  group: string,
  order: string,
  name: string,
  code: string | null,
  kind: Swatch['kind'],
  role: string | null,
  data: { v: number },
];

export type LibraryLine = { head: LibraryHead } | { swatches: TravellingSwatch[] } | { end: true };

/**
 * Texts that a database cannot hold in a column as they are (with a NUL, or half a surrogate pair in them): they are kept
 * with the data, too, and take the place of the column's when they are read.
 */
export function oddTexts(texts: Record<string, string | undefined>): Record<string, string> {
  const odd: Record<string, string> = {};
  for (const name in texts) {
    const text = texts[name];
    if (text !== undefined && plainText(text) !== text) odd[name] = text;
  }
  return odd;
}

/** A text as a column can hold it. */
export const plainText = (text: string): string =>
  MAY_BE_ODD.test(text) ? text.toWellFormed().replaceAll('\0', '\ufffd') : text;
const MAY_BE_ODD = /[\0\ud800-\udfff]/;

/** What is kept of a swatch beside what is searched. */
export type SwatchData = Omit<Swatch, 'id' | 'name' | 'code' | 'kind' | 'role'>;
export const swatchData: Stored<SwatchData> = stored<SwatchData>([(old) => old]);
export const groupData = stored<object>([(old) => old as object]);
export const libraryData = stored<Omit<LibraryFacts, 'name'>>([(old) => old as object]);
export const itemData = stored<{ refs?: string[]; data: unknown }>([(old) => old]);
/** What was reported to whoever made a change. */
export const saidData = stored<{ lines: string[]; over?: string[] }>([(old) => old]);
export const opsData = stored<{ ops: Op[] }>([(old) => old]);

/** A library without its swatches yet. */
export function rowsOfHead({ id, groups, items, ...head }: LibraryHead): LibraryRows {
  const rows = new LibraryRows({ id, name: '', groups: [] });
  const made = (of: RowKind, id: string, after: Fields): Write => ({ of, id, before: null, after });
  rows.write([
    made('library', id, libraryFields(head)),
    ...groups.map((g) => made('group', g.id, { order: g.order, name: g.name })),
    ...items.map((i) => made('item', i.id, i.fields)),
  ]);
  return rows;
}

/** A swatch's row out of what travelled. */
export function arrived([id, group, order, name, code, kind, role, data]: TravellingSwatch): Write {
  const { v, ...rest } = data;
  const more = v === swatchData.version ? rest : swatchData.read(JSON.stringify(data));
  const after = {
    group,
    order,
    name,
    kind,
    ...(code === null ? {} : { code }),
    ...(role === null ? {} : { role }),
    ...more,
  };
  return { of: 'swatch', id, before: null, after };
}

/** The same row as the columns it is kept in. */
export function keptSwatch(id: string, fields: Fields) {
  const { swatch, group, order } = toSwatch(id, fields);
  const { id: _, name, code, kind, role, ...rest } = swatch;
  const odd = oddTexts({ name, code, role });
  return {
    swatch,
    id,
    group,
    order,
    name: plainText(name),
    code: code === undefined ? null : plainText(code),
    kind,
    role: role === undefined ? null : plainText(role),
    data: swatchData.write({ ...rest, ...odd }),
  };
}
