import { and, asc, desc, eq, inArray, isNotNull, isNull, or, sql } from 'drizzle-orm';
import { nanoid } from 'nanoid';
import { type Condition, colorWords, conditionOf } from '../core/color/index.ts';
import { checkLibrary } from '../core/swatch/checks.ts';
import {
  arrived,
  GRADIENT,
  groupData,
  itemData,
  type Library,
  type LibraryHead,
  type LibraryRows,
  libraryData,
  libraryFields,
  READING,
  rowsOfHead,
  type TravellingSwatch,
  toWrites,
  withNewIds,
} from '../core/swatch/index.ts';
import { epochQuery, findLibrary, RefusedError, stepsFrom, stepsQuery, there } from './changes.ts';
import { conditionFor } from './conditions.ts';
import {
  ask,
  type Db,
  freshReplica,
  guard,
  guarded,
  readTransaction,
  run,
  type Statement,
  statement,
  type Tx,
  type WriteTx,
  writeAll,
} from './db.ts';
import { log } from './log.ts';
import {
  firstSwatches,
  libraryColumns,
  lower,
  moreSwatches,
  type Piece,
  pieceOf,
  plainName,
  rowStatements,
} from './rows.ts';
import { type Band, groups, items, libraries } from './schema.ts';
import { findByWords, findColor, findSwatches, isColorQuery } from './search.ts';
import { Turns } from './turns.ts';

/** The tray is a library too, so that it is edited, kept and undone in the same way. It is in no list. */
export const TRAY = 'tray';
/** The tray of somebody who came by a link. */
export const trayOf = (person: string) => `${TRAY}-${person}`;
export const isTray = (id: string) => id === TRAY || id.startsWith(`${TRAY}-`);
export const notTray = sql`(${libraries.id} <> ${TRAY} AND ${libraries.id} NOT GLOB ${`${TRAY}-*`})`;

/** The bands of a list need no more colours than a screen has room for. */
const BAND_COLORS = 240;
/** At most this many swatches are sent first, for the first look at a library; then this many at a time. */
const FIRST_SWATCHES = 400;
const MORE_SWATCHES = 5000;

export interface Summary {
  id: string;
  name: string;
  /** The number of its last change. */
  seq: number;
  band: Band;
  swatchCount: number;
  groupCount: number;
  changedAt: Date;
  /** When it was archived; null for those in the usual list. */
  archivedAt: Date | null;
  shelves: string[];
  /** What a search found inside, for the list to show. */
  found?: string[];
}

const summaryColumns = {
  num: libraries.num,
  id: libraries.id,
  name: libraries.name,
  seq: libraries.seq,
  data: libraries.data,
  band: libraries.band,
  swatchCount: libraries.swatchCount,
  groupCount: libraries.groupCount,
  changedAt: libraries.changedAt,
  archivedAt: libraries.archivedAt,
  shelves: libraries.shelves,
};
type SummaryRow = Omit<Summary, 'band' | 'found'> & { num: number; data: string; band: Band | null };

/** Summaries with bands. */
async function summaries(db: Db, rows: SummaryRow[]): Promise<Summary[]> {
  const bands = await bandsOf(db, rows);
  return rows.map(({ num, data, name, ...row }) => ({
    ...row,
    name: plainName(name, data),
    band: bands.get(num) ?? [],
  }));
}

/** The bands of libraries by their numbers, rebuilt where a change has made them old. */
async function bandsOf(
  db: Db,
  rows: readonly { num: number; seq: number; band: Band | null }[],
): Promise<Map<number, Band>> {
  const fresh = await freshBands(
    db,
    rows.filter((row) => row.band === null),
  );
  return new Map(rows.map(({ num, band }) => [num, band ?? fresh.get(num) ?? []]));
}

/** The bands of all books by their ids. */
export async function bandsOfBooks(db: Db): Promise<Map<string, Band>> {
  const rows = await db
    .select({ id: libraries.id, num: libraries.num, seq: libraries.seq, band: libraries.band })
    .from(libraries)
    .where(and(eq(libraries.book, true), isNull(libraries.deletedAt)));
  const bands = await bandsOf(db, rows);
  return new Map(rows.map(({ id, num }) => [id, bands.get(num) ?? []]));
}

/**
 * A library's colours in their order and groups, as many as a band can show. They are chosen by the index alone, and only those
 * chosen are read.
 */
const bandText = (num: number) => sql`
  WITH numbered AS (
    SELECT g.order_key AS place, g.id AS g, s.n AS n,
      row_number() OVER (PARTITION BY g.id ORDER BY s.order_key, s.id) - 1 AS at,
      max(1, (l.swatch_count + ${BAND_COLORS - 1}) / ${BAND_COLORS}) AS step
    FROM libraries AS l JOIN groups AS g ON g.library = l.num JOIN swatches AS s ON s.library = l.num AND s.group_id = g.id
    WHERE l.num = ${num}),
  chosen AS (
    SELECT place, g, hex FROM numbered CROSS JOIN swatches ON swatches.n = numbered.n WHERE at % step = 0 ORDER BY place, g, at)
  SELECT coalesce('[' || group_concat(colors, ',') || ']', '[]') AS band
  FROM (SELECT json_group_array(hex) AS colors FROM chosen GROUP BY place, g ORDER BY place, g)`;

/** Bands that are kept until their libraries change, with one request for all. */
async function freshBands(db: Db, rows: readonly { num: number; seq: number }[]): Promise<Map<number, Band>> {
  if (rows.length === 0) return new Map();
  const bandOf = (row: unknown) => JSON.parse((row as { band: string }).band) as Band;
  try {
    const results = await writeAll(
      db,
      rows.map(({ num, seq }) =>
        statement(
          sql`UPDATE libraries SET band = (${bandText(num)}) WHERE num = ${num} AND seq = ${seq} RETURNING band`,
        ),
      ),
    );
    return new Map(
      results.flatMap(({ rows: [row] }, i) => (row ? [[rows[i]!.num, bandOf(row)] as const] : [])),
    );
  } catch {
    // only a wish: whoever comes next makes it again when this does not go through
    const found = await ask(
      db,
      rows.map(({ num }) => db.all<{ band: string }>(bandText(num))),
    );
    return new Map(found.map(([row], i) => [rows[i]!.num, bandOf(row)]));
  }
}

/**
 * All libraries, newest change first; with a query, those in which a library, group, gradient or swatch is so named, or has a colour
 * close to the one given.
 */
export async function listLibraries(db: Db, query = ''): Promise<Summary[]> {
  return found(db, query, await listedQuery(db));
}

/** The same with the deleted libraries, which can be brought back, latest first: what the home shows. */
export async function listHome(
  db: Db,
  query = '',
): Promise<{ libraries: Summary[]; deleted: Deleted[]; epoch: string }> {
  const [all, deleted, epochs] = await ask(db, [listedQuery(db), deletedQuery(db), epochQuery(db)]);
  return {
    libraries: await found(db, query, all),
    deleted: deleted.map(withoutBand),
    epoch: epochs[0]?.value ?? '',
  };
}

const listedQuery = (db: Db) =>
  db
    .select(summaryColumns)
    .from(libraries)
    .where(and(isNull(libraries.deletedAt), eq(libraries.book, false), notTray))
    .orderBy(desc(libraries.changedAt));

/** A library in the bin. */
export type Deleted = Omit<Summary, 'band'> & { deletedAt: Date };

const deletedQuery = (db: Db) =>
  db
    .select({ ...summaryColumns, deletedAt: sql<Date>`${libraries.deletedAt}`.mapWith(libraries.deletedAt) })
    .from(libraries)
    .where(and(isNotNull(libraries.deletedAt), eq(libraries.book, false)))
    .orderBy(desc(libraries.deletedAt));

const withoutBand = ({ num: _, data, band: __, ...row }: SummaryRow & { deletedAt: Date }): Deleted => ({
  ...row,
  name: plainName(row.name, data),
});

async function found(db: Db, query: string, all: SummaryRow[]): Promise<Summary[]> {
  const wanted = lower(query.trim());
  if (!wanted) return summaries(db, all);
  const hits = await search(db, query, wanted);
  const shown = all.filter((l) => hits.has(l.num));
  return (await summaries(db, shown)).map((l, i) => ({ ...l, found: hits.get(shown[i]!.num) ?? [] }));
}

/** What is found in each library, by the library's number. */
async function search(db: Db, query: string, wanted: string): Promise<Map<number, string[]>> {
  const found = new Map<number, string[]>();
  const add = (num: number, text: string) => {
    const list = found.get(num) ?? [];
    if (list.length < MAX_FOUND && text && !list.includes(text)) list.push(text);
    found.set(num, list);
  };
  const { tx, close } = await readTransaction(db);
  try {
    const color = isColorQuery(query);
    if (color) {
      for (const { library, text } of await findColor(tx, color)) add(library, text);
      return found;
    }
    const like = (text: string) => `%${text.replace(/[\\%_]/g, '\\$&')}%`;
    const pattern = like(wanted);
    for (const { num } of await tx
      .select({ num: libraries.num })
      .from(libraries)
      .where(sql`${libraries.folded} LIKE ${pattern} ESCAPE '\\'`))
      found.set(num, []);
    for (const { num, name } of await tx
      .select({ num: groups.library, name: groups.name })
      .from(groups)
      .where(sql`${groups.folded} LIKE ${pattern} ESCAPE '\\'`)
      .orderBy(asc(groups.library), asc(groups.orderKey)))
      add(num, name);
    // SQLite itself knows the capitals of the Latin letters; others are found as they are typed
    for (const { num, name } of await tx
      .select({ num: items.library, name: items.name })
      .from(items)
      .where(
        and(
          inArray(items.kind, [GRADIENT, READING]),
          or(
            sql`${items.name} LIKE ${pattern} ESCAPE '\\'`,
            sql`${items.name} LIKE ${like(query.trim())} ESCAPE '\\'`,
          ),
        ),
      )
      .orderBy(asc(items.library), asc(items.orderKey)))
      add(num, name);
    for (const { library, text } of await findSwatches(tx, wanted)) add(library, text);
    const words = colorWords(query);
    if (words) for (const { library, text } of await findByWords(tx, words)) add(library, text);
    return found;
  } finally {
    close();
  }
}

const MAX_FOUND = 6;

/** A library as a choice among others shows it. */
export interface LibraryName {
  id: string;
  name: string;
  swatchCount: number;
  /** Milliseconds since 1970. */
  changedAt: number;
  /** Some of its colours in their order, as hex. */
  colors: string[];
}

const STRIP_COLORS = 16;

/** The libraries by name, newest change first, without the books. */
export async function listNames(db: Db): Promise<LibraryName[]> {
  const rows = await db
    .select(summaryColumns)
    .from(libraries)
    .where(and(isNull(libraries.deletedAt), eq(libraries.book, false), notTray))
    .orderBy(desc(libraries.changedAt));
  return (await summaries(db, rows)).map(({ id, name, swatchCount, changedAt, band }) => {
    const colors = band.flat();
    const step = Math.max(1, colors.length / STRIP_COLORS);
    return {
      id,
      name,
      swatchCount,
      changedAt: changedAt.getTime(),
      colors: Array.from(
        { length: Math.min(STRIP_COLORS, colors.length) },
        (_, i) => colors[Math.floor(i * step)]!,
      ),
    };
  });
}

/** Deleted libraries, which can be brought back, latest first. */
export const listDeleted = async (db: Db): Promise<Deleted[]> => (await deletedQuery(db)).map(withoutBand);

/** The statements that write a library as it is, under its own ids and as the number given. */
async function insertStatements(
  tx: Tx,
  num: number,
  library: Library,
  condition: Condition,
): Promise<Statement[]> {
  const { name, ...more } = libraryFields(library) as { name: string };
  const writes = toWrites(library).filter((w) => w.of !== 'library');
  return [
    statement(
      tx
        .insert(libraries)
        .values({ num, id: library.id, ...libraryColumns(name, more), changedAt: new Date() }),
    ),
    ...(await rowStatements(tx, { num, nextSwatch: 0 }, writes, condition)),
  ];
}

const nextNumQuery = (tx: Tx) =>
  tx.all<{ next: number }>(
    sql`SELECT coalesce((SELECT seq FROM sqlite_sequence WHERE name = 'libraries'), 0) + 1 AS next`,
  );

const conditionOfAll = (tx: Tx, library: Library) =>
  conditionFor(
    tx,
    conditionOf(library),
    library.groups.flatMap((g) => g.swatches.map((s) => s.color)),
  );

/** Writes a library as it is, under its own ids. */
export async function insertLibrary(tx: WriteTx, library: Library): Promise<void> {
  const [row] = await nextNumQuery(tx);
  await run(tx, await insertStatements(tx, row!.next, library, await conditionOfAll(tx, library)));
}

/** Writes a library as it is where there is none of its id yet; a deleted one counts as there. */
async function ensureLibrary(db: Db, library: Library): Promise<void> {
  await guarded(async () => {
    const [[there], [row]] = await ask(db, [
      db.select({ num: libraries.num }).from(libraries).where(eq(libraries.id, library.id)),
      nextNumQuery(db),
    ]);
    if (there) return;
    const num = row!.next;
    await writeAll(db, [
      // another may be made at the same moment
      guard(sql`NOT EXISTS (SELECT 1 FROM libraries WHERE num = ${num} OR id = ${library.id})`),
      ...(await insertStatements(db, num, library, await conditionOfAll(db, library))),
    ]);
  });
}

/**
 * Keeps a library under new identifiers, so that adding one never replaces another.
 *
 * @param id what it is to be called; a second request for the same one is answered as the first
 */
export async function createLibrary(db: Db, library: Library, id = nanoid(12)): Promise<string> {
  await ensureLibrary(db, checkLibrary({ ...withNewIds(library, () => nanoid(12)), id }));
  return id;
}

/** Makes a copy under an id of its own; a second request for the same one is answered as the first. */
export async function duplicateLibrary(db: Db, id: string, copy = nanoid(12)): Promise<string | null> {
  const library = await readLibrary(db, id);
  if (!library) return null;
  return createLibrary(db, { ...library, name: `${library.name} copy` }, copy);
}

/** The tray is made when it is first asked for. */
const ensureTray = (db: Db, id: string): Promise<void> =>
  ensureLibrary(db, { id, name: 'Tray', groups: [{ id: TRAY, name: '', swatches: [] }] });

/** Name and size, for the page's title; null when the library does not exist. */
export async function readTitle(
  db: Db,
  id: string,
): Promise<{ id: string; name: string; swatchCount: number; book: boolean } | null> {
  const [row] = await db
    .select({
      book: libraries.book,
      id: libraries.id,
      name: libraries.name,
      data: libraries.data,
      swatchCount: libraries.swatchCount,
    })
    .from(libraries)
    .where(and(eq(libraries.id, id), isNull(libraries.deletedAt)));
  if (!row) return null;
  const { data, ...title } = row;
  return { ...title, name: plainName(title.name, data) };
}

/** A library's head and the first of its swatches, of one moment. @throws RefusedError when it is not there */
async function readBeginning(
  tx: Tx,
  id: string,
  by: string,
): Promise<{ num: number; head: LibraryHead; first: string; more: Piece }> {
  const num = sql`(SELECT num FROM libraries WHERE id = ${id})`;
  const [[row], groupRows, itemRows, epochs, stepRows, first, more] = await ask(tx, [
    tx.select().from(libraries).where(eq(libraries.id, id)),
    tx
      .select({ id: groups.id, order: groups.orderKey, name: groups.name, data: groups.data })
      .from(groups)
      .where(eq(groups.library, num))
      .orderBy(asc(groups.orderKey), asc(groups.id)),
    tx.select().from(items).where(eq(items.library, num)),
    epochQuery(tx),
    stepsQuery(tx, num, [by]),
    firstSwatches(tx, num, FIRST_SWATCHES, MORE_SWATCHES),
    moreSwatches(tx, num, null, MORE_SWATCHES),
  ]);
  const library = there(row ? [row] : []);
  return {
    num: library.num,
    first: first[0]?.lines ?? '',
    more: pieceOf(more, MORE_SWATCHES),
    head: {
      id,
      name: library.name,
      ...libraryData.read(library.data),
      epoch: epochs[0]?.value ?? '',
      seq: library.seq,
      swatchCount: library.swatchCount,
      groups: groupRows.map(({ data, ...group }) => ({ ...group, ...groupData.read(data) })),
      items: itemRows.map((item) => ({
        id: item.id,
        fields: { order: item.orderKey, kind: item.kind, name: item.name, ...itemData.read(item.data) },
      })),
      steps: stepsFrom(stepRows, by),
    },
  };
}

/** Opens a library for reading: its beginning, and the transaction in which the rest is read. The tray is made where it is not there yet. */
async function openLibrary(db: Db, id: string, by: string) {
  for (let tries = 0; ; tries++) {
    const { tx, close } = await readTransaction(db);
    try {
      return { tx, close, beginning: await readBeginning(tx, id, by) };
    } catch (error) {
      close();
      const missing = error instanceof RefusedError && error.library === 'never';
      if (!isTray(id) || !missing || tries > 0) throw error;
      await ensureTray(db, id);
    }
  }
}

/**
 * A whole library as lines of JSON, of one moment, however long the reading takes: the head, the first swatches to be seen,
 * then all of them, and a line that says so.
 *
 * @throws RefusedError when it is not there, before the first line
 */
export async function streamLibrary(
  db: Db,
  id: string,
  by: string,
  patience = READER_MS,
): Promise<ReadableStream<Uint8Array>> {
  const copied = await readReplica(db, id, by);
  if (copied) return new Response(copied.map((line) => `${line}\n`).join('')).body!;
  const endTurn = await reading.take();
  let opened: Awaited<ReturnType<typeof openLibrary>> | null = null;
  let timer: ReturnType<typeof setTimeout> | undefined;
  const end = () => {
    clearTimeout(timer);
    opened?.close();
    endTurn();
  };
  try {
    opened = await openLibrary(db, id, by);
    // what one request has brought in full needs nothing to be held open
    if (opened.beginning.more.next === null) end();
    const lines = linesOf(opened.tx, opened.beginning);
    const text = new TextEncoder();
    return new ReadableStream<Uint8Array>({
      async pull(controller) {
        clearTimeout(timer);
        try {
          const { value, done } = await lines.next();
          if (done) {
            end();
            controller.close();
            return;
          }
          controller.enqueue(text.encode(`${value}\n`));
          // whoever stops reading must not hold what others need; the page reads again by itself
          timer = setTimeout(() => {
            end();
            controller.error(new Error('The reader has stopped reading.'));
          }, patience);
        } catch (error) {
          end();
          controller.error(error);
        }
      },
      cancel: end,
    });
  } catch (error) {
    end();
    throw error;
  }
}

/** A whole library out of a replica, where there is one that has it: its lines, of one moment. */
async function readReplica(db: Db, id: string, by: string): Promise<string[] | null> {
  for (let tries = 3; tries > 0; tries--) {
    try {
      const replica = await freshReplica(db);
      if (!replica) return null;
      const beginning = await readBeginning(replica, id, by);
      const lines: string[] = [];
      for await (const line of linesOf(replica, beginning)) lines.push(line);
      // what has come in meanwhile may be in some of the lines
      if ((await findLibrary(replica, id)).seq === beginning.head.seq) return lines;
    } catch (error) {
      // it may be out of order: the server itself knows
      if (!(error instanceof RefusedError)) log.warn({ error }, 'The replica cannot be read');
      return null;
    }
  }
  return null;
}

/** At most this many libraries are read at once, each over a connection of its own; others of the pool are left for everything else. */
const reading = new Turns(8);
/** So long may a reader take for one line, ms. */
const READER_MS = 15_000;

async function* linesOf(
  tx: Tx,
  { num, head, first, more }: Awaited<ReturnType<typeof readBeginning>>,
): AsyncGenerator<string> {
  yield JSON.stringify({ head });
  if (first) yield `{"swatches":[${first}]}`;
  for await (const rows of piecesOf(tx, num, more)) yield `{"swatches":[${rows}]}`;
  yield '{"end":true}';
}

/** All swatches of a library, from the first piece on. */
async function* piecesOf(tx: Tx, num: number, first: Piece): AsyncGenerator<string> {
  for (let piece = first; ; ) {
    yield piece.rows;
    if (piece.next === null) return;
    piece = pieceOf(await moreSwatches(tx, sql`${num}`, piece.next, MORE_SWATCHES), MORE_SWATCHES);
  }
}

/** A whole library; null when there is none. */
export async function readLibrary(db: Db, id: string): Promise<Library | null> {
  return (await readRows(db, id))?.rows.library ?? null;
}

/** A whole library as rows, and the number of its last change; null when there is none. */
export async function readRows(db: Db, id: string): Promise<{ rows: LibraryRows; seq: number } | null> {
  try {
    const { tx, close, beginning } = await openLibrary(db, id, '');
    try {
      const rows = rowsOfHead(beginning.head);
      for await (const piece of piecesOf(tx, beginning.num, beginning.more)) {
        rows.write((JSON.parse(`[${piece}]`) as TravellingSwatch[]).map(arrived));
        // a file answers at once, and others would wait for all of a large library
        await new Promise((resolve) => setImmediate(resolve));
      }
      return { rows, seq: beginning.head.seq };
    } finally {
      close();
    }
  } catch (error) {
    if (error instanceof RefusedError) return null;
    throw error;
  }
}
