import type { InValue } from '@libsql/client';
import { and, asc, eq, inArray, sql } from 'drizzle-orm';
import { type Color, type Condition, type Lab, toHex, toLab } from '../core/color/index.ts';
import {
  asSearchText,
  type Fields,
  groupData,
  itemData,
  keptSwatch,
  type LibraryFacts,
  libraryData,
  type Op,
  oddTexts,
  plainText,
  type RowKind,
  type RowReader,
  same,
  swatchData,
  type TravellingSwatch,
  type Write,
} from '../core/swatch/index.ts';
import { conditionFor, settingOf } from './conditions.ts';
import { only, type Tx, type WriteTx } from './db.ts';
import { groups, items, libraries, NUMBER_BITS, swatches } from './schema.ts';

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

/** What applying steps to a library has to know, read beforehand. */
export async function readerOf(
  tx: Tx,
  library: number,
  ops: readonly Op[],
): Promise<RowReader & { numbers: Numbers }> {
  const ids = (of: RowKind) => new Set(ops.flatMap((o) => (o.of === of ? [o.id] : [])));
  const found = new Map<string, Fields>();
  const numbers = new Map<string, number>();
  const wanted = ids('swatch');
  if (wanted.size > 0) {
    const rows = await tx
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
      .where(
        and(
          eq(swatches.library, library),
          sql`${swatches.id} IN (SELECT value FROM json_each(${json([...wanted])}))`,
        ),
      );
    for (const { n, id, code, role, data, ...row } of rows) {
      numbers.set(id, n);
      found.set(`swatch ${id}`, {
        ...row,
        ...(code === null ? {} : { code }),
        ...(role === null ? {} : { role }),
        ...swatchData.read(data),
      });
    }
  }
  const named = ids('group');
  for (const step of ops)
    if (step.of === 'swatch' && step.op !== 'drop' && typeof step.fields.group === 'string')
      named.add(step.fields.group);
  const inOrder = tx
    .select({ id: groups.id, name: groups.name, order: groups.orderKey })
    .from(groups)
    .$dynamic();
  const [first] = named.size
    ? await inOrder.where(eq(groups.library, library)).orderBy(asc(groups.orderKey), asc(groups.id)).limit(1)
    : [];
  const members = new Map<string, number>();
  if (named.size > 0) {
    const rows = await tx
      .select({
        id: groups.id,
        name: groups.name,
        order: groups.orderKey,
        data: groups.data,
      })
      .from(groups)
      .where(and(eq(groups.library, library), inJson(groups.id, [...named])));
    for (const { id, data, ...row } of rows) found.set(`group ${id}`, { ...row, ...groupData.read(data) });
    const dropped = ops.flatMap((o) => (o.of === 'group' && o.op === 'drop' ? [o.id] : []));
    if (dropped.length > 0)
      for (const { id, n } of await tx
        .select({ id: swatches.groupId, n: sql<number>`count(*)` })
        .from(swatches)
        .where(and(eq(swatches.library, library), inJson(swatches.groupId, dropped)))
        .groupBy(swatches.groupId))
        members.set(id, n);
  }
  const others = ids('item');
  if (others.size > 0)
    for (const { id, order, data, ...row } of await tx
      .select({ id: items.id, order: items.orderKey, kind: items.kind, name: items.name, data: items.data })
      .from(items)
      .where(and(eq(items.library, library), inJson(items.id, [...others]))))
      found.set(`item ${id}`, { order, ...row, ...itemData.read(data) });
  for (const id of ids('library')) {
    const [row] = await tx
      .select({ name: libraries.name, data: libraries.data })
      .from(libraries)
      .where(and(eq(libraries.num, library), eq(libraries.id, id)));
    if (row) found.set(`library ${id}`, { name: row.name, ...libraryData.read(row.data) });
  }
  return {
    numbers,
    get: (of, id) => found.get(`${of} ${id}`) ?? null,
    membersOf: (group) => members.get(group) ?? 0,
    firstGroup: () => first ?? null,
  };
}

const inJson = (column: typeof groups.id | typeof swatches.groupId | typeof items.id, ids: string[]) =>
  ids.length === 1 ? eq(column, ids[0]!) : inArray(column, sql`(SELECT value FROM json_each(${json(ids)}))`);

/**
 * Writes rows as they are to be, and what they are found by.
 *
 * @param numbers of the swatches that are there already
 */
export async function writeRows(
  tx: WriteTx,
  library: number,
  writes: readonly Write[],
  numbers: Numbers = new Map(),
): Promise<void> {
  const of = (kind: RowKind) => writes.filter((w) => w.of === kind);
  for (const { after } of of('library')) {
    const { name, ...data } = after as { name: string };
    await tx.update(libraries).set(libraryColumns(name, data)).where(eq(libraries.num, library));
  }
  const printed = of('library').some((w) => w.before && !same(w.before.condition, w.after?.condition));
  const colors = of('swatch').flatMap(({ after }) => (after ? [after.color as Color] : []));
  if (printed || of('swatch').length > 0) {
    const condition = await conditionFor(tx, await settingOf(tx, library), colors);
    await writeSwatches(tx, library, of('swatch'), numbers, condition);
    if (printed) await recolor(tx, library, condition);
  }
  await writeGroups(tx, library, of('group'));
  for (const { id, after } of of('item')) {
    const mine = and(eq(items.library, library), eq(items.id, id));
    if (!after) {
      await tx.delete(items).where(mine);
      continue;
    }
    const { order, kind, name, ...data } = after as {
      order: string;
      kind: string;
      name: string;
      data: unknown;
    };
    const values = { orderKey: order, kind, name, data: itemData.write(data) };
    await tx
      .insert(items)
      .values({ library, id, ...values })
      .onConflictDoUpdate({ target: [items.library, items.id], set: values });
  }
}

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

async function writeGroups(tx: Tx, library: number, writes: Write[]): Promise<void> {
  if (writes.length === 0) return;
  const gone = writes.flatMap((w) => (w.after ? [] : [w.id]));
  if (gone.length > 0)
    await tx.delete(groups).where(and(eq(groups.library, library), inJson(groups.id, gone)));
  const there = writes.flatMap(({ id, after }) => {
    if (!after) return [];
    const { order, name, ...data } = after as { order: string; name: string };
    const kept = groupData.write({ ...data, ...oddTexts({ name }) });
    return [{ id, order, name: plainText(name), folded: lower(plainText(name)), data: kept }];
  });
  if (there.length > 0)
    await tx.run(sql`INSERT INTO ${groups} (library, id, order_key, name, folded, data)
      SELECT ${library}, value->>'id', value->>'order', value->>'name', value->>'folded', value->>'data'
      FROM json_each(${json(there)}) WHERE true
      ON CONFLICT (library, id) DO UPDATE SET order_key = excluded.order_key, name = excluded.name,
        folded = excluded.folded, data = excluded.data`);
}

async function writeSwatches(
  tx: WriteTx,
  library: number,
  writes: Write[],
  numbers: Numbers,
  condition: Condition,
): Promise<void> {
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
    await tx.run(sql`DELETE FROM swatch_search WHERE rowid IN ${dead}`);
    await tx.run(sql`DELETE FROM ${swatches} WHERE n IN ${dead}`);
  }
  if (moved.length > 0)
    await tx.run(sql`UPDATE ${swatches} SET group_id = j.value->>'group', order_key = j.value->>'order'
      FROM json_each(${json(moved)}) AS j WHERE ${swatches.n} = j.value->>'n'`);
  const numbered = (n: number, { columns }: Columns): InValue[] => [BigInt(n), library, ...columns];
  const into = `INSERT INTO swatches (n, library, ${COLUMNS.join(', ')})`;
  const anew = COLUMNS.map((c) => `${c} = excluded.${c}`).join(', ');
  await many(
    tx,
    into,
    changed.map((c) => numbered(c.n, c)),
    `ON CONFLICT (n) DO UPDATE SET ${anew}`,
  );
  if (renamed.length > 0) {
    const old = json(renamed.map(([n]) => Number(n)));
    await tx.run(sql`DELETE FROM swatch_search WHERE rowid IN (SELECT value FROM json_each(${old}))`);
    await many(tx, FINDABLE, renamed);
  }
  if (fresh.length > 0) {
    const { next } = only(
      await tx.select({ next: libraries.nextSwatch }).from(libraries).where(eq(libraries.num, library)),
    );
    const start = firstNumber(library) + next;
    await many(
      tx,
      into,
      fresh.map((c, i) => numbered(start + i, c)),
    );
    await many(
      tx,
      FINDABLE,
      fresh.map((c, i) => [BigInt(start + i), c.text]),
    );
    await tx
      .update(libraries)
      .set({ nextSwatch: next + fresh.length })
      .where(eq(libraries.num, library));
  }
}

/** How device colors look follows the print condition: what they are found by is made anew. */
export async function recolor(tx: WriteTx, library: number, condition: Condition): Promise<void> {
  const rows = await tx
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
  const inks = rows.map((row) => {
    const kept = swatchData.read(row.data);
    return kept.color;
  });
  condition.prepare(inks);
  const anew = rows.map(({ n, name, code, role }, i) => {
    const { hex, lab } = foundBy(inks[i]!, condition);
    return {
      n,
      hex,
      lab,
      cell: cellNumber(cellsOf(lab)),
      text: searchable([name, code ?? '', role ?? '', hex]),
    };
  });
  for (let at = 0; at < anew.length; at += RECOLORED_AT_ONCE) {
    const some = json(anew.slice(at, at + RECOLORED_AT_ONCE));
    await tx.run(sql`UPDATE ${swatches} SET hex = j.value->>'hex', l = j.value->>'$.lab[0]', a = j.value->>'$.lab[1]',
      b = j.value->>'$.lab[2]', cell = j.value->>'cell' FROM json_each(${some}) AS j WHERE ${swatches.n} = j.value->>'n'`);
    await tx.run(sql`DELETE FROM swatch_search WHERE rowid IN (SELECT value->>'n' FROM json_each(${some}))`);
    await tx.run(
      sql`INSERT INTO swatch_search (rowid, text) SELECT value->>'n', value->>'text' FROM json_each(${some})`,
    );
  }
}
const RECOLORED_AT_ONCE = 5000;

/** Hex and Lab that a color is found by; numbers so large that they have no Lab are found by their name alone. */
function foundBy(color: Color, condition: Condition): { hex: string; lab: Lab } {
  const lab = toLab(color, condition).map((v) => (Number.isFinite(v) ? v : 0)) as Lab;
  return { hex: toHex(color, condition), lab };
}

/** So many rows with one statement. */
const AT_ONCE = 400;

/** The columns of a swatch after its number and library, in the order that {@link columnsOf} gives them. */
const COLUMNS = [
  ...['id', 'group_id', 'order_key', 'name', 'code', 'kind', 'role'],
  ...['hex', 'l', 'a', 'b', 'cell', 'data'],
];

/** Makes swatches findable by their texts; rows of number and text. */
export const FINDABLE = 'INSERT INTO swatch_search (rowid, text)';

/** Inserts very many rows. */
export async function many(tx: WriteTx, into: string, rows: InValue[][], then = ''): Promise<void> {
  for (let at = 0; at < rows.length; at += AT_ONCE) {
    const some = rows.slice(at, at + AT_ONCE);
    const row = `(${Array(some[0]!.length).fill('?').join()})`;
    await tx.execute({
      sql: `${into} VALUES ${Array(some.length).fill(row).join()} ${then}`,
      args: some.flat(),
    });
  }
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

/** The first swatches of a library, in its order, as the inside of a JSON array. */
export async function firstSwatches(tx: Tx, library: number, most: number): Promise<string> {
  const row = await tx.get<{ rows: string | null }>(sql`SELECT group_concat(line, ',') AS rows FROM (
    SELECT ${travelling} AS line FROM (
      SELECT s.* FROM groups AS g CROSS JOIN swatches AS s ON s.library = g.library AND s.group_id = g.id
      WHERE g.library = ${library} ORDER BY g.order_key, g.id, s.order_key, s.id LIMIT ${most}))`);
  return row?.rows ?? '';
}

/** Swatches by their numbers from one on, as the inside of a JSON array; `next` is where to go on, null at the end. */
export async function moreSwatches(
  tx: Tx,
  library: number,
  from: number,
  most: number,
): Promise<{ rows: string; next: number | null }> {
  const end = firstNumber(library + 1);
  const row = await tx.get<{ rows: string | null; last: number | null; count: number }>(
    sql`SELECT group_concat(line, ',') AS rows, max(n) AS last, count(*) AS count FROM (
      SELECT n, ${travelling} AS line FROM swatches WHERE n >= ${from} AND n < ${end} ORDER BY n LIMIT ${most})`,
  );
  return {
    rows: row?.rows ?? '',
    next: row?.last != null && row.count === most ? row.last + 1 : null,
  };
}

const AT_A_TIME = 5000;

/** All swatches of a library as they travel. */
export async function allTravelling(tx: Tx, library: number): Promise<TravellingSwatch[]> {
  const all: TravellingSwatch[] = [];
  for (let from: number | null = firstNumber(library); from !== null; ) {
    const piece: { rows: string; next: number | null } = await moreSwatches(tx, library, from, AT_A_TIME);
    for (const row of JSON.parse(`[${piece.rows}]`) as TravellingSwatch[]) all.push(row);
    from = piece.next;
  }
  return all;
}
