import { and, eq, inArray, sql } from 'drizzle-orm';
import { CHOICE, itemData, type Op, type Sent, TALK_KINDS } from '../core/swatch/index.ts';
import { RefusedError } from './changes.ts';
import type { Db } from './db.ts';
import type { Person, Visitor } from './people.ts';
import { inJson } from './rows.ts';
import { items, libraries } from './schema.ts';

// What whoever came by a link to edit sends, brought to what they may send.

const says = (op: Op) => op.op === 'put' && op.of === 'item' && TALK_KINDS.includes(String(op.fields.kind));

/** What may be changed of a choice once it is asked: whether it is closed. Who asked, what and when stays. */
function closing({ fields }: Op & { op: 'set' }, asked: object): Record<string, unknown> {
  const { data, ...others } = fields;
  if (Object.keys(others).length > 0) throw new RefusedError('A choice stays as it was asked. Ask another.');
  return { data: { ...asked, closed: (data as { closed?: unknown } | undefined)?.closed === true } };
}

/**
 * Changes under the name of the one who sends them, and their comments, too. What is written by others stays as they wrote it.
 *
 * @throws RefusedError where a comment or a question of somebody is to say something else
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
  const talk = set.length === 0 ? [] : await talkAmong(db, libraryId, [...new Set(set.map((o) => o.id))]);
  if (talk.some(({ kind }) => kind !== CHOICE) || set.some((o) => o.fields.kind !== undefined))
    throw new RefusedError('A comment stays as it was written. Write another.');
  const choices = new Map(talk.map(({ id, data }) => [id, itemData.read(data).data ?? {}]));
  const signedOp = (o: Op): Op => {
    if (says(o) && o.op === 'put')
      return { ...o, fields: { ...o.fields, data: { ...(o.fields.data as object), by, author } } };
    const asked = o.op === 'set' && o.of === 'item' ? choices.get(o.id) : undefined;
    return asked && o.op === 'set' ? { ...o, fields: closing(o, asked) } : o;
  };
  return {
    ...sent,
    by,
    changes: sent.changes.map((change) => ({ ...change, by, ops: change.ops.map(signedOp) })),
  };
}

const talkAmong = (db: Db, libraryId: string, ids: string[]) =>
  db
    .select({ id: items.id, kind: items.kind, data: items.data })
    .from(items)
    .innerJoin(libraries, eq(libraries.num, items.library))
    .where(and(eq(libraries.id, libraryId), inJson(items.id, ids), inArray(items.kind, [...TALK_KINDS])));

/** Whether the library of a visitor's link holds an artwork of these bytes: others are not theirs to see. */
export async function holdsArtwork(db: Db, { link: { library } }: Visitor, hash: string): Promise<boolean> {
  const [found] = await db
    .select({ id: items.id })
    .from(items)
    .where(and(eq(items.library, library.num), sql`${items.data} ->> '$.data.asset' = ${hash}`))
    .limit(1);
  return found !== undefined;
}
