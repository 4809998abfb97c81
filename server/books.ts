import { and, asc, eq, isNotNull, isNull, sql } from 'drizzle-orm';
import { nanoid } from 'nanoid';
import { originIn, processingSteps, STEPS_BOOK } from '../core/books/index.ts';
import { SHIPPED, USUAL_CONDITION } from '../core/color/index.ts';
import { checkLibrary } from '../core/swatch/checks.ts';
import {
  type BookFacts,
  type Library,
  libraryData,
  type Op,
  type Swatch,
  type SwatchData,
  swatchData,
} from '../core/swatch/index.ts';
import { sampleBooks } from '../demo/books/index.ts';
import { applyChanges, epochOf, findLibrary, RefusedError } from './changes.ts';
import { conditionFor } from './conditions.ts';
import { type Db, readTransaction, write } from './db.ts';
import { createLibrary, insertLibrary, isTray, notTray, readLibrary } from './libraries.ts';
import { plainName } from './rows.ts';
import { libraries, NUMBER_BITS } from './schema.ts';

export interface ListedBook {
  id: string;
  name: string;
  facts: BookFacts;
  swatchCount: number;
  /** The number of its last change, by which what was fetched of it is known to be old. */
  seq: number;
  /** It belongs to Papillon, and stays. */
  shipped: boolean;
}

const listed = { id: libraries.id, name: libraries.name, data: libraries.data, seq: libraries.seq };

const asListed = (row: { id: string; name: string; data: string; seq: number; swatchCount: number }) => ({
  id: row.id,
  name: plainName(row.name, row.data),
  facts: libraryData.read(row.data).book ?? {},
  swatchCount: row.swatchCount,
  seq: row.seq,
  shipped: row.id === STEPS_BOOK,
});

/** Every book there is, by name; or those that were taken away, which can be brought back. */
export async function listBooks(db: Db, away = false): Promise<ListedBook[]> {
  const rows = await db
    .select({ ...listed, swatchCount: libraries.swatchCount })
    .from(libraries)
    .where(and(eq(libraries.book, true), away ? isNotNull(libraries.deletedAt) : isNull(libraries.deletedAt)))
    .orderBy(asc(libraries.folded));
  return rows.map(asListed);
}

/** Processing steps are there for everyone. */
export async function ensureSteps(db: Db): Promise<void> {
  await addAsIs(db, [processingSteps()]);
}

/** Adds the sample books, or brings back those that were deleted. */
export async function addSampleBooks(db: Db): Promise<string[]> {
  const on = (profile: string) => conditionFor(db, { ...USUAL_CONDITION, profile });
  const books = sampleBooks({ coated: await on(SHIPPED.coated), uncoated: await on(SHIPPED.uncoated) });
  await addAsIs(db, books);
  return books.map((b) => b.id);
}

/** Books of our own keep their ids, so that what refers to them finds them in any database. */
async function addAsIs(db: Db, books: Library[]): Promise<void> {
  const there = await db
    .select({ id: libraries.id, deletedAt: libraries.deletedAt })
    .from(libraries)
    .where(sql`${libraries.id} IN (SELECT value FROM json_each(${JSON.stringify(books.map((b) => b.id))}))`);
  if (there.length === books.length && there.every((row) => !row.deletedAt)) return;
  await write(db, async (tx) => {
    for (const book of books) {
      const [row] = await tx.select({ num: libraries.num }).from(libraries).where(eq(libraries.id, book.id));
      if (row) await tx.update(libraries).set({ deletedAt: null }).where(eq(libraries.num, row.num));
      else await insertLibrary(tx, checkLibrary(book));
    }
  });
}

/**
 * Keeps a library as a book.
 * @param id what it is to be called; a second request for the same one is answered as the first
 */
export function createBook(db: Db, library: Library, id?: string): Promise<string> {
  // what is paired with what is a matter of libraries
  const { items: _, ...rest } = library;
  return createLibrary(db, { ...rest, book: rest.book ?? {} }, id);
}

/** A book made of a library as it is now; the library stays. Null when it is not there. */
export async function bookOfLibrary(db: Db, library: string, id?: string): Promise<string | null> {
  const found = isTray(library) ? null : await readLibrary(db, library);
  return found && createBook(db, found, id);
}

/** A library made of a book, whose swatches find the book again; the book stays. */
export async function libraryOfBook(db: Db, book: string, id?: string): Promise<string | null> {
  const found = await readLibrary(db, book);
  if (!found?.book) return null;
  const { book: _, items: __, ...rest } = found;
  const groups = rest.groups.map((g) => ({
    ...g,
    swatches: g.swatches.map((s) => ({ ...s, origin: originIn(found, s) })),
  }));
  return createLibrary(db, { ...rest, groups }, id);
}

/** What can be set of a book: what it says of itself, and the names of one whose names are the user's. */
export interface BookEdit {
  name?: string;
  note?: string | null;
  facts?: Omit<BookFacts, 'paper' | 'ownNames'>;
  names?: { id: string; name: string }[];
}

/** @throws RefusedError when the book does not exist, or its names are fixed */
export async function editBook(db: Db, id: string, edit: BookEdit): Promise<void> {
  const found = (await listBooks(db)).find((b) => b.id === id);
  if (!found) throw new RefusedError('This book does not exist.', 'never');
  const { paper, ownNames } = found.facts;
  if (edit.names && !ownNames)
    throw new RefusedError('The names of this book are fixed. Make a library of it to rename them there.');
  const fields = {
    ...(edit.name === undefined ? {} : { name: edit.name }),
    ...(edit.note === undefined ? {} : { note: edit.note }),
    ...(edit.facts
      ? { book: { ...edit.facts, ...(paper ? { paper } : {}), ...(ownNames ? { ownNames } : {}) } }
      : {}),
  };
  const ops: Op[] = [
    ...(Object.keys(fields).length > 0 ? [{ op: 'set' as const, of: 'library' as const, id, fields }] : []),
    ...(edit.names ?? []).map((n): Op => ({ op: 'set', of: 'swatch', id: n.id, fields: { name: n.name } })),
  ];
  if (ops.length === 0) return;
  const change = { id: nanoid(12), by: '', label: 'change the book', ops };
  const { outcomes } = await applyChanges(db, id, { by: '', seen: found.seq, changes: [change] }, 'book');
  const [outcome] = outcomes;
  if (outcome!.seq === null) throw new RefusedError(outcome!.said.join(' '));
}

/** @throws RefusedError for a book that belongs to Papillon, and for what is none */
export async function deleteBook(db: Db, id: string): Promise<void> {
  if (id === STEPS_BOOK) throw new RefusedError('This book belongs to Papillon, and stays.');
  await mark(db, id, new Date());
}

/** @throws RefusedError when it never was */
export const restoreBook = (db: Db, id: string): Promise<void> => mark(db, id, null);

const mark = (db: Db, id: string, deletedAt: Date | null) =>
  write(db, async (tx) => {
    const own = and(eq(libraries.id, id), eq(libraries.book, true));
    const [there] = await tx.select({ num: libraries.num }).from(libraries).where(own);
    if (!there) throw new RefusedError('This book does not exist.', 'never');
    await tx.update(libraries).set({ deletedAt }).where(own);
  });

/** What is in a book or library as columns: what browsing and matching need of each, and no more. */
export interface Columns {
  id: string;
  name: string;
  book: boolean;
  facts: BookFacts;
  seq: number;
  swatches: {
    id: string[];
    name: string[];
    code: (string | null)[];
    kind: Swatch['kind'][];
    hex: string[];
    l: number[];
    a: number[];
    b: number[];
    special: (Swatch['special'] | null)[];
  };
  /** Curated sets, by the ids of what is in them. */
  sets: { id: string; name: string; refs: string[]; by: string; says: string }[];
}

/** A field of a swatch's data; looked for as text first, as to read the JSON of each takes ten times as long. */
const only = (field: 'special' | 'name') =>
  sql.raw(`CASE WHEN instr(s.data, '"${field}":') > 0 THEN s.data ->> '$.${field}' END`);

const COLUMNS: (keyof Columns['swatches'])[] = [
  'id',
  'name',
  'code',
  'kind',
  'hex',
  'l',
  'a',
  'b',
  'special',
];

/** Another for every state of a library's columns. @throws RefusedError when it is not there */
export async function tagOf(db: Db, id: string): Promise<string> {
  const { seq } = await findLibrary(db, id);
  return `"${await epochOf(db)}-${seq}"`;
}

/**
 * {@link Columns} as JSON. The database writes the columns, and they are passed on as they are: to make objects of tens of
 * thousands of rows takes most of a second.
 *
 * @throws RefusedError when it is not there
 */
export async function columnsText(db: Db, id: string): Promise<string> {
  const { tx, close } = await readTransaction(db);
  try {
    const { num } = await findLibrary(tx, id);
    const [row] = await tx
      .select({ ...listed, swatchCount: libraries.swatchCount, book: libraries.book })
      .from(libraries)
      .where(eq(libraries.num, num));
    const { name, facts, seq } = asListed(row!);
    const [columns] = await tx.all<Record<string, string>>(sql`
      SELECT ${sql.raw(COLUMNS.map((c) => `json_group_array("${c}") AS "${c}"`).join(', '))}
      FROM (SELECT s.id, coalesce(${only('name')}, s.name) AS name, s.code, s.kind, s.hex,
          round(s.l, 4) AS l, round(s.a, 4) AS a, round(s.b, 4) AS b, ${only('special')} AS special
        FROM groups AS g CROSS JOIN swatches AS s ON s.library = g.library AND s.group_id = g.id
        WHERE g.library = ${num} ORDER BY g.order_key, g.id, s.order_key, s.id)`);
    const items = await tx.all<{ id: string; name: string; data: string }>(
      sql`SELECT id, name, data FROM items WHERE library = ${num} AND kind = 'set' ORDER BY order_key, id`,
    );
    const sets = items.map(({ id, name, data }): Columns['sets'][number] => {
      const { refs = [], data: about } = JSON.parse(data) as { refs?: string[]; data?: unknown };
      const { by, says } = (about ?? {}) as { by?: unknown; says?: unknown };
      return { id, name, refs, by: String(by ?? ''), says: String(says ?? '') };
    });
    const head = JSON.stringify({ id, name, book: row!.book, facts, seq, sets });
    const swatches = COLUMNS.map((c) => `"${c}":${columns![c]}`).join();
    return `${head.slice(0, -1)},"swatches":{${swatches}}}`;
  } finally {
    close();
  }
}

/** @throws RefusedError when it is not there */
export const columnsOf = async (db: Db, id: string): Promise<Columns> =>
  JSON.parse(await columnsText(db, id));

/** At most this many whole swatches are given at once. */
export const MAX_ENTRIES = 300;

/** Whole swatches by their ids, in the order asked for; those that are not there are left out. */
export async function readEntries(db: Db, library: string, ids: string[]): Promise<Swatch[]> {
  const { num } = await findLibrary(db, library);
  const rows = await db.all<{
    id: string;
    name: string;
    code: string | null;
    kind: Swatch['kind'];
    role: string | null;
    data: string;
  }>(sql`SELECT id, name, code, kind, role, data FROM swatches
    WHERE library = ${num} AND id IN (SELECT value FROM json_each(${JSON.stringify(ids.slice(0, MAX_ENTRIES))}))`);
  const byId = new Map(
    rows.map(({ id, name, code, kind, role, data }): [string, Swatch] => [
      id,
      {
        id,
        name,
        kind,
        ...(code === null ? {} : { code }),
        ...(role === null ? {} : { role }),
        ...(swatchData.read(data) as SwatchData),
      },
    ]),
  );
  return ids.flatMap((id) => byId.get(id) ?? []);
}

/** Where a book is used: swatches taken from it, and swatches paired with its inks. */
export interface Use {
  library: string;
  name: string;
  taken: number;
  paired: number;
  /** Some of the swatches, by name. */
  swatches: string[];
}

const MAX_USES = 200;
const MAX_NAMED_LIBRARIES = 6;

/**
 * Of a book; of a library, too, whose swatches may be the equivalents of others.
 *
 * @param code of one swatch, or its name where it has none; of all of them when none is given
 */
export async function usesOf(db: Db, book: string, code?: string): Promise<Use[]> {
  const taken = await db.all<{ num: number; n: number; names: string }>(sql`
    SELECT n >> ${NUMBER_BITS} AS num, count(*) AS n, json_group_array(name) AS names FROM swatches
    WHERE data ->> '$.origin.book' = ${book} ${code === undefined ? sql`` : sql`AND data ->> '$.origin.code' = ${code}`}
    GROUP BY 1 LIMIT ${MAX_USES}`);
  const paired = await db.all<{ num: number; n: number; names: string }>(sql`
    SELECT i.library AS num, count(*) AS n, json_group_array(s.name) AS names FROM items AS i
    JOIN swatches AS s ON s.library = i.library AND s.id = i.data ->> '$.refs[0]'
    WHERE i.kind = 'pairing' AND i.data ->> '$.data.source' = ${book}
    ${code === undefined ? sql`` : sql`AND coalesce(i.data ->> '$.data.code', i.data ->> '$.data.name') = ${code}`}
    GROUP BY 1 LIMIT ${MAX_USES}`);
  const nums = [...new Set([...taken, ...paired].map((r) => r.num))];
  const names = await db
    .select({ num: libraries.num, id: libraries.id, name: libraries.name })
    .from(libraries)
    .where(
      and(
        isNull(libraries.deletedAt),
        notTray,
        sql`${libraries.num} IN (SELECT value FROM json_each(${JSON.stringify(nums)}))`,
      ),
    )
    .orderBy(asc(libraries.folded));
  return names.map(({ num, id, name }) => {
    const [t, p] = [taken.find((r) => r.num === num), paired.find((r) => r.num === num)];
    const swatches = [t, p].flatMap((r) => (r ? (JSON.parse(r.names) as string[]) : []));
    return {
      library: id,
      name,
      taken: t?.n ?? 0,
      paired: p?.n ?? 0,
      swatches: [...new Set(swatches)].slice(0, MAX_NAMED_LIBRARIES),
    };
  });
}
