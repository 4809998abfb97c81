import {
  closeSync,
  copyFileSync,
  existsSync,
  fsyncSync,
  mkdirSync,
  mkdtempSync,
  openSync,
  readdirSync,
  readSync,
  renameSync,
  rmSync,
  statSync,
} from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join, resolve } from 'node:path';
import { type Client, createClient } from '@libsql/client';
import { differing, fillSearch, insertRows, piecesOf, type Sums, sumsOf, tablesOf } from './copy.ts';
import { closeDatabase, connect, type Db, databaseUrl, isFile, readTransaction } from './db.ts';
import { appliedMigration, migrations, newestMigration } from './migrations.ts';

// A backup is one SQLite file. It is written under a temporary name, and its last row is a mark: when it was made, and what each
// table comes to. What has no mark, or does not come to what its mark says, is not restored.

const MARK_TABLE = 'backup_mark';
const MARK_VERSION = 1;

export interface Mark {
  v: number;
  /** When it was made, ms since 1970. */
  at: number;
  /** The last migration of its database. */
  migration: number;
  sums: Sums;
}

/** A file cannot be restored; the message says why and what to do. */
export class BackupError extends Error {
  override name = 'BackupError';
}

/** The folder that backups go to; null when none are to be made without being asked for. */
export function backupsFolder(env = process.env, url = databaseUrl(env)): string | null {
  return env.PAPILLON_BACKUPS === 'off' ? null : folderFor(env, url);
}

/** The folder for those that are made in any case. */
export function folderFor(env = process.env, url = databaseUrl(env)): string {
  if (env.PAPILLON_BACKUPS && env.PAPILLON_BACKUPS !== 'off') return resolve(env.PAPILLON_BACKUPS);
  const data = isFile(url) ? dirname(pathOf(url)) : resolve(env.PAPILLON_DATA || 'data');
  return join(data, 'backups');
}

const pathOf = (url: string) => resolve(url.slice('file:'.length).replace(/\?.*/, ''));

/** A date and time for a file's name. */
export const stampOf = (at: Date): string => at.toISOString().slice(0, 19).replace(/[:T]/g, '-');

// --- making one

/**
 * Writes everything in a database to a file, of one moment, and reads it again before it gets its name.
 *
 * @throws Error when it could not be written, or is not the same when it is read; then the file does not exist
 */
export async function makeBackup(db: Db, url: string, to: string): Promise<Mark> {
  mkdirSync(dirname(to), { recursive: true });
  const part = `${to}.${process.pid}.part`;
  removeFile(part);
  try {
    if (isFile(url)) await db.$client.execute({ sql: 'VACUUM INTO ?', args: [part] });
    else await pull(db, part);
    const mark = await seal(part, (await appliedMigration(db)) ?? 0);
    const again = createClient({ url: `file:${part}` });
    await check(again).finally(() => again.close());
    renameSync(part, to);
    return mark;
  } finally {
    removeFile(part);
  }
}

function removeFile(file: string): void {
  for (const end of ['', '-wal', '-shm', '-journal']) rmSync(file + end, { force: true });
}

/** Fetches all of a database on a server, of whatever version. */
async function pull(db: Db, to: string): Promise<void> {
  const { tx, close } = await readTransaction(db);
  const client = createClient({ url: `file:${to}` });
  try {
    const last = (await appliedMigration(tx)) ?? 0;
    for (const migration of migrations())
      if (migration.when <= last) for (const text of migration.statements) await client.execute(text);
    await client.execute(
      'CREATE TABLE IF NOT EXISTS "__drizzle_migrations" (id SERIAL PRIMARY KEY, hash text NOT NULL, created_at numeric)',
    );
    await client.execute('PRAGMA foreign_keys = OFF');
    const target = await client.transaction('write');
    try {
      for (const table of await tablesOf(tx.$client)) {
        for await (const rows of piecesOf(tx.$client, table)) {
          await insertRows(target, table, rows);
          if (table === 'swatches') await fillSearch(target, rows);
        }
      }
      await target.commit();
    } finally {
      target.close();
    }
  } finally {
    client.close();
    close();
  }
}

/** Marks a file as complete. */
async function seal(file: string, migration: number): Promise<Mark> {
  const client = createClient({ url: `file:${file}` });
  try {
    const mark = { v: MARK_VERSION, at: Date.now(), migration, sums: await sumsOf(client) };
    await client.execute(`CREATE TABLE ${MARK_TABLE} (value text NOT NULL)`);
    await client.execute({ sql: `INSERT INTO ${MARK_TABLE} VALUES (?)`, args: [JSON.stringify(mark)] });
    // all of it is to be in the one file
    await client.execute('PRAGMA journal_mode = DELETE');
    return mark;
  } finally {
    client.close();
    const fd = openSync(file, 'r+');
    fsyncSync(fd);
    closeSync(fd);
  }
}

// --- looking at one

const HEADER = 'SQLite format 3\0';
/** How a file says that its last changes may be in another one beside it (SQLite's file format, 1.3.3). */
const WAL = 2;
const NO_MARK =
  'It has no mark of completeness: writing it was broken off, or it is a database and no backup. ' +
  'To take over a database, make a backup of it first: DATABASE_URL=file:… npm run backup.';

function headerOf(file: string): Buffer {
  const header = Buffer.alloc(20);
  const fd = openSync(file, 'r');
  try {
    readSync(fd, header, 0, 20, 0);
  } finally {
    closeSync(fd);
  }
  return header;
}

async function readMark(client: Client): Promise<Mark | null> {
  const { rows: tables } = await client.execute(
    `SELECT name FROM sqlite_master WHERE type = 'table' AND name IN ('${MARK_TABLE}', 'libraries')`,
  );
  if (!tables.some((t) => t.name === MARK_TABLE)) {
    if (tables.length > 0) return null;
    throw new BackupError(
      'It is a database, but not one of Papillon’s. Choose a file that npm run backup has written.',
    );
  }
  const { rows } = await client.execute(`SELECT value FROM ${MARK_TABLE}`);
  try {
    const mark = JSON.parse(String(rows[0]?.value)) as Mark;
    return typeof mark.at === 'number' && typeof mark.sums === 'object' ? mark : null;
  } catch {
    return null;
  }
}

/** Looks through a backup: its mark, its pages, and whether its tables come to what the mark says. @throws BackupError */
async function check(client: Client): Promise<Mark> {
  try {
    const mark = await readMark(client);
    if (!mark) throw new BackupError(NO_MARK);
    if (mark.v > MARK_VERSION || mark.migration > newestMigration())
      throw new BackupError('It was written by a newer Papillon. Update this one, then restore it.');
    const [pages] = (await client.execute('PRAGMA integrity_check')).rows;
    if (pages?.integrity_check !== 'ok')
      throw new BackupError(
        `It is damaged (${String(pages?.integrity_check).slice(0, 200)}). Choose another backup.`,
      );
    const others = differing(mark.sums, await sumsOf(client));
    if (others.length > 0)
      throw new BackupError(
        `It is not what was written: ${others.join(', ')} ${others.length === 1 ? 'is' : 'are'} different. Choose another backup.`,
      );
    return mark;
  } catch (error) {
    const { code, message } = error as { code?: string; message: string };
    if (code && /^SQLITE_(CORRUPT|NOTADB|IOERR|ERROR)/.test(code))
      throw new BackupError(`It is damaged (${message}). Choose another backup.`);
    throw error;
  }
}

/**
 * A copy of a backup that is proved to be sound, to work on; the backup itself is only read.
 *
 * @throws BackupError that says what is wrong with it
 */
export async function copyChecked(file: string): Promise<{ url: string; remove(): void }> {
  if (statSync(file).size === 0)
    throw new BackupError('It is empty. Choose a file that npm run backup has written.');
  const header = headerOf(file);
  if (header.toString('latin1', 0, 16) !== HEADER)
    throw new BackupError('It is not an SQLite database. Choose a file that npm run backup has written.');
  if (header[18] === WAL) throw new BackupError(NO_MARK);
  const folder = folderBeside(file);
  const remove = () => rmSync(folder, { recursive: true, force: true });
  try {
    const copy = join(folder, 'copy.db');
    copyFileSync(file, copy);
    const client = createClient({ url: `file:${copy}` });
    try {
      await check(client);
      await client.execute(`DROP TABLE ${MARK_TABLE}`);
    } finally {
      client.close();
    }
    return { url: `file:${copy}`, remove };
  } catch (error) {
    remove();
    throw error;
  }
}

const WORK = '.papillon-restore-';

/** A folder beside a file where that may be written, since it may be large; else where the system wants such things. */
function folderBeside(file: string): string {
  try {
    return mkdtempSync(join(dirname(file), WORK));
  } catch {
    return mkdtempSync(join(tmpdir(), WORK));
  }
}

// --- those that are kept

/** A name that nothing has yet. */
export function freeName(file: string): string {
  if (!existsSync(file)) return file;
  for (let n = 2; ; n++) {
    const other = file.replace(/\.db$/, `-${n}.db`);
    if (!existsSync(other)) return other;
  }
}

export interface ListedBackup {
  name: string;
  /** When it was made, ms since 1970. */
  at: number;
  bytes: number;
  libraries: number;
  swatches: number;
}

/** The backups in a folder, the latest first; what has no mark is none. */
export async function listBackups(folder = folderFor()): Promise<ListedBackup[]> {
  if (!existsSync(folder)) return [];
  const list: ListedBackup[] = [];
  for (const name of readdirSync(folder)) {
    const file = join(folder, name);
    // what something else is still writing to is not opened
    if (!name.endsWith('.db') || ['-wal', '-journal'].some((end) => existsSync(file + end))) continue;
    const { size } = statSync(file);
    const header = size > 0 ? headerOf(file) : null;
    if (header?.toString('latin1', 0, 16) !== HEADER || header[18] === WAL) continue;
    const client = createClient({ url: `file:${file}` });
    try {
      const mark = await readMark(client);
      if (!mark) continue;
      const rows = (table: string) => mark.sums[table]?.rows ?? 0;
      list.push({ name, at: mark.at, bytes: size, libraries: rows('libraries'), swatches: rows('swatches') });
    } catch {
      // not one of ours, or damaged: it is not offered
    } finally {
      client.close();
    }
  }
  return list.sort((a, b) => b.at - a.at);
}

const DAILY = /^daily-(\d{4}-\d\d-\d\d)\.db$/;
const DAYS_KEPT = 7;
const WEEKS_KEPT = 4;
const WEEK_MS = 7 * 86_400_000;

export const dayOf = (at: Date): string =>
  `${at.getFullYear()}-${String(at.getMonth() + 1).padStart(2, '0')}-${String(at.getDate()).padStart(2, '0')}`;

/** Which of the daily backups are not to be kept: all but the last seven, and one of each of the four weeks before. */
export function outdated(names: readonly string[]): string[] {
  const daily = names.filter((name) => DAILY.test(name)).sort();
  const older = daily.slice(0, Math.max(0, daily.length - DAYS_KEPT)).reverse();
  // weeks are counted from a Monday
  const weekOf = (name: string) => Math.floor((Date.parse(DAILY.exec(name)![1]!) - 4 * 86_400_000) / WEEK_MS);
  const weeks = [...new Set(older.map(weekOf))].slice(0, WEEKS_KEPT);
  const weekly = new Set(weeks.map((week) => older.find((name) => weekOf(name) === week)!));
  return older.filter((name) => !weekly.has(name));
}

/** Makes the backup of a day where there is none yet, and removes those that are too old. Null when there is one. */
export async function backUpDaily(now = new Date(), url = databaseUrl()): Promise<string | null> {
  const folder = backupsFolder(process.env, url);
  if (!folder) return null;
  const file = join(folder, `daily-${dayOf(now)}.db`);
  if (existsSync(file) || (isFile(url) && !existsSync(pathOf(url)))) return null;
  const db = await connect(url);
  try {
    // nobody has used it yet
    if ((await appliedMigration(db)) === null) return null;
    await makeBackup(db, url, file);
  } finally {
    closeDatabase(db);
  }
  const names = readdirSync(folder);
  for (const name of [...outdated(names), ...names.filter((n) => isAbandoned(join(folder, n)))])
    rmSync(join(folder, name), { recursive: true, force: true });
  return file;
}

/** Something that was broken off long ago. */
const isAbandoned = (path: string): boolean =>
  (path.includes(`/${WORK}`) || path.endsWith('.part')) && Date.now() - statSync(path).mtimeMs > 86_400_000;

/** Keeps what there is before it is brought up to date. @throws Error when it cannot be kept */
export async function backUpBeforeMigration(db: Db, url: string): Promise<void> {
  const folder = backupsFolder(process.env, url);
  if (!folder) return;
  try {
    await makeBackup(db, url, freeName(join(folder, `before-migration-${stampOf(new Date())}.db`)));
  } catch (error) {
    throw new Error(
      `The data were not brought up to date, since no backup of them could be made first: ${(error as Error).message}`,
      { cause: error },
    );
  }
}
