import { and, eq, isNotNull, lt, sql } from 'drizzle-orm';
import { BIN_DAYS } from '../core/sizes.ts';
import { dropUnused } from './assets.ts';
import { type Db, type WriteTx, write } from './db.ts';
import { notTray } from './libraries.ts';
import { inJson } from './rows.ts';
import { libraries } from './schema.ts';

// Where libraries stand: on shelves, in the archive, in the bin. A shelf is a name that libraries carry; it is there as long as one does.

const DAY_MS = 86_400_000;
/** So many shelves one library is on at most. */
const MAX_SHELVES = 50;

/** Neither the tray nor books: those are taken away in their own ways. */
const ofThem = (ids: readonly string[]) => and(inJson(libraries.id, ids), notTray, eq(libraries.book, false));

/** Puts libraries on shelves, and takes them off others. */
export const shelve = (
  db: Db,
  ids: readonly string[],
  on: readonly string[],
  off: readonly string[],
): Promise<void> =>
  write(db, async (tx) => {
    for (const { num, shelves } of await tx
      .select({ num: libraries.num, shelves: libraries.shelves })
      .from(libraries)
      .where(ofThem(ids))) {
      const others = shelves.filter((s) => !on.includes(s) && !off.includes(s));
      await setShelves(tx, num, [...others, ...new Set(on)].slice(-MAX_SHELVES));
    }
  });

/** Gives a shelf another name, or takes all off it. Where there is one of that name already, they become one. */
export const renameShelf = (db: Db, shelf: string, name: string | null): Promise<void> =>
  write(db, async (tx) => {
    for (const { num, shelves } of await tx
      .select({ num: libraries.num, shelves: libraries.shelves })
      .from(libraries)
      .where(sql`EXISTS (SELECT 1 FROM json_each(${libraries.shelves}) WHERE value = ${shelf})`))
      await setShelves(tx, num, [...new Set(shelves.flatMap((s) => (s === shelf ? (name ?? []) : s)))]);
  });

const setShelves = (tx: WriteTx, num: number, shelves: string[]) =>
  tx.update(libraries).set({ shelves }).where(eq(libraries.num, num));

/** Puts libraries away, or back among the others. */
export const archive = (db: Db, ids: readonly string[], on: boolean): Promise<void> =>
  write(db, async (tx) => {
    await tx
      .update(libraries)
      .set({ archivedAt: on ? new Date() : null })
      .where(ofThem(ids));
  });

/** Takes libraries out of the lists, into the bin; {@link restoreLibraries} brings them back as they were. */
export const deleteLibraries = (db: Db, ids: readonly string[]): Promise<void> => mark(db, ids, new Date());

export const restoreLibraries = (db: Db, ids: readonly string[]): Promise<void> => mark(db, ids, null);

const mark = (db: Db, ids: readonly string[], deletedAt: Date | null) =>
  write(db, async (tx) => {
    await tx.update(libraries).set({ deletedAt }).where(ofThem(ids));
  });

/** Removes libraries of the bin for good, with their history. What is not in the bin stays. */
export const removeForGood = (db: Db, ids: readonly string[]): Promise<number> =>
  write(db, async (tx) => removed(tx, await inBin(tx, inJson(libraries.id, ids))));

/** Removes what has been in the bin for longer than it keeps anything. */
export const clearBin = (db: Db, now = new Date()): Promise<number> =>
  write(db, async (tx) =>
    removed(tx, await inBin(tx, lt(libraries.deletedAt, new Date(now.getTime() - BIN_DAYS * DAY_MS)))),
  );

const inBin = async (tx: WriteTx, which: ReturnType<typeof lt>) =>
  (
    await tx
      .select({ num: libraries.num })
      .from(libraries)
      .where(and(which, isNotNull(libraries.deletedAt), notTray, eq(libraries.book, false)))
  ).map(({ num }) => num);

/** What belongs to a library by its number. */
const OWN = [
  'swatches',
  'groups',
  'items',
  'changes',
  'kits',
  'pictures',
  'links',
  'visits',
  'present',
] as const;

async function removed(tx: WriteTx, nums: readonly number[]): Promise<number> {
  for (const num of nums) {
    await tx.run(
      sql`DELETE FROM swatch_search WHERE rowid IN (SELECT n FROM swatches WHERE library = ${num})`,
    );
    for (const table of OWN) await tx.run(sql`DELETE FROM ${sql.identifier(table)} WHERE library = ${num}`);
    await tx.run(sql`DELETE FROM libraries WHERE num = ${num}`);
  }
  if (nums.length > 0) await dropUnused(tx);
  return nums.length;
}
