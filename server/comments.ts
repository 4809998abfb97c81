import { and, desc, eq, sql } from 'drizzle-orm';
import { MAX_COMMENT_CHARACTERS } from '../core/sizes.ts';
import {
  addComment,
  type Choice,
  COMMENT,
  type Comment,
  type CommentMark,
  type Draft,
  type Item,
  isBoard,
  isChoice,
  isColorway,
  isComment,
  itemData,
  pickOption,
} from '../core/swatch/index.ts';
import { applyChanges, RefusedError } from './changes.ts';
import type { Db } from './db.ts';
import type { OpenLink, PageLink } from './links.ts';
import type { Person } from './people.ts';
import { items, swatches } from './schema.ts';

// Comments of those who came by a link. Only the rows that they touch are read: a library may be large, and whoever writes fast
// keeps nobody else waiting.

/** A comment as whoever came by a link sends it. */
export interface SharedComment {
  id: string;
  /** What it is on, by its id. */
  on: string;
  text: string;
  thread: string | null;
  mark: CommentMark | null;
}

/** A library takes no more of visitors. */
const MAX_COMMENTS = 5000;

async function itemOf(db: Db, library: number, id: string): Promise<Item | null> {
  const [row] = await db
    .select({ id: items.id, kind: items.kind, name: items.name, data: items.data })
    .from(items)
    .where(and(eq(items.library, library), eq(items.id, id)));
  return row ? { ...row, ...(itemData.read(row.data) as Pick<Item, 'refs' | 'data'>) } : null;
}

const commentOf = async (db: Db, library: number, id: string): Promise<Comment | null> => {
  const item = await itemOf(db, library, id);
  return item && isComment(item) ? item : null;
};

const lastPlace = (db: Db, library: number) =>
  db
    .select({ id: items.id, order: items.orderKey })
    .from(items)
    .where(eq(items.library, library))
    .orderBy(desc(items.orderKey), desc(items.id))
    .limit(1);

/** Whether the page of a link shows a swatch, or is of this board. */
async function isShown(db: Db, { library: { num }, data }: OpenLink<PageLink>, id: string): Promise<boolean> {
  const [swatch] = await db
    .select({ group: swatches.groupId })
    .from(swatches)
    .where(and(eq(swatches.library, num), eq(swatches.id, id)));
  if (data.board === null) return swatch !== undefined;
  const board = await itemOf(db, num, data.board);
  if (!board || !isBoard(board)) return false;
  if (id === board.id) return true;
  if (!swatch) return false;
  const refs = new Set(board.data.objects.flatMap((o) => o.refs));
  if (refs.has(id) || refs.has(swatch.group)) return true;
  // what a gradient or a work on it is made of is on it, too
  for (const ref of refs) if ((await itemOf(db, num, ref))?.refs?.includes(id)) return true;
  return false;
}

/** Writes a comment of one who came by a link; what the link does not show takes none. @throws RefusedError */
export async function commentBy(
  db: Db,
  link: OpenLink<PageLink>,
  { id: by, name: author }: Person,
  { id, on, text, thread, mark }: SharedComment,
): Promise<void> {
  const { num } = link.library;
  if (!(await isShown(db, link, on)))
    throw new RefusedError('What this comment is on is not here any more. Copy its text and look again.');
  if (thread !== null && (await commentOf(db, num, thread))?.refs[0] !== on)
    throw new RefusedError('The comment that this one answers has been deleted.');
  const isMark = mark !== null && thread !== null;
  if (!isMark && (text.trim() === '' || text.length > MAX_COMMENT_CHARACTERS))
    throw new RefusedError('A comment needs some text. Write it, and send it again.');
  const ofKind = and(eq(items.library, num), eq(items.kind, COMMENT));
  const [{ count } = { count: 0 }] = await db
    .select({ count: sql<number>`count(*)` })
    .from(items)
    .where(ofKind);
  if (count >= MAX_COMMENTS)
    throw new RefusedError(
      `This library has ${MAX_COMMENTS} comments and takes no more. Somebody who edits it can delete old ones.`,
    );
  const last = await lastPlace(db, num);
  const data = { by, author, at: Date.now(), text: isMark ? '' : text, thread, ...(isMark ? { mark } : {}) };
  await changeBy(db, link, by, `${by}-${id}`, addComment({ itemPlaces: () => last }, id, on, data));
}

/** What whoever came by a link picks of a choice. */
export interface SharedPick {
  id: string;
  choice: string;
  option: string;
  text: string;
}

/** Picks for one who came by a link; what the link does not show cannot be picked. @throws RefusedError */
export async function pickBy(
  db: Db,
  link: OpenLink<PageLink>,
  { id: by, name: author }: Person,
  { id, choice: choiceId, option, text }: SharedPick,
): Promise<void> {
  const { num } = link.library;
  const choice = await itemOf(db, num, choiceId);
  if (!choice || !isChoice(choice) || !(await asksHere(db, link, choice)))
    throw new RefusedError('This choice is not asked any more.');
  if (choice.data.closed) throw new RefusedError('This choice has been closed.');
  if (!choice.refs.includes(option)) throw new RefusedError('This is none of what can be picked.');
  const data = { by, author, at: Date.now(), option, text };
  const name = (await nameOf(db, num, option)) || 'an option';
  const places = await lastPlace(db, num);
  await changeBy(
    db,
    link,
    by,
    `${by}-${id}`,
    pickOption({ itemPlaces: () => places }, id, choiceId, name, data),
  );
}

/** Whether the page of a link asks a choice: all of it lies in what the link shows. */
export async function asksHere(db: Db, link: OpenLink<PageLink>, choice: Choice): Promise<boolean> {
  if (link.data.board === null) return true;
  for (const ref of choice.refs) {
    if (await isShown(db, link, ref)) continue;
    const way = await itemOf(db, link.library.num, ref);
    const board = await itemOf(db, link.library.num, link.data.board);
    const works = board && isBoard(board) ? board.data.objects.flatMap((o) => o.refs) : [];
    if (!way || !isColorway(way) || !works.includes(way.data.artwork)) return false;
  }
  return true;
}

const nameOf = async (db: Db, library: number, id: string): Promise<string> => {
  const [swatch] = await db
    .select({ name: swatches.name })
    .from(swatches)
    .where(and(eq(swatches.library, library), eq(swatches.id, id)));
  return swatch?.name ?? (await itemOf(db, library, id))?.name ?? '';
};

/** Deletes a visitor's own comment, with its answers. @throws RefusedError */
export async function withdraw(
  db: Db,
  link: OpenLink<PageLink>,
  { id: by }: Person,
  id: string,
): Promise<void> {
  const { num } = link.library;
  const comment = await commentOf(db, num, id);
  // what is gone already is gone
  if (!comment) return;
  if (comment.data.by !== by) throw new RefusedError('This comment is somebody else’s.');
  const answers = await db
    .select({ id: items.id })
    .from(items)
    .where(
      and(eq(items.library, num), eq(items.kind, COMMENT), sql`${items.data} ->> '$.data.thread' = ${id}`),
    );
  await changeBy(db, link, by, `${by}-${id}-gone`, {
    label: 'delete a comment',
    ops: [id, ...answers.map((a) => a.id)].map((gone) => ({ op: 'drop', of: 'item', id: gone }) as const),
  });
}

async function changeBy(
  db: Db,
  { library }: OpenLink<PageLink>,
  by: string,
  id: string,
  draft: Draft,
): Promise<void> {
  const change = { id, by, ...draft };
  const { outcomes } = await applyChanges(db, library.id, { by, seen: library.seq, changes: [change] });
  const refused = outcomes.find((o) => o.seq === null);
  if (refused) throw new RefusedError(refused.said.join(' ') || 'The comment was not kept. Send it again.');
}
