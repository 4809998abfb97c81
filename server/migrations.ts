import { readFileSync } from 'node:fs';
import { join, resolve } from 'node:path';
import { sql } from 'drizzle-orm';
import { migrate } from 'drizzle-orm/libsql/migrator';
import type { Db, Tx } from './db.ts';

const folder = () => process.env.PAPILLON_MIGRATIONS || resolve('server/migrations');

export interface Migration {
  /** What it is known by in a database that it has been applied to. */
  when: number;
  statements: string[];
}

/** Every migration there is, the first one first. */
export function migrations(): Migration[] {
  const { entries } = JSON.parse(readFileSync(join(folder(), 'meta/_journal.json'), 'utf8')) as {
    entries: { when: number; tag: string }[];
  };
  return entries.map(({ when, tag }) => ({
    when,
    statements: readFileSync(join(folder(), `${tag}.sql`), 'utf8').split('--> statement-breakpoint'),
  }));
}

export const newestMigration = (): number => migrations().at(-1)!.when;

/** The last migration that a database has had; null for one without any. */
export async function appliedMigration(tx: Tx): Promise<number | null> {
  const [table] = await tx.all(sql`SELECT 1 FROM sqlite_master WHERE name = '__drizzle_migrations'`);
  if (!table) return null;
  const [row] = await tx.all<{ last: number | null }>(
    sql`SELECT max(created_at) AS last FROM __drizzle_migrations`,
  );
  return row?.last == null ? null : Number(row.last);
}

/** Brings the tables up to date. */
export const migrateDatabase = (db: Db): Promise<void> => migrate(db, { migrationsFolder: folder() });
