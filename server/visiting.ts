import { and, eq, inArray, sql } from 'drizzle-orm';
import { COMMENT, type Op, PICK, type Sent, TALK_KINDS } from '../core/swatch/index.ts';
import { RefusedError } from './changes.ts';
import type { Db } from './db.ts';
import type { Person, Visitor } from './people.ts';
import { inJson } from './rows.ts';
import { items, libraries } from './schema.ts';

// What whoever came by a link to edit sends, brought to what they may send.

const says = (op: Op) => op.op === 'put' && op.of === 'item' && TALK_KINDS.includes(String(op.fields.kind));

/**
 * Changes under the name of the one who sends them, and their comments, too. What is written by others stays as they wrote it.
 *
 * @throws RefusedError where a comment of somebody is to say something else
 */
export async function signed(
  db: Db,
  libraryId: string,
  sent: Sent,
  { id: by, name: author }: Person,
): Promise<Sent> {
  const set = sent.changes.flatMap(({ ops }) =>
    ops.flatMap((o) => (o.op === 'set' && o.of === 'item' ? [o] : [])),
  );
  const comments =
    set.length === 0 ? [] : await commentsAmong(db, libraryId, [...new Set(set.map((o) => o.id))]);
  if (comments.length > 0 || set.some((o) => o.fields.kind !== undefined))
    throw new RefusedError('A comment stays as it was written. Write another.');
  return {
    ...sent,
    by,
    changes: sent.changes.map((change) => ({
      ...change,
      by,
      ops: change.ops.map((o) =>
        says(o) && o.op === 'put'
          ? { ...o, fields: { ...o.fields, data: { ...(o.fields.data as object), by, author } } }
          : o,
      ),
    })),
  };
}

const commentsAmong = (db: Db, libraryId: string, ids: string[]) =>
  db
    .select({ id: items.id })
    .from(items)
    .innerJoin(libraries, eq(libraries.num, items.library))
    .where(and(eq(libraries.id, libraryId), inJson(items.id, ids), inArray(items.kind, [COMMENT, PICK])));

/** Whether the library of a visitor's link holds an artwork of these bytes: others are not theirs to see. */
export async function holdsArtwork(db: Db, { link: { library } }: Visitor, hash: string): Promise<boolean> {
  const [found] = await db
    .select({ id: items.id })
    .from(items)
    .where(and(eq(items.library, library.num), sql`${items.data} ->> '$.data.asset' = ${hash}`))
    .limit(1);
  return found !== undefined;
}
