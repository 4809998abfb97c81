import { createHash } from 'node:crypto';
import type { InValue } from '@libsql/client';
import { sql } from 'drizzle-orm';
import { nanoid } from 'nanoid';
import { type Db, readTransaction, run, type Tx, type WriteTx, write } from './db.ts';
import { FINDABLE, many, searchable } from './rows.ts';

// Everything in a database, for a copy of it in another: for safety, or to move from a file to a server and back.

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
];
/** Rows at a time; files are large. */
const PIECE = 400;
const PIECE_OF_FILES = 1;

/** How many rows each table has, and what they come to, whatever their order. */
export type Sums = Record<string, { rows: number; sum: string }>;

type Row = Record<string, InValue>;

async function* piecesOf(tx: Tx, table: string): AsyncGenerator<Row[]> {
  const most = table.startsWith('asset') ? PIECE_OF_FILES : PIECE;
  for (let after = -1; ; ) {
    const rows = await tx.all<Row & { row_number: number }>(
      sql`SELECT rowid AS row_number, * FROM ${sql.identifier(table)} WHERE rowid > ${after} ORDER BY rowid LIMIT ${most}`,
    );
    if (rows.length > 0) yield rows.map(({ row_number: _, ...row }) => row);
    if (rows.length < most) return;
    after = rows[rows.length - 1]!.row_number;
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
export async function sumsOf(db: Db): Promise<Sums> {
  const { tx, close } = await readTransaction(db);
  try {
    const sums: Sums = {};
    for (const table of TABLES) {
      const sum = new Sum();
      for await (const rows of piecesOf(tx, table)) for (const row of rows) sum.add(row);
      sums[table] = sum.value;
    }
    return sums;
  } finally {
    close();
  }
}

/**
 * Puts everything of one moment of a database in place of all that another holds, in one transaction; both may be in use.
 * The copy is read again and held against what was written.
 *
 * @throws Error when it is not the same; then the database that was to be written has not been changed
 */
export async function copyDatabase(from: Db, to: Db): Promise<Sums> {
  const sums: Sums = {};
  await write(to, async (tx) => {
    const source = await readTransaction(from);
    try {
      for (const table of [...TABLES].reverse()) await tx.run(sql`DELETE FROM ${sql.identifier(table)}`);
      await tx.run(sql`DELETE FROM swatch_search WHERE rowid IN (SELECT rowid FROM swatch_search)`);
      for (const table of TABLES) {
        const sum = new Sum();
        for await (const rows of piecesOf(source.tx, table)) {
          for (const row of rows) sum.add(row);
          await insert(tx, table, rows);
          if (table === 'swatches')
            await run(
              tx,
              many(
                FINDABLE,
                rows.map((row) => [BigInt(row.n as number), textOf(row)]),
              ),
            );
        }
        sums[table] = sum.value;
      }
      // pages that know what was there before have to read anew
      await tx.run(sql`UPDATE about SET value = ${nanoid()} WHERE key = 'epoch'`);
    } finally {
      source.close();
    }
  });
  const copied = await sumsOf(to);
  for (const table of TABLES)
    if (copied[table]!.sum !== sums[table]!.sum || copied[table]!.rows !== sums[table]!.rows)
      throw new Error(
        `The copy of ${table} is not what was written: ${copied[table]!.rows} of ${sums[table]!.rows} rows.`,
      );
  return sums;
}

async function insert(tx: WriteTx, table: string, rows: Row[]): Promise<void> {
  const columns = Object.keys(rows[0]!);
  const bound = (v: InValue) => (v instanceof ArrayBuffer ? new Uint8Array(v) : v);
  await run(
    tx,
    many(
      `INSERT INTO ${table} (${columns.map((c) => `"${c}"`).join()})`,
      rows.map((row) => columns.map((c) => bound(row[c]!))),
    ),
  );
}

const textOf = ({ name, code, role, hex }: Row) =>
  searchable([name, code, role, hex].map((v) => (v === null ? '' : String(v))));
