import { mkdirSync } from 'node:fs';
import { dirname, resolve } from 'node:path';
import { createClient } from '@libsql/client';
import { drizzle, type LibSQLDatabase } from 'drizzle-orm/libsql';
import { migrate } from 'drizzle-orm/libsql/migrator';
import * as schema from './schema.ts';

export type Db = LibSQLDatabase<typeof schema>;

/** Where the data are: `DATABASE_URL`, or a file in `PAPILLON_DATA` (by default `data/`). */
export function databaseUrl(env = process.env): string {
  return env.DATABASE_URL || `file:${resolve(env.PAPILLON_DATA || 'data', 'papillon.db')}`;
}

/** Opens the database, making its folder when it is a local file, and brings it up to date. */
export async function openDatabase(url = databaseUrl()): Promise<Db> {
  if (url.startsWith('file:')) mkdirSync(dirname(url.slice('file:'.length)), { recursive: true });
  const client = createClient({ url, authToken: process.env.DATABASE_AUTH_TOKEN });
  // a second reader must not have to wait for a writer
  if (url.startsWith('file:')) await client.execute('PRAGMA journal_mode = WAL');
  const db = drizzle(client, { schema });
  await migrate(db, { migrationsFolder: process.env.PAPILLON_MIGRATIONS || resolve('server/migrations') });
  return db;
}

let opened: Promise<Db> | null = null;

/** The one database of the running server. */
export function database(): Promise<Db> {
  opened ??= openDatabase();
  return opened;
}
