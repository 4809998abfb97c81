import { resolve } from 'node:path';
import { sql } from 'drizzle-orm';
import { migrate } from 'drizzle-orm/libsql/migrator';
import { nanoid } from 'nanoid';
import { closeDatabase, connect, type Db, databaseUrl, tried } from './db.ts';
import { bringDocumentsOver } from './documents.ts';

/** Opens the database and brings it up to date; another server may be doing so at the same time. */
export async function openDatabase(url = databaseUrl()): Promise<Db> {
  return tried(async () => {
    let db: Db | null = null;
    try {
      db = await connect(url);
      await migrate(db, {
        migrationsFolder: process.env.PAPILLON_MIGRATIONS || resolve('server/migrations'),
      });
      await bringDocumentsOver(db);
      await db.run(sql`INSERT OR IGNORE INTO about (key, value) VALUES ('epoch', ${nanoid()})`);
      return db;
    } catch (error) {
      if (db) closeDatabase(db);
      throw error;
    }
  });
}

let opened: Promise<Db> | null = null;

/** The one database of the running server. */
export function database(): Promise<Db> {
  opened ??= openDatabase().catch((error) => {
    // what was in the way may be gone at the next request
    opened = null;
    throw error;
  });
  return opened;
}
