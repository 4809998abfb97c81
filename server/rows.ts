import type { InValue } from '@libsql/client';
import { and, asc, eq, gte, inArray, lt, or, type SQL, sql } from 'drizzle-orm';
import { type Color, type Condition, type Lab, toHex, toLab } from '../core/color/index.ts';
import {
  asSearchText,
  byOrder,
  type Fields,
  groupData,
  itemData,
  keptSwatch,
  type LibraryFacts,
  LOOSE,
  libraryData,
  type Op,
  oddTexts,
  plainText,
  type RowKind,
  type RowReader,
  same,
  swatchData,
  type Write,
} from '../core/swatch/index.ts';
import { type Answers, type Statement, statement, type Tx } from './db.ts';
import { groups, items, libraries, MAX_VALUE_BYTES, NUMBER_BITS, swatches } from './schema.ts';

// The rows of a library in the database: many are read and written with one statement, as JSON, so that it costs one way to
// the database and back, however far away it is.

export const lower = (text: string) => text.toLocaleLowerCase('en');

/** The first number of a library's swatches and changes. */
export const firstNumber = (library: number) => library * 2 ** NUMBER_BITS;

/** Parts of Lab are cubes of this side. */
export const CELL = 8;
const CELLS = 64;
const OFFSET = 256;

/** The numbers of the cell a colour lies in; outside of what can be seen, of the nearest. */
export const cellsOf = ([l, a, b]: Lab): [number, number, number] => {
  const part = (v: number) => Math.min(CELLS - 1, Math.max(0, Math.floor(v / CELL)));
  return [part(l), part(a + OFFSET), part(b + OFFSET)];
};
export const cellNumber = ([l, a, b]: Lab) => (l * CELLS + a) * CELLS + b;

const json = (value: unknown) => JSON.stringify(value);

/** The numbers of swatches by their ids. */
export type Numbers = ReadonlyMap<string, number>;

/** The ids of rows of one kind that steps name. */
const idsOf = (of: RowKind, ops: readonly Op[]) => [
  ...new Set(ops.flatMap((o) => (o.of === of ? [o.id] : []))),
];

/**
 * What applying steps to a library has to know, as queries for {@link ask}; {@link readerFrom} makes a reader of the answers.
 *
 * @param library its number, or a query for it
 * @param withHomes with the groups where the swatches are that the steps name: needed where one of the changes is taken back by another
 *   sent with it, and its swatches go back there
 */
export function rowQueries(tx: Tx, library: number | SQL, ops: readonly Op[], withHomes = false) {
  const groupIds = new Set(idsOf('group', ops));
  for (const step of ops)
    if (step.of === 'swatch' && step.op !== 'drop' && typeof step.fields.group === 'string')
      groupIds.add(step.fields.group);
  const homed = withHomes ? idsOf('swatch', ops) : [];
  const touchesGroups = groupIds.size + homed.length > 0;
  const dropped = ops.flatMap((o) => (o.of === 'group' && o.op === 'drop' ? [o.id] : []));
  const groupColumns = { id: groups.id, name: groups.name, order: groups.orderKey, data: groups.data };
  return [
    swatchQuery(tx, library, idsOf('swatch', ops).slice(0, SWATCHES_AT_ONCE)),
    // a swatch without a home makes a group for itself, for which it has to know which of those there are
    tx
      .select(groupColumns)
      .from(groups)
      .where(
        and(
          eq(groups.library, library),
          or(
            inJson(groups.id, [...groupIds]),
            touchesGroups ? and(gte(groups.id, LOOSE), lt(groups.id, `${LOOSE}~`)) : undefined,
            homed.length > 0
              ? inArray(
                  groups.id,
                  tx
                    .select({ id: swatches.groupId })
                    .from(swatches)
                    .where(and(eq(swatches.library, library), inJson(swatches.id, homed))),
                )
              : undefined,
          ),
        ),
      ),
    // as many as there must be so that one is left that is not touched
    tx
      .select(groupColumns)
      .from(groups)
      .where(eq(groups.library, library))
      .orderBy(asc(groups.orderKey), asc(groups.id))
      .limit(touchesGroups ? groupIds.size + homed.length + 1 : 0),
    tx
      .select({ id: swatches.groupId, n: sql<number>`count(*)` })
      .from(swatches)
      .where(and(eq(swatches.library, library), inJson(swatches.groupId, dropped)))
      .groupBy(swatches.groupId),
    tx
      .select({ id: items.id, order: items.orderKey, kind: items.kind, name: items.name, data: items.data })
      .from(items)
      .where(and(eq(items.library, library), inJson(items.id, idsOf('item', ops)))),
    tx
      .select({ id: libraries.id, name: libraries.name, data: libraries.data })
      .from(libraries)
      .where(and(eq(libraries.num, library), inJson(libraries.id, idsOf('library', ops)))),
  ] as const;
}

/** At most this many swatches are read with one request: a database server gives no answer of more than 10 MB. */
const SWATCHES_AT_ONCE = 4000;

const swatchQuery = (tx: Tx, library: number | SQL, ids: readonly string[]) =>
  tx
    .select({
      n: swatches.n,
      id: swatches.id,
      group: swatches.groupId,
      order: swatches.orderKey,
      name: swatches.name,
      code: swatches.code,
      kind: swatches.kind,
      role: swatches.role,
      data: swatches.data,
    })
    .from(swatches)
    .where(and(eq(swatches.library, library), inJson(swatches.id, ids)));

type SwatchRow = Awaited<ReturnType<typeof swatchQuery>>[number];

/** The swatches that steps name beyond those of {@link rowQueries}: of very long changes. */
export async function swatchesBeyond(tx: Tx, library: number, ops: readonly Op[]): Promise<SwatchRow[]> {
  const ids = idsOf('swatch', ops);
  const found: SwatchRow[] = [];
  for (let at = SWATCHES_AT_ONCE; at < ids.length; at += SWATCHES_AT_ONCE)
    for (const row of await swatchQuery(tx, library, ids.slice(at, at + SWATCHES_AT_ONCE))) found.push(row);
  return found;
}

/** The rows that steps name, as they are and as changes make them, one after the other. */
export class TouchedRows implements RowReader {
  private readonly rows: Map<string, Fields>;
  private readonly before = new Map<string, Write>();

  constructor(
    /** Of the swatches that are there. */
    readonly numbers: Numbers,
    rows: ReadonlyMap<string, Fields>,
    private readonly members: Map<string, number>,
    /** The first ones, in their order. */
    private readonly first: Map<string, { name: string; order: string }>,
  ) {
    this.rows = new Map(rows);
  }

  get(of: RowKind, id: string): Fields | null {
    return this.rows.get(`${of} ${id}`) ?? null;
  }

  membersOf(group: string): number {
    return this.members.get(group) ?? 0;
  }

  firstGroup() {
    let found: { id: string; name: string; order: string } | null = null;
    for (const [id, group] of this.first) {
      const one = { id, ...group };
      if (!found || byOrder(one, found) < 0) found = one;
    }
    return found;
  }

  /** Takes in what a change has written; the next one is applied to that. */
  write(writes: readonly Write[]): void {
    for (const write of writes) {
      const { of, id, before, after } = write;
      const key = `${of} ${id}`;
      const known = this.before.get(key);
      if (known) known.after = after;
      else this.before.set(key, { ...write });
      if (after) this.rows.set(key, after);
      else this.rows.delete(key);
      if (of === 'swatch') {
        this.count(before?.group, -1);
        this.count(after?.group, 1);
      }
      if (of !== 'group') continue;
      if (after) this.first.set(id, { name: after.name as string, order: after.order as string });
      else this.first.delete(id);
    }
  }

  private count(group: unknown, by: number): void {
    if (typeof group === 'string') this.members.set(group, this.membersOf(group) + by);
  }

  /** All that has been written, each row once, as it was at first and is at last. */
  get writes(): Write[] {
    return [...this.before.values()].filter((w) => (w.before || w.after) && w.before !== w.after);
  }
}

/** Makes a reader of the answers to {@link rowQueries} and of {@link swatchesBeyond}. */
export function readerFrom(
  [swatchRows, groupRows, first, memberRows, itemRows, libraryRows]: Readonly<
    Answers<ReturnType<typeof rowQueries>>
  >,
  more: readonly SwatchRow[],
): TouchedRows {
  const found = new Map<string, Fields>();
  const numbers = new Map<string, number>();
  for (const { n, id, code, role, data, ...row } of [...swatchRows, ...more]) {
    numbers.set(id, n);
    found.set(`swatch ${id}`, {
      ...row,
      ...(code === null ? {} : { code }),
      ...(role === null ? {} : { role }),
      ...swatchData.read(data),
    });
  }
  const fieldsOf = ({ id: _, data, ...row }: (typeof groupRows)[number]) => ({
    ...row,
    ...groupData.read(data),
  });
  for (const row of groupRows) found.set(`group ${row.id}`, fieldsOf(row));
  for (const { id, order, data, ...row } of itemRows)
    found.set(`item ${id}`, { order, ...row, ...itemData.read(data) });
  for (const { id, name, data } of libraryRows)
    found.set(`library ${id}`, { name, ...libraryData.read(data) });
  // a group that is first by chance is asked for, too
  for (const row of first) if (!found.has(`group ${row.id}`)) found.set(`group ${row.id}`, fieldsOf(row));
  return new TouchedRows(
    numbers,
    found,
    new Map(memberRows.map(({ id, n }) => [id, n])),
    new Map(first.map((row) => [row.id, fieldsOf(row)])),
  );
}

export const inJson = (
  column:
    | typeof groups.id
    | typeof swatches.id
    | typeof swatches.groupId
    | typeof items.id
    | typeof libraries.id,
  ids: readonly string[],
) =>
  ids.length === 0
    ? sql`0`
    : ids.length === 1
      ? eq(column, ids[0]!)
      : inArray(column, sql`(SELECT value FROM json_each(${json(ids)}))`);

/** What writing rows has to know of their library. */
export interface RowsOf {
  num: number;
  /** The number its next swatch gets. */
  nextSwatch: number;
}

/**
 * The statements that write rows as they are to be, and what they are found by.
 *
 * @param numbers of the swatches that are there already
 * @param condition what the colours are found under
 */
export async function rowStatements(
  tx: Tx,
  { num, nextSwatch }: RowsOf,
  writes: readonly Write[],
  condition: Condition,
  numbers: Numbers = new Map(),
): Promise<Statement[]> {
  const of = (kind: RowKind) => writes.filter((w) => w.of === kind);
  const statements: Statement[] = [];
  for (const { after } of of('library')) {
    const { name, ...data } = after as { name: string };
    statements.push(
      statement(tx.update(libraries).set(libraryColumns(name, data)).where(eq(libraries.num, num))),
    );
  }
  const printed = of('library').some((w) => w.before && !same(w.before.condition, w.after?.condition));
  statements.push(...swatchStatements(num, of('swatch'), numbers, condition, nextSwatch));
  if (printed) {
    const written = new Set(of('swatch').flatMap((w) => numbers.get(w.id) ?? []));
    statements.push(...(await recolored(tx, num, condition, written)));
  }
  statements.push(...groupStatements(tx, num, of('group')));
  for (const { id, after } of of('item')) {
    const mine = and(eq(items.library, num), eq(items.id, id));
    if (!after) {
      statements.push(statement(tx.delete(items).where(mine)));
      continue;
    }
    const { order, kind, name, ...data } = after as {
      order: string;
      kind: string;
      name: string;
      data: unknown;
    };
    const values = { orderKey: order, kind, name, data: itemData.write(data) };
    statements.push(
      statement(
        tx
          .insert(items)
          .values({ library: num, id, ...values })
          .onConflictDoUpdate({ target: [items.library, items.id], set: values }),
      ),
    );
  }
  statements.push(...countStatements(num, writes));
  return statements;
}

/** Brings the counts up to date that the list of libraries shows. */
function countStatements(library: number, writes: readonly Write[]): Statement[] {
  const statements: Statement[] = [];
  const more = writes.reduce(
    (n, w) => (w.of === 'swatch' ? n + Number(w.after !== null) - Number(w.before !== null) : n),
    0,
  );
  if (more !== 0)
    statements.push(
      statement(sql`UPDATE libraries SET swatch_count = swatch_count + ${more} WHERE num = ${library}`),
    );
  // the first group, when it has no name, is for swatches in no group
  if (writes.some((w) => w.of === 'group'))
    statements.push(
      statement(sql`UPDATE libraries SET group_count = (SELECT count(*) FROM groups AS g WHERE g.library = ${library}
        AND NOT (g.name = '' AND g.id = (SELECT id FROM groups WHERE library = ${library} ORDER BY order_key, id LIMIT 1)))
        WHERE num = ${library}`),
    );
  return statements;
}

/** The colours that rows are written with. */
export const colorsIn = (writes: readonly Write[]): Color[] =>
  writes.flatMap(({ of, after }) => (of === 'swatch' && after ? [after.color as Color] : []));

/** A library's own row as columns. */
export const libraryColumns = (name: string, data: Omit<LibraryFacts, 'name'>) => ({
  name: plainText(name),
  folded: lower(plainText(name)),
  book: data.book !== undefined,
  data: libraryData.write({ ...data, ...oddTexts({ name }) }),
});

/** A name as it was given, where the column cannot hold it. */
export const plainName = (name: string, data: string): string =>
  (data.includes('"name"') && (JSON.parse(data).name as string | undefined)) || name;

function groupStatements(tx: Tx, library: number, writes: Write[]): Statement[] {
  const statements: Statement[] = [];
  const gone = writes.flatMap((w) => (w.after ? [] : [w.id]));
  if (gone.length > 0)
    statements.push(
      statement(tx.delete(groups).where(and(eq(groups.library, library), inJson(groups.id, gone)))),
    );
  const there = writes.flatMap(({ id, after }) => {
    if (!after) return [];
    const { order, name, ...data } = after as { order: string; name: string };
    const kept = groupData.write({ ...data, ...oddTexts({ name }) });
    return [{ id, order, name: plainText(name), folded: lower(plainText(name)), data: kept }];
  });
  if (there.length > 0)
    statements.push(
      statement(sql`INSERT INTO ${groups} (library, id, order_key, name, folded, data)
      SELECT ${library}, value->>'id', value->>'order', value->>'name', value->>'folded', value->>'data'
      FROM json_each(${json(there)}) WHERE true
      ON CONFLICT (library, id) DO UPDATE SET order_key = excluded.order_key, name = excluded.name,
        folded = excluded.folded, data = excluded.data`),
    );
  return statements;
}

function swatchStatements(
  library: number,
  writes: Write[],
  numbers: Numbers,
  condition: Condition,
  nextSwatch: number,
): Statement[] {
  const statements: Statement[] = [];
  condition.prepare(writes.flatMap(({ after }) => (after ? [after.color as Color] : [])));

  const gone: number[] = [];
  const moved: { n: number; group: unknown; order: unknown }[] = [];
  const fresh: Columns[] = [];
  const changed: (Columns & { n: number })[] = [];
  const renamed: [bigint, string][] = [];
  for (const { id, before, after } of writes) {
    if (!before) {
      fresh.push(columnsOf(id, after!, condition));
      continue;
    }
    const n = numbers.get(id)!;
    if (!after) gone.push(n);
    else if (movesOnly(before, after)) moved.push({ n, group: after.group, order: after.order });
    else {
      const columns = columnsOf(id, after, condition);
      changed.push({ n, ...columns });
      if (SEARCHED.some((field) => before[field] !== after[field])) renamed.push([BigInt(n), columns.text]);
    }
  }
  // by their numbers: a join over anything else could be done from the wrong side
  if (gone.length > 0) {
    const dead = sql`(SELECT value FROM json_each(${json(gone)}))`;
    statements.push(
      statement(sql`DELETE FROM swatch_search WHERE rowid IN ${dead}`),
      statement(sql`DELETE FROM swatches WHERE n IN ${dead}`),
    );
  }
  for (let at = 0; at < moved.length; at += CHANGED_AT_ONCE)
    statements.push(
      statement(sql`UPDATE ${swatches} SET group_id = j.value->>'group', order_key = j.value->>'order'
      FROM json_each(${json(moved.slice(at, at + CHANGED_AT_ONCE))}) AS j WHERE ${swatches.n} = j.value->>'n'`),
    );
  const numbered = (n: number, { columns }: Columns): InValue[] => [BigInt(n), library, ...columns];
  const into = `INSERT INTO swatches (n, library, ${COLUMNS.join(', ')})`;
  const updates = COLUMNS.map((c) => `${c} = excluded.${c}`).join(', ');
  statements.push(
    ...many(
      into,
      changed.map((c) => numbered(c.n, c)),
      `ON CONFLICT (n) DO UPDATE SET ${updates}`,
    ),
  );
  if (renamed.length > 0) {
    const old = json(renamed.map(([n]) => Number(n)));
    statements.push(
      statement(sql`DELETE FROM swatch_search WHERE rowid IN (SELECT value FROM json_each(${old}))`),
      ...many(FINDABLE, renamed),
    );
  }
  if (fresh.length > 0) {
    const start = firstNumber(library) + nextSwatch;
    statements.push(
      ...many(
        into,
        fresh.map((c, i) => numbered(start + i, c)),
      ),
      ...many(
        FINDABLE,
        fresh.map((c, i) => [BigInt(start + i), c.text]),
      ),
      statement(sql`UPDATE libraries SET next_swatch = ${nextSwatch + fresh.length} WHERE num = ${library}`),
    );
  }
  return statements;
}

/**
 * How device colors look follows the print condition: the statements that update what they are found by.
 *
 * @param but the numbers of those that are written anyway
 */
export async function recolored(
  tx: Tx,
  library: number,
  condition: Condition,
  but: ReadonlySet<number> = new Set(),
): Promise<Statement[]> {
  const all = await tx
    .select({
      n: swatches.n,
      name: swatches.name,
      code: swatches.code,
      role: swatches.role,
      data: swatches.data,
    })
    .from(swatches)
    .where(
      and(
        eq(swatches.library, library),
        sql`(${swatches.data} LIKE '%"cmyk"%' OR ${swatches.data} LIKE '%"profile"%')`,
      ),
    );
  const rows = all.filter((row) => !but.has(row.n));
  const colors = rows.map(({ data: kept }) => swatchData.read(kept).color);
  condition.prepare(colors);
  const updated = rows.map(({ n, name, code, role }, i) => {
    const { hex, lab } = foundBy(colors[i]!, condition);
    return {
      n,
      hex,
      lab,
      cell: cellNumber(cellsOf(lab)),
      text: searchable([name, code ?? '', role ?? '', hex]),
    };
  });
  const statements: Statement[] = [];
  for (let at = 0; at < updated.length; at += CHANGED_AT_ONCE) {
    const some = json(updated.slice(at, at + CHANGED_AT_ONCE));
    statements.push(
      statement(sql`UPDATE ${swatches} SET hex = j.value->>'hex', l = j.value->>'$.lab[0]', a = j.value->>'$.lab[1]',
      b = j.value->>'$.lab[2]', cell = j.value->>'cell' FROM json_each(${some}) AS j WHERE ${swatches.n} = j.value->>'n'`),
      statement(sql`DELETE FROM swatch_search WHERE rowid IN (SELECT value->>'n' FROM json_each(${some}))`),
      statement(
        sql`INSERT INTO swatch_search (rowid, text) SELECT value->>'n', value->>'text' FROM json_each(${some})`,
      ),
    );
  }
  return statements;
}
const CHANGED_AT_ONCE = 5000;

/** Hex and Lab that a color is found by; numbers so large that they have no Lab are found by their name alone. */
function foundBy(color: Color, condition: Condition): { hex: string; lab: Lab } {
  const lab = toLab(color, condition).map((v) => (Number.isFinite(v) ? v : 0)) as Lab;
  return { hex: toHex(color, condition), lab };
}

/** This many rows with one statement. */
const AT_ONCE = 400;

/** The columns of a swatch after its number and library, in the order that {@link columnsOf} gives them. */
const COLUMNS = [
  ...['id', 'group_id', 'order_key', 'name', 'code', 'kind', 'role'],
  ...['hex', 'l', 'a', 'b', 'cell', 'data'],
];

/** Makes swatches findable by their texts; rows of number and text. */
export const FINDABLE = 'INSERT INTO swatch_search (rowid, text)';

/** The statements that insert very many rows. */
export function many(into: string, rows: InValue[][], then = ''): Statement[] {
  const statements: Statement[] = [];
  for (let at = 0; at < rows.length; at += AT_ONCE) {
    const some = rows.slice(at, at + AT_ONCE);
    const row = `(${Array(some[0]!.length).fill('?').join()})`;
    statements.push({
      sql: `${into} VALUES ${Array(some.length).fill(row).join()} ${then}`,
      args: some.flat(),
    });
  }
  return statements;
}

/** What the text is made of that a swatch is found by. */
const SEARCHED = ['name', 'code', 'role', 'color'];

type Columns = ReturnType<typeof columnsOf>;

function columnsOf(id: string, fields: Fields, condition: Condition): { columns: InValue[]; text: string } {
  const { swatch, group, order, name, code, kind, role, data } = keptSwatch(id, fields);
  const {
    hex,
    lab: [l, a, b],
  } = foundBy(swatch.color, condition);
  return {
    columns: [id, group, order, name, code, kind, role, hex, l, a, b, cellNumber(cellsOf([l, a, b])), data],
    text: searchable([name, code ?? '', role ?? '', hex]),
  };
}

/** A query of three characters finds them; the two spaces let the last ones be the beginning of three, too. */
export const searchable = (texts: string[]) => `${plainText(asSearchText(texts))}  `;

function movesOnly(before: Fields, after: Fields): boolean {
  for (const field of new Set([...Object.keys(before), ...Object.keys(after)]))
    if (field !== 'group' && field !== 'order' && before[field] !== after[field]) return false;
  return true;
}

// --- a whole library

const travelling = sql`'[' || json_quote(id) || ',' || json_quote(group_id) || ',' || json_quote(order_key) || ',' || json_quote(name)
  || ',' || json_quote(code) || ',' || json_quote(kind) || ',' || json_quote(role) || ',' || data || ']'`;

/** The first swatches of a library, in its order, as the inside of a JSON array; none of one that has no more than some. */
export const firstSwatches = (tx: Tx, library: SQL, most: number, some: number) =>
  tx.all<{ lines: string | null }>(sql`SELECT group_concat(line, ',') AS lines FROM (
    SELECT ${travelling} AS line FROM (
      SELECT s.* FROM groups AS g CROSS JOIN swatches AS s ON s.library = g.library AND s.group_id = g.id
      WHERE g.library = ${library} AND (SELECT swatch_count FROM libraries WHERE num = ${library}) > ${some}
      ORDER BY g.order_key, g.id, s.order_key, s.id LIMIT ${most}))`);

// no name of a column here is a word of SQL: a replica gives those back in capitals
interface PieceRow {
  lines: string | null;
  final: number | null;
  /** Of those that were looked at, and of those that fit. */
  seen: number;
  fitting: number;
}

/** Swatches by their numbers, from one on or from the first; {@link pieceOf} reads the answer. */
export const moreSwatches = (tx: Tx, library: SQL, from: number | null, most: number) =>
  tx.all<PieceRow>(
    sql`SELECT group_concat(line, ',') FILTER (WHERE fits) AS lines, max(n) FILTER (WHERE fits) AS final,
        count(*) AS seen, count(*) FILTER (WHERE fits) AS fitting FROM (
      SELECT n, line, sum(bytes) OVER (ORDER BY n) - bytes < ${MAX_VALUE_BYTES / 2} AS fits FROM (
        SELECT n, line, length(CAST(line AS BLOB)) AS bytes FROM (SELECT n, ${travelling} AS line FROM swatches WHERE n >= ${from ?? sql`${library} << ${NUMBER_BITS}`}
          AND n < (${library} + 1) << ${NUMBER_BITS} ORDER BY n LIMIT ${most})))`,
  );

/** Swatches as the inside of a JSON array. */
export interface Piece {
  rows: string;
  /** Where to go on; null at the end. */
  next: number | null;
}

export const pieceOf = ([row]: PieceRow[], most: number): Piece => ({
  rows: row?.lines ?? '',
  next: row?.final != null && (row.fitting < row.seen || row.seen === most) ? row.final + 1 : null,
});
