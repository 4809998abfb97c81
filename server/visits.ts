import { and, eq, gt, lt, ne, sql } from 'drizzle-orm';
import { findLibrary } from './changes.ts';
import { type Db, write } from './db.ts';
import { firstNumber } from './rows.ts';
import { changes, people, visits } from './schema.ts';

/** What others have done since somebody last left a library. */
export interface Visit {
  /** The number of the last change they had seen. */
  seq: number;
  /** ms since 1970. */
  at: number;
  /** How many changes others have made since, comments among them. */
  changes: number;
  /** Who made them, as far as they have names. */
  names: string[];
}

/** Somebody's last visit; null when this is the first. @throws RefusedError when the library is not there */
export async function visitOf(db: Db, libraryId: string, person: string): Promise<Visit | null> {
  const { num } = await findLibrary(db, libraryId);
  const [visit] = await db
    .select({ seq: visits.seq, at: visits.at })
    .from(visits)
    .where(and(eq(visits.library, num), eq(visits.person, person)));
  if (!visit) return null;
  const since = await db
    .select({ name: people.name, n: sql<number>`count(*)` })
    .from(changes)
    .leftJoin(people, eq(people.id, changes.author))
    .where(
      and(
        gt(changes.n, firstNumber(num) + visit.seq),
        lt(changes.n, firstNumber(num + 1)),
        ne(changes.author, person),
      ),
    )
    .groupBy(changes.author);
  return {
    seq: visit.seq,
    at: visit.at.getTime(),
    changes: since.reduce((n, s) => n + s.n, 0),
    names: since.flatMap((s) => s.name ?? []),
  };
}

/** Remembers what somebody has seen; of two pages of theirs the one that has seen more counts. @throws RefusedError */
export const keepVisit = (db: Db, libraryId: string, person: string, seq: number): Promise<void> =>
  write(db, async (tx) => {
    const { num, seq: last } = await findLibrary(tx, libraryId);
    // nobody has seen what is not there yet
    const values = { seq: Math.min(seq, last), at: new Date() };
    await tx
      .insert(visits)
      .values({ library: num, person, ...values })
      .onConflictDoUpdate({
        target: [visits.library, visits.person],
        set: { seq: sql`max(${visits.seq}, excluded.seq)`, at: values.at },
      });
  });
