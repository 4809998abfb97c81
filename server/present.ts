import { and, eq, gt, inArray, lt, sql } from 'drizzle-orm';
import { ask, type Db, write } from './db.ts';
import { libraries, people, present } from './schema.ts';

// Who looks at a library now, on whichever server. A page is there as long as its server says so, every few seconds.

/** A page is gone when nothing was heard of it for so long, ms. */
const GONE_MS = 45_000;
/** More selected things are not kept. */
export const MAX_SELECTED = 200;

/** Somebody at a library, as others see them. */
export interface Present {
  person: string;
  name: string;
  /** The ids of what is selected. */
  selection: string[];
}

/** A page comes. What it is called is what its person has said; owners who have not are “Owner”. */
export const arrive = (
  db: Db,
  { page, library, person }: { page: string; library: number; person: string },
): Promise<void> =>
  write(db, async (tx) => {
    const [known] = await tx.select({ name: people.name }).from(people).where(eq(people.id, person));
    const values = { library, person, name: known?.name ?? 'Owner', at: new Date() };
    await tx.delete(present).where(lt(present.at, new Date(Date.now() - GONE_MS)));
    await tx
      .insert(present)
      .values({ page, selection: '[]', ...values })
      .onConflictDoUpdate({ target: present.page, set: values });
  });

/** Says what is selected on a page. @param by whose page it has to be; anyone's for owners */
export const point = (
  db: Db,
  libraryId: string,
  page: string,
  selection: readonly string[],
  by: string | null,
): Promise<void> =>
  write(db, async (tx) => {
    await tx
      .update(present)
      .set({ selection: JSON.stringify(selection.slice(0, MAX_SELECTED)), at: new Date() })
      .where(
        and(
          eq(present.page, page),
          ...(by === null ? [] : [eq(present.person, by)]),
          sql`${present.library} = (SELECT num FROM libraries WHERE id = ${libraryId})`,
        ),
      );
  });

export const stay = (db: Db, pages: readonly string[]): Promise<void> =>
  write(db, async (tx) => {
    await tx
      .update(present)
      .set({ at: new Date() })
      .where(inArray(present.page, [...pages]));
  });

export const leave = (db: Db, page: string): Promise<void> =>
  write(db, async (tx) => {
    await tx.delete(present).where(eq(present.page, page));
  });

/** How far libraries are, and who is there, by their numbers; those that are deleted are missing. */
export async function librariesNow(
  db: Db,
  nums: readonly number[],
  now = Date.now(),
): Promise<Map<number, { seq: number; people: (Present & { page: string })[] }>> {
  if (nums.length === 0) return new Map();
  const [states, there] = await ask(db, [
    db
      .select({ num: libraries.num, seq: libraries.seq })
      .from(libraries)
      .where(and(inArray(libraries.num, [...nums]), sql`${libraries.deletedAt} IS NULL`)),
    db
      .select()
      .from(present)
      .where(and(inArray(present.library, [...nums]), gt(present.at, new Date(now - GONE_MS))))
      .orderBy(present.page),
  ]);
  return new Map(
    states.map(({ num, seq }) => [
      num,
      {
        seq,
        people: there.flatMap(({ library, page, person, name, selection }) =>
          library === num ? [{ page, person, name, selection: JSON.parse(selection) as string[] }] : [],
        ),
      },
    ]),
  );
}
