import { and, asc, desc, eq, isNotNull, isNull, ne, or, sql } from 'drizzle-orm';
import { nanoid } from 'nanoid';
import {
  arrived,
  checkLibrary,
  GRADIENT,
  groupData,
  itemData,
  type Library,
  type LibraryHead,
  type LibraryRows,
  libraryData,
  libraryFields,
  rowsOfHead,
  toWrites,
  withNewIds,
} from '../core/swatch/index.ts';
import { count, epochOf, findLibrary, RefusedError, stepsOf } from './changes.ts';
import { type Db, only, readTransaction, type Tx, type WriteTx, write } from './db.ts';
import {
  allTravelling,
  firstNumber,
  firstSwatches,
  libraryColumns,
  lower,
  moreSwatches,
  plainName,
  writeRows,
} from './rows.ts';
import { type Band, groups, items, libraries } from './schema.ts';
import { findColor, findSwatches, isColorQuery } from './search.ts';
import { Turns } from './turns.ts';

/** The tray is a library too, so that it is edited, kept and undone in the same way. It is in no list. */
export const TRAY = 'tray';

/** The bands of a list need no more colours than a screen has room for. */
const BAND_COLORS = 240;
/** So many swatches are sent first, for the first look at a library; then so many at a time. */
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
};
type SummaryRow = Omit<Summary, 'band' | 'found'> & { num: number; data: string; band: Band | null };

/** Summaries with bands, which are made anew where a change has made them old. */
async function summaries(db: Db, rows: SummaryRow[]): Promise<Summary[]> {
  const list: Summary[] = [];
  for (const { num, data, band, name, ...row } of rows)
    list.push({ ...row, name: plainName(name, data), band: band ?? (await freshBand(db, num)) });
  return list;
}

/**
 * A library's colours in their order and groups, as many as a band can show; kept until the library changes. They are chosen
 * by the index alone, and only those chosen are read.
 */
async function freshBand(db: Db, num: number): Promise<Band> {
  const rows = await db.all<{ g: string; hex: string }>(sql`
    WITH numbered AS (
      SELECT g.order_key AS place, g.id AS g, s.n AS n,
        row_number() OVER (PARTITION BY g.id ORDER BY s.order_key, s.id) - 1 AS at,
        max(1, (l.swatch_count + ${BAND_COLORS - 1}) / ${BAND_COLORS}) AS step
      FROM libraries AS l JOIN groups AS g ON g.library = l.num JOIN swatches AS s ON s.library = l.num AND s.group_id = g.id
      WHERE l.num = ${num})
    SELECT g, hex FROM numbered CROSS JOIN swatches ON swatches.n = numbered.n WHERE at % step = 0 ORDER BY place, g, at`);
  const band: Band = [];
  let last: string | null = null;
  for (const { g, hex } of rows) {
    if (g !== last) band.push([]);
    band.at(-1)!.push(hex);
    last = g;
  }
  const { seq } = only(await db.select({ seq: libraries.seq }).from(libraries).where(eq(libraries.num, num)));
  // only a wish: whoever comes next makes it again when this does not go through
  await write(db, async (tx) => {
    await tx
      .update(libraries)
      .set({ band })
      .where(and(eq(libraries.num, num), eq(libraries.seq, seq)));
  }).catch(() => undefined);
  return band;
}

/**
 * All libraries, newest change first; with a query, those in which a library, group, gradient or swatch is so named, or has a colour
 * close to the one given.
 */
export async function listLibraries(db: Db, query = ''): Promise<Summary[]> {
  const wanted = lower(query.trim());
  const listed = and(isNull(libraries.deletedAt), eq(libraries.book, false), ne(libraries.id, TRAY));
  const all = await db
    .select(summaryColumns)
    .from(libraries)
    .where(listed)
    .orderBy(desc(libraries.changedAt));
  if (!wanted) return summaries(db, all);
  const found = await search(db, query, wanted);
  const hits = await summaries(
    db,
    all.filter((l) => found.has(l.num)),
  );
  const numOf = new Map(all.map((l) => [l.id, l.num]));
  return hits.map((l) => ({ ...l, found: found.get(numOf.get(l.id)!) ?? [] }));
}

/** What is found in each library, by the library's number. */
async function search(db: Db, query: string, wanted: string): Promise<Map<number, string[]>> {
  const found = new Map<number, string[]>();
  const add = (num: number, text: string) => {
    const list = found.get(num) ?? [];
    if (list.length < MOST_FOUND && text && !list.includes(text)) list.push(text);
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
          eq(items.kind, GRADIENT),
          or(
            sql`${items.name} LIKE ${pattern} ESCAPE '\\'`,
            sql`${items.name} LIKE ${like(query.trim())} ESCAPE '\\'`,
          ),
        ),
      )
      .orderBy(asc(items.library), asc(items.orderKey)))
      add(num, name);
    for (const { library, text } of await findSwatches(tx, wanted)) add(library, text);
    return found;
  } finally {
    close();
  }
}

const MOST_FOUND = 6;

/** The libraries by name, newest change first, without the books. */
export async function listNames(db: Db): Promise<{ id: string; name: string; swatchCount: number }[]> {
  const rows = await db
    .select({
      id: libraries.id,
      name: libraries.name,
      data: libraries.data,
      swatchCount: libraries.swatchCount,
    })
    .from(libraries)
    .where(and(isNull(libraries.deletedAt), eq(libraries.book, false), ne(libraries.id, TRAY)))
    .orderBy(desc(libraries.changedAt));
  return rows.map(({ data, ...row }) => ({ ...row, name: plainName(row.name, data) }));
}

/** Deleted libraries, which can be brought back, latest first. */
export async function listDeleted(db: Db): Promise<Omit<Summary, 'band'>[]> {
  const rows = await db
    .select(summaryColumns)
    .from(libraries)
    .where(and(isNotNull(libraries.deletedAt), eq(libraries.book, false)))
    .orderBy(desc(libraries.deletedAt));
  return rows.map(({ num: _, data, band: __, ...row }) => ({ ...row, name: plainName(row.name, data) }));
}

/** Writes a library as it is, under its own ids. */
export async function insertLibrary(tx: WriteTx, library: Library): Promise<number> {
  const { name, ...more } = libraryFields(library) as { name: string };
  const { num } = only(
    await tx
      .insert(libraries)
      .values({ id: library.id, ...libraryColumns(name, more), changedAt: new Date() })
      .returning({ num: libraries.num }),
  );
  const writes = toWrites(library).filter((w) => w.of !== 'library');
  await writeRows(tx, num, writes);
  await count(tx, num, writes);
  return num;
}

/**
 * Keeps a library under new identifiers, so that adding one never replaces another.
 *
 * @param id what it is to be called; a second request for the same one is answered as the first
 */
export async function createLibrary(db: Db, library: Library, id = nanoid(12)): Promise<string> {
  const own = checkLibrary({ ...withNewIds(library, () => nanoid(12)), id });
  await write(db, async (tx) => {
    const [there] = await tx.select({ num: libraries.num }).from(libraries).where(eq(libraries.id, id));
    if (!there) await insertLibrary(tx, own);
  });
  return id;
}

/** Makes a copy under an id of its own; a second request for the same one is answered as the first. */
export async function duplicateLibrary(db: Db, id: string, copy = nanoid(12)): Promise<string | null> {
  const library = await readLibrary(db, id);
  if (!library) return null;
  return createLibrary(db, { ...library, name: `${library.name} copy` }, copy);
}

/** Takes a library out of the lists; {@link restoreLibrary} brings it back as it was. */
export async function deleteLibrary(db: Db, id: string): Promise<void> {
  if (id !== TRAY) await mark(db, id, new Date());
}

export const restoreLibrary = (db: Db, id: string): Promise<void> => mark(db, id, null);

const mark = (db: Db, id: string, deletedAt: Date | null) =>
  write(db, async (tx) => {
    // a book is taken away in its own way
    await tx
      .update(libraries)
      .set({ deletedAt })
      .where(and(eq(libraries.id, id), eq(libraries.book, false)));
  });

/** The tray is made when it is first asked for. */
async function ensureTray(db: Db, id: string): Promise<void> {
  if (id !== TRAY) return;
  const [there] = await db.select({ num: libraries.num }).from(libraries).where(eq(libraries.id, TRAY));
  if (there) return;
  await write(db, async (tx) => {
    const [meanwhile] = await tx.select({ num: libraries.num }).from(libraries).where(eq(libraries.id, TRAY));
    if (!meanwhile)
      await insertLibrary(tx, { id: TRAY, name: 'Tray', groups: [{ id: TRAY, name: '', swatches: [] }] });
  });
}

/** Name and size, for the page's title; null when there is no such library. */
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

async function readHead(tx: Tx, id: string, by: string): Promise<{ num: number; head: LibraryHead }> {
  const { num } = await findLibrary(tx, id);
  const [row] = await tx.select().from(libraries).where(eq(libraries.num, num));
  const groupRows = await tx
    .select({ id: groups.id, order: groups.orderKey, name: groups.name, data: groups.data })
    .from(groups)
    .where(eq(groups.library, num))
    .orderBy(asc(groups.orderKey), asc(groups.id));
  const itemRows = await tx.select().from(items).where(eq(items.library, num));
  return {
    num,
    head: {
      id,
      name: row!.name,
      ...libraryData.read(row!.data),
      epoch: await epochOf(tx),
      seq: row!.seq,
      swatchCount: row!.swatchCount,
      groups: groupRows.map(({ data, ...group }) => ({ ...group, ...groupData.read(data) })),
      items: itemRows.map((item) => ({
        id: item.id,
        fields: { order: item.orderKey, kind: item.kind, name: item.name, ...itemData.read(item.data) },
      })),
      steps: await stepsOf(tx, num, by),
    },
  };
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
  await ensureTray(db, id);
  const endTurn = await reading.take();
  let tx: Awaited<ReturnType<typeof readTransaction>> | null = null;
  let timer: ReturnType<typeof setTimeout> | undefined;
  const end = () => {
    clearTimeout(timer);
    tx?.close();
    endTurn();
  };
  try {
    tx = await readTransaction(db);
    const { num, head } = await readHead(tx.tx, id, by);
    const lines = linesOf(tx.tx, num, head);
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

/** So many libraries are read at once, each over a connection of its own; others of the pool are left for everything else. */
const reading = new Turns(8);
/** So long may a reader take for one line, ms. */
const READER_MS = 15_000;

async function* linesOf(tx: Tx, num: number, head: LibraryHead): AsyncGenerator<string> {
  yield JSON.stringify({ head });
  if (head.swatchCount > FIRST_SWATCHES)
    yield `{"swatches":[${await firstSwatches(tx, num, FIRST_SWATCHES)}]}`;
  for (let from: number | null = firstNumber(num); from !== null; ) {
    const piece: { rows: string; next: number | null } = await moreSwatches(tx, num, from, MORE_SWATCHES);
    yield `{"swatches":[${piece.rows}]}`;
    from = piece.next;
  }
  yield '{"end":true}';
}

/** A whole library; null when there is none. */
export async function readLibrary(db: Db, id: string): Promise<Library | null> {
  return (await readRows(db, id))?.rows.library ?? null;
}

/** A whole library as rows, and the number of its last change; null when there is none. */
export async function readRows(db: Db, id: string): Promise<{ rows: LibraryRows; seq: number } | null> {
  await ensureTray(db, id);
  const { tx, close } = await readTransaction(db);
  try {
    const { num, head } = await readHead(tx, id, '');
    const rows = rowsOfHead(head);
    rows.write((await allTravelling(tx, num)).map(arrived));
    return { rows, seq: head.seq };
  } catch (error) {
    if (error instanceof RefusedError) return null;
    throw error;
  } finally {
    close();
  }
}
