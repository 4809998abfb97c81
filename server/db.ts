import { mkdirSync } from 'node:fs';
import { dirname, resolve } from 'node:path';
import { type Client, createClient, type InValue, type ResultSet, type Transaction } from '@libsql/client';
import { type SQL, sql } from 'drizzle-orm';
import { drizzle, type LibSQLDatabase } from 'drizzle-orm/libsql';
import { SQLiteSyncDialect } from 'drizzle-orm/sqlite-core';
import { log } from './log.ts';
import * as schema from './schema.ts';

export type Db = LibSQLDatabase<typeof schema> & { $client: Client };
/** A transaction, or the database itself. */
export type Tx = Pick<Db, 'select' | 'insert' | 'update' | 'delete' | 'run' | 'all' | 'get' | 'batch'> & {
  $client: {
    batch(statements: Statement[]): Promise<ResultSet[]>;
    execute(statement: Statement | string): Promise<ResultSet>;
  };
};
/** The one row of an answer that always has one. */
export const only = <T>(rows: T[]): T => rows[0]!;

/** A transaction that writes. */
export type WriteTx = Tx;

/** One statement as it is sent. */
export interface Statement {
  sql: string;
  args: InValue[];
}

const dialect = new SQLiteSyncDialect();

/** A statement out of a template, or out of a query that has been built. */
export function statement(query: SQL | { toSQL(): { sql: string; params: unknown[] } }): Statement {
  const { sql, params } = 'toSQL' in query ? query.toSQL() : dialect.sqlToQuery(query);
  return { sql, args: params as InValue[] };
}

/** What the answers to several queries are. */
export type Answers<Q extends readonly PromiseLike<unknown>[]> = {
  -readonly [K in keyof Q]: Awaited<Q[K]>;
};

/** Asks several queries with one request, of one moment. */
export async function ask<const Q extends readonly PromiseLike<unknown>[]>(
  tx: Tx,
  queries: Q,
): Promise<Answers<Q>> {
  return (await tx.batch(queries as never)) as Answers<Q>;
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
  else if (process.env.DATABASE_REPLICA) await followDatabase(db, url, resolve(process.env.DATABASE_REPLICA));
  return db;
}

/** A copy of a server's database in a local file, which follows it; whole libraries are read from it. */
interface Replica {
  db: Db;
  client: Client;
}
const replicas = new WeakMap<Db, Replica>();

async function followDatabase(db: Db, url: string, file: string): Promise<void> {
  try {
    mkdirSync(dirname(file), { recursive: true });
    const authToken = process.env.DATABASE_AUTH_TOKEN;
    const client = createClient({ url: `file:${file}`, syncUrl: url, ...(authToken ? { authToken } : {}) });
    await client.sync();
    replicas.set(db, { db: drizzle(client, { schema }), client });
  } catch (error) {
    // everything is read from the server itself then
    log.warn({ error }, 'The replica cannot be used');
  }
}

/** The replica, with all that its server has by now; null where there is none. */
export async function freshReplica(db: Db): Promise<Db | null> {
  const replica = replicas.get(db);
  await replica?.client.sync();
  return replica?.db ?? null;
}

const clientOf = (url: string): Client =>
  createClient({
    url,
    ...(process.env.DATABASE_AUTH_TOKEN ? { authToken: process.env.DATABASE_AUTH_TOKEN } : {}),
    ...(isFile(url) ? { timeout: BUSY_MS } : {}),
  });

/** Lets go of a database. */
export function closeDatabase(db: Db): void {
  replicas.get(db)?.client.close();
  writers.get(db)?.client?.close();
  db.$client.close();
}

/** Resolves when everything that is to be written has been. */
export const settled = async (db: Db): Promise<void> => {
  await Promise.all([writers.get(db)?.last, ...(turns.get(db)?.values() ?? [])]);
};

/** A transaction that only reads: everything in it is of one moment. */
export async function readTransaction(db: Db): Promise<{ tx: Tx; close(): void }> {
  const transaction = await db.$client.transaction('read');
  return { tx: within(transaction), close: () => transaction.close() };
}

/** Drizzle works through whatever has `execute`, which a transaction has. */
const within = (transaction: Transaction): Tx => drizzle(transaction as unknown as Client) as unknown as Tx;

/** Runs statements within a transaction, some at a time: a request must not become too large. */
export async function run(tx: Tx, statements: readonly Statement[]): Promise<void> {
  for (const piece of pieces(statements)) await tx.$client.batch(piece);
}

/** The same of a transaction that writes, as {@link writeAll} does by itself. */
export async function writeWithin(tx: Tx, statements: readonly Statement[]): Promise<ResultSet[]> {
  let last: ResultSet[] = [];
  for (const piece of pieces(statements)) last = await tx.$client.batch(piece);
  return last;
}

/** Larger requests are sent in parts, characters and bytes. */
const MAX_REQUEST_SIZE = 4_000_000;

function* pieces(statements: readonly Statement[]): Generator<Statement[]> {
  let piece: Statement[] = [];
  let size = 0;
  for (const one of statements) {
    const more = sizeOf(one);
    if (piece.length > 0 && size + more > MAX_REQUEST_SIZE) {
      yield piece;
      [piece, size] = [[], 0];
    }
    piece.push(one);
    size += more;
  }
  if (piece.length > 0) yield piece;
}

const sizeOf = ({ sql, args }: Statement) =>
  args.reduce<number>(
    (sum, a) => sum + (typeof a === 'string' ? a.length : a instanceof Uint8Array ? a.length : 8),
    sql.length,
  );

/** Whether a row that a statement writes is one that the database takes: a server bounds the row as it does each value. */
export const fits = (db: Db, { args }: Statement): boolean =>
  isFile(writers.get(db)!.url) ||
  args.reduce<number>((sum, a) => sum + (typeof a === 'string' ? Buffer.byteLength(a) : bytesIn(a)), 0) <=
    schema.MAX_VALUE_BYTES;

const bytesIn = (value: InValue) => (value instanceof Uint8Array ? value.length : 8);

/** Whether a server has refused to give an answer that is too large. */
export function isTooLarge(error: unknown): boolean {
  for (let e = error as { code?: unknown; cause?: unknown } | undefined; e; e = e.cause as typeof e)
    if (e.code === 'RESPONSE_TOO_LARGE') return true;
  return false;
}

/**
 * Writes statements, all of them or none, with one request where they are not too large for it. Returns their results; of what
 * is sent in parts, only those of the last part.
 *
 * @throws GuardError when a {@link guard} among them does not hold
 */
export function writeAll(db: Db, statements: readonly Statement[]): Promise<ResultSet[]> {
  const parts = [...pieces(statements)];
  const [first] = parts;
  const run = async (): Promise<ResultSet[]> => {
    const writer = writers.get(db)!;
    try {
      if (parts.length === 1) return await batch(db, writer, first!);
      return await transact(db, writer, (tx) => writeWithin(tx, statements));
    } catch (error) {
      throw isGuard(error) ? new GuardError() : error;
    }
  };
  // a local file is written to by one after the other; a server sees to that itself
  return isFile(writers.get(db)!.url) ? inTurn(db, run) : run();
}

async function batch(db: Db, writer: Writer, statements: Statement[]): Promise<ResultSet[]> {
  try {
    if (isFile(writer.url)) writer.client ??= clientOf(writer.url);
    return await (writer.client ?? db.$client).batch(statements, 'write');
  } catch (error) {
    if (isOfDatabase(error)) dropWriter(writer);
    throw error;
  }
}

/** A connection on which a statement has failed is not let go of at once, and no transaction can end on it until it is. */
function dropWriter(writer: Writer): void {
  writer.client?.close();
  writer.client = null;
}

/** What was read is not so any more when it came to writing. */
export class GuardError extends Error {
  override name = 'GuardError';
  /** Passes by itself, like a database that is taken. */
  readonly code = 'SQLITE_BUSY';
}

/** Fails, and with it everything that is written together with it, unless a condition holds then. */
export const guard = (condition: SQL): Statement =>
  statement(sql`INSERT INTO about (key, value) SELECT ${GUARD}, NULL WHERE NOT (${condition})`);
const GUARD = 'guard';

function isGuard(error: unknown): boolean {
  for (let e = error as { message?: unknown; cause?: unknown } | undefined; e; e = e.cause as typeof e)
    if (/NOT NULL constraint failed: about\.value/.test(String(e.message))) return true;
  return false;
}

/** How often a write is decided again because what it was based on had changed. */
const MAX_GUARDED_TRIES = 40;

/**
 * Reads, decides and writes under a {@link guard}, and does so again where that does not hold, or where the outcome is unknown.
 *
 * @param most tries, before the last {@link GuardError} is thrown
 */
export async function guarded<T>(attempt: () => Promise<T>, most = MAX_GUARDED_TRIES): Promise<T> {
  for (let left = most; ; left--) {
    try {
      return await tried(attempt, (error) => !(error instanceof GuardError));
    } catch (error) {
      if (left <= 1 || !(error instanceof GuardError)) throw error;
      // others are at it, too: not all of them at the same moment
      await new Promise((done) => setTimeout(done, Math.random() * 4 * (most - left + 1)));
    }
  }
}

/** What waits for each other, by what it is about. */
const turns = new WeakMap<Db, Map<string, Promise<unknown>>>();

/** Runs one after the other what is about the same thing. */
export function oneByOne<T>(db: Db, about: string, run: () => Promise<T>): Promise<T> {
  const waiting = turns.get(db) ?? new Map<string, Promise<unknown>>();
  turns.set(db, waiting);
  const next = (waiting.get(about) ?? Promise.resolve()).then(run);
  const settled = next
    .catch(() => undefined)
    .then(() => {
      if (waiting.get(about) === settled) waiting.delete(about);
    });
  waiting.set(about, settled);
  return next;
}

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
  return inTurn(db, () => tried(() => transact(db, writers.get(db)!, run)));
}

function inTurn<T>(db: Db, run: () => Promise<T>): Promise<T> {
  const writer = writers.get(db)!;
  const next = writer.last.then(run);
  writer.last = next.catch(() => undefined);
  return next;
}

async function transact<T>(db: Db, writer: Writer, run: (tx: WriteTx) => Promise<T>): Promise<T> {
  let transaction: Transaction | null = null;
  try {
    if (isFile(writer.url)) writer.client ??= clientOf(writer.url);
    transaction = await (writer.client ?? db.$client).transaction('write');
    const result = await run(within(transaction));
    await transaction.commit();
    return result;
  } catch (error) {
    // rolls back what was done; before the connection goes, which would hold the database on
    transaction?.close();
    if (!transaction || isOfDatabase(error)) dropWriter(writer);
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
export async function tried<T>(
  run: () => Promise<T>,
  again: (error: unknown) => boolean = () => true,
): Promise<T> {
  for (let left = TRIES; ; left--) {
    try {
      return await run();
    } catch (error) {
      if (left <= 1 || !isPassing(error) || !again(error)) throw error;
      await new Promise((done) => setTimeout(done, PAUSE_MS * 3 ** (TRIES - left)));
    }
  }
}

/** Whether an error says that the database was taken or not to be reached, or is just being made, and not that something is wrong. */
export function isPassing(error: unknown): boolean {
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
