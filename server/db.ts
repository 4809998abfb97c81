import { mkdirSync } from 'node:fs';
import { dirname, resolve } from 'node:path';
import { type Client, createClient, type InValue, type Transaction } from '@libsql/client';
import { drizzle, type LibSQLDatabase } from 'drizzle-orm/libsql';
import * as schema from './schema.ts';

export type Db = LibSQLDatabase<typeof schema> & { $client: Client };
/** A transaction, or the database itself. */
export type Tx = Pick<Db, 'select' | 'insert' | 'update' | 'delete' | 'run' | 'all' | 'get'>;
/** The one row of an answer that always has one. */
export const only = <T>(rows: T[]): T => rows[0]!;

/** A transaction that writes. */
export interface WriteTx extends Tx {
  /** Runs one statement for very many rows, which would only be slowed down by being described first. */
  execute(statement: { sql: string; args: InValue[] }): Promise<unknown>;
}

/** How long a write waits for another program that holds the database, ms: nothing else goes on meanwhile, so not for long. */
const BUSY_MS = 250;
/** A write whose outcome is unknown, or that found the database taken, is tried so often. */
const TRIES = 6;
/** The first pause; each is three times as long as the one before. A server keeps what was cut off locked for some seconds. */
const PAUSE_MS = 60;

/** Where the data are: `DATABASE_URL`, or a file in `PAPILLON_DATA` (by default `data/`). */
export function databaseUrl(env = process.env): string {
  return env.DATABASE_URL || `file:${resolve(env.PAPILLON_DATA || 'data', 'papillon.db')}`;
}

export const isFile = (url: string) => url.startsWith('file:');

/** Opens the database as it is, making its folder when it is a local file. */
export async function connect(url = databaseUrl()): Promise<Db> {
  if (isFile(url)) mkdirSync(dirname(url.slice('file:'.length)), { recursive: true });
  const client = clientOf(url);
  const db = drizzle(client, { schema });
  writers.set(db, { url, client: null, last: Promise.resolve() });
  // a second reader must not have to wait for a writer
  if (isFile(url)) await client.execute('PRAGMA journal_mode = WAL');
  return db;
}

const clientOf = (url: string): Client =>
  createClient({
    url,
    ...(process.env.DATABASE_AUTH_TOKEN ? { authToken: process.env.DATABASE_AUTH_TOKEN } : {}),
    ...(isFile(url) ? { timeout: BUSY_MS } : {}),
  });

/** Lets go of a database. */
export function closeDatabase(db: Db): void {
  writers.get(db)?.client?.close();
  db.$client.close();
}

/** A transaction that only reads: everything in it is of one moment. */
export async function readTransaction(db: Db): Promise<{ tx: Tx; close(): void }> {
  const transaction = await db.$client.transaction('read');
  return { tx: within(transaction), close: () => transaction.close() };
}

/** Drizzle works through whatever has `execute`, which a transaction has. */
const within = (transaction: Transaction): Tx => drizzle(transaction as unknown as Client) as unknown as Tx;

/** How each database is written to. */
interface Writer {
  url: string;
  /** A connection for writing alone, of a local file; a server has no connections of its own to speak of. */
  client: Client | null;
  /** The last write: the next one waits for it. */
  last: Promise<unknown>;
}
const writers = new WeakMap<Db, Writer>();

/**
 * Runs a transaction that writes; one after the other, since a second one would only be refused. When the connection is lost
 * its outcome is unknown, so it is run again: what it does must be the same the second time.
 */
export function write<T>(db: Db, run: (tx: WriteTx) => Promise<T>): Promise<T> {
  const writer = writers.get(db)!;
  const next = writer.last.then(() => tried(() => transact(db, writer, run)));
  writer.last = next.catch(() => undefined);
  return next;
}

async function transact<T>(db: Db, writer: Writer, run: (tx: WriteTx) => Promise<T>): Promise<T> {
  let transaction: Transaction | null = null;
  try {
    if (isFile(writer.url)) writer.client ??= clientOf(writer.url);
    transaction = await (writer.client ?? db.$client).transaction('write');
    const begun = transaction;
    const tx = Object.assign(within(begun), {
      execute: (statement: { sql: string; args: InValue[] }) => begun.execute(statement),
    });
    const result = await run(tx);
    await begun.commit();
    return result;
  } catch (error) {
    // rolls back what was done; before the connection goes, which would hold the database on
    transaction?.close();
    if (!transaction || isOfDatabase(error)) {
      // a statement that failed is not let go of at once, and no transaction can end on that connection until it is
      writer.client?.close();
      writer.client = null;
    }
    throw error;
  } finally {
    transaction?.close();
  }
}

/** Whether the database has refused something, and not we ourselves. */
function isOfDatabase(error: unknown): boolean {
  for (let e = error as { code?: unknown; cause?: unknown } | undefined; e; e = e.cause as typeof e)
    if (typeof e.code === 'string') return true;
  return false;
}

/** Runs something again while the database is only taken or out of reach for a moment. */
export async function tried<T>(run: () => Promise<T>): Promise<T> {
  for (let left = TRIES; ; left--) {
    try {
      return await run();
    } catch (error) {
      if (left <= 1 || !isPassing(error)) throw error;
      await new Promise((done) => setTimeout(done, PAUSE_MS * 3 ** (TRIES - left)));
    }
  }
}

/** Whether an error says that the database was taken or not to be reached, or is just being made, and not that something is wrong. */
function isPassing(error: unknown): boolean {
  for (
    let e = error as { code?: string; message?: string; cause?: unknown } | undefined;
    e;
    e = e.cause as typeof e
  )
    if (
      /^(SQLITE_BUSY|SQLITE_LOCKED|HRANA_WEBSOCKET_ERROR|SERVER_ERROR|HRANA_CLOSED_ERROR|TRANSACTION_CLOSED|ECONN.*|UND_ERR.*|EPIPE|STREAM_.*)$/.test(
        e.code ?? '',
      ) ||
      (e instanceof TypeError && /fetch failed/.test(e.message)) ||
      /^(SQLITE_ERROR: )?(table|index) \S+ already exists|duplicate column name/.test(e.message ?? '')
    )
      return true;
  return false;
}
