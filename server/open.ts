import { sql } from 'drizzle-orm';
import { nanoid } from 'nanoid';
import { LaterVersionError } from '../core/stored.ts';
import { DATABASE_HEADER } from '../core/swatch/index.ts';
import { backUpBeforeMigration } from './backup.ts';
import { ensureSteps } from './books.ts';
import { epochOf } from './changes.ts';
import { conditionFor, settingOf } from './conditions.ts';
import { closeDatabase, connect, type Db, databaseUrl, run, settled, tried, write } from './db.ts';
import { bringDocumentsOver } from './documents.ts';
import { appliedMigration, migrateDatabase, newestMigration } from './migrations.ts';
import { recolored } from './rows.ts';

/**
 * Opens the database and brings it up to date; another server may be doing so at the same time. What there was before a migration
 * is kept as a backup.
 */
export async function openDatabase(url = databaseUrl(), { backup = true } = {}): Promise<Db> {
  return tried(async () => {
    let db: Db | null = null;
    try {
      db = await connect(url);
      const applied = await appliedMigration(db);
      if (applied !== null && applied > newestMigration())
        throw new LaterVersionError(
          'The data were written by a newer Papillon. Update this one, or restore a backup from before.',
        );
      if (backup && applied !== null && applied < newestMigration()) await backUpBeforeMigration(db, url);
      await migrateDatabase(db);
      await bringDocumentsOver(db);
      await db.run(sql`INSERT OR IGNORE INTO about (key, value) VALUES ('epoch', ${nanoid()})`);
      await bringLooksUpToDate(db);
      await ensureSteps(db);
      return db;
    } catch (error) {
      if (db) closeDatabase(db);
      throw error;
    }
  });
}

/** Of the way in which colours are found by how they look: 2, inks through profiles. */
const LOOKS = '2';

/** Colours of inks that an earlier Papillon wrote are found by what a plain formula made of them. */
async function bringLooksUpToDate(db: Db): Promise<void> {
  await write(db, async (tx) => {
    const [known] = await tx.all<{ value: string }>(sql`SELECT value FROM about WHERE key = 'looks'`);
    if (known?.value === LOOKS) return;
    for (const { num } of await tx.all<{ num: number }>(sql`SELECT num FROM libraries`)) {
      await run(tx, await recolored(tx, num, await conditionFor(tx, await settingOf(tx, num))));
      await tx.run(sql`UPDATE libraries SET band = NULL WHERE num = ${num}`);
    }
    await tx.run(sql`INSERT OR REPLACE INTO about (key, value) VALUES ('looks', ${LOOKS})`);
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

/** Waits for what is being written, and lets go of the database: the server ends. */
export async function closeDown(): Promise<void> {
  const db = await opened?.catch(() => null);
  if (!db) return;
  await settled(db);
  closeDatabase(db);
}

/** Says which database an answer comes from that refuses something. */
export const databaseHeaders = async (): Promise<Record<string, string>> => ({
  [DATABASE_HEADER]: await epochOf(await database()),
});
