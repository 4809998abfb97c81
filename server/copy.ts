import { createHash } from 'node:crypto';
import type { InValue, ResultSet } from '@libsql/client';
import { sql } from 'drizzle-orm';
import { nanoid } from 'nanoid';
import { type Db, isTooLarge, readTransaction, type Statement, write } from './db.ts';
import { FINDABLE, many, searchable } from './rows.ts';

// Everything in a database, for a copy of it in another: for safety, or to move from a file to a server and back.

/** Whatever runs statements: a connection, or a transaction. */
export interface Connection {
  execute(statement: Statement | string): Promise<ResultSet>;
  batch(statements: Statement[]): Promise<ResultSet[]>;
}

/** In an order in which nothing refers to what is not there yet. */
const TABLES = [
  'libraries',
  'groups',
  'swatches',
  'items',
  'changes',
  'kits',
  'presets',
  'assets',
  'asset_parts',
  'pictures',
  'profiles',
  'artworks',
  'links',
  'people',
  'visits',
  'present',
];
/** Rows at a time; files are large. */
const ROWS_AT_ONCE = 400;
const FILES_AT_ONCE = 1;

/** How many rows each table has, and what they come to, whatever their order. */
export type Sums = Record<string, { rows: number; sum: string }>;

type Row = Record<string, InValue>;

/** The tables that hold data: not what the search is made of, nor what is a database's own. Those referred to come first. */
export async function tablesOf(from: Connection): Promise<string[]> {
  const { rows } = await from.execute(
    `SELECT name FROM sqlite_master WHERE type = 'table' AND name NOT LIKE 'sqlite~_%' ESCAPE '~'
      AND name NOT LIKE 'swatch~_search%' ESCAPE '~' AND name NOT LIKE 'libsql~_%' ESCAPE '~'
      AND name NOT LIKE '~_litestream%' ESCAPE '~' AND name <> 'backup_mark' ORDER BY name`,
  );
  const names = rows.map((r) => String(r.name));
  return [...TABLES.filter((t) => names.includes(t)), ...names.filter((n) => !TABLES.includes(n))];
}

/** All rows of a table, some at a time. */
export async function* piecesOf(from: Connection, table: string): AsyncGenerator<Row[]> {
  let most = table.includes('asset') || table === 'pictures' ? FILES_AT_ONCE : ROWS_AT_ONCE;
  for (let after = -1; ; ) {
    let rows: unknown;
    try {
      ({ rows } = await from.execute({
        sql: `SELECT rowid AS row_number, * FROM "${table}" WHERE rowid > ? ORDER BY rowid LIMIT ?`,
        args: [after, most],
      }));
    } catch (error) {
      // changes may be long: fewer at a time
      if (!isTooLarge(error) || most === 1) throw error;
      most = Math.ceil(most / 4);
      continue;
    }
    const found = rows as (Row & { row_number: number })[];
    if (found.length > 0) yield found.map(({ row_number: _, ...row }) => row);
    if (found.length < most) return;
    after = found[found.length - 1]!.row_number;
  }
}

class Sum {
  private readonly total = new BigUint64Array(1);
  rows = 0;

  add(row: Row): void {
    const values = Object.keys(row)
      .sort()
      .map((k) => {
        const v = row[k];
        return v instanceof ArrayBuffer || ArrayBuffer.isView(v)
          ? createHash('sha256')
              .update(new Uint8Array(v as ArrayBuffer))
              .digest('hex')
          : typeof v === 'bigint'
            ? Number(v)
            : v;
      });
    const hash = createHash('sha256').update(JSON.stringify(values)).digest();
    this.total[0]! += hash.readBigUInt64LE();
    this.rows++;
  }

  get value() {
    return { rows: this.rows, sum: this.total[0]!.toString(16) };
  }
}

/** What is in a database, as sums that two copies have in common. */
export async function sumsOf(from: Connection, tables?: readonly string[]): Promise<Sums> {
  const sums: Sums = {};
  for (const table of tables ?? (await tablesOf(from))) {
    const sum = new Sum();
    for await (const rows of piecesOf(from, table)) for (const row of rows) sum.add(row);
    sums[table] = sum.value;
  }
  return sums;
}

/** The tables that do not come to the same. */
export const differing = (a: Sums, b: Sums): string[] =>
  [...new Set([...Object.keys(a), ...Object.keys(b)])].filter(
    (table) => a[table]?.sum !== b[table]?.sum || a[table]?.rows !== b[table]?.rows,
  );

/**
 * Puts everything of one moment of a database in place of all that another holds, in one transaction; both may be in use.
 * What was written is read again and held against what was read, before it counts.
 *
 * @throws Error when it is not the same; then the database that was to be written has not been changed
 */
export async function copyDatabase(from: Db, to: Db): Promise<Sums> {
  let sums: Sums = {};
  await write(to, async (tx) => {
    sums = {};
    const target = tx.$client;
    const source = await readTransaction(from);
    try {
      for (const table of [...TABLES].reverse()) await target.execute(`DELETE FROM "${table}"`);
      await target.execute('DELETE FROM swatch_search WHERE rowid IN (SELECT rowid FROM swatch_search)');
      for (const table of TABLES) {
        const sum = new Sum();
        for await (const rows of piecesOf(source.tx.$client, table)) {
          for (const row of rows) sum.add(row);
          await insertRows(target, table, rows);
          if (table === 'swatches') await fillSearch(target, rows);
        }
        sums[table] = sum.value;
      }
      const others = differing(sums, await sumsOf(target, TABLES));
      if (others.length > 0) throw new Error(`The copy is not what was read: ${others.join(', ')}.`);
      // pages that know what was there before have to read the library again
      await tx.run(sql`UPDATE about SET value = ${nanoid()} WHERE key = 'epoch'`);
    } finally {
      source.close();
    }
  });
  return sums;
}

/** Writes rows as they were read. */
export async function insertRows(to: Connection, table: string, rows: Row[]): Promise<void> {
  const columns = Object.keys(rows[0]!);
  const bound = (v: InValue) => (v instanceof ArrayBuffer ? new Uint8Array(v) : v);
  await to.batch(
    many(
      `INSERT INTO "${table}" (${columns.map((c) => `"${c}"`).join()})`,
      rows.map((row) => columns.map((c) => bound(row[c]!))),
    ),
  );
}

/** Makes swatches findable that were written as rows. */
export async function fillSearch(to: Connection, rows: Row[]): Promise<void> {
  await to.batch(
    many(
      FINDABLE,
      rows.map((row) => [BigInt(row.n as number), textOf(row)]),
    ),
  );
}

const textOf = ({ name, code, role, hex }: Row) =>
  searchable([name, code, role, hex].map((v) => (v === null ? '' : String(v))));
