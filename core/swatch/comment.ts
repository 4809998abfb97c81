import { MAX_COMMENT_CHARACTERS, MAX_NAME_CHARACTERS } from '../sizes.ts';
import type { Draft, Op } from './change.ts';
import { itemOps } from './item-ops.ts';
import type { Item, Library } from './model.ts';
import type { LibraryRows } from './rows.ts';

export const COMMENT = 'comment';

/** What somebody does with a thread beside writing in it. */
export const MARKS = ['resolved', 'reopened'] as const;
export type CommentMark = (typeof MARKS)[number];

export interface CommentData {
  /** Who wrote it, as changes name their authors. */
  by: string;
  /** What they were called then. */
  author: string;
  /** ms since 1970. */
  at: number;
  /** Empty where it only marks its thread. */
  text: string;
  /** The comment that it answers; null for the first of a thread. */
  thread: string | null;
  mark?: CommentMark;
}

/** A note on a swatch, gradient, colourway, board or reading, to which it refers by id. It is written once and not edited. */
export type Comment = Item & { kind: typeof COMMENT; refs: [string]; data: CommentData };

/** A comment with its answers, the oldest first. */
export interface Thread {
  first: Comment;
  answers: Comment[];
  isResolved: boolean;
}

/** What may come from another program or version is looked into before it is shown. */
export function isComment(item: Item): item is Comment {
  if (item.kind !== COMMENT) return false;
  const { by, author, at, text, thread, mark } = (item.data ?? {}) as Partial<CommentData>;
  return (
    item.refs?.length === 1 &&
    typeof by === 'string' &&
    typeof author === 'string' &&
    author.length <= MAX_NAME_CHARACTERS &&
    Number.isFinite(at) &&
    typeof text === 'string' &&
    text.length <= MAX_COMMENT_CHARACTERS &&
    (thread === null || typeof thread === 'string') &&
    (mark === undefined || (thread !== null && MARKS.includes(mark)))
  );
}

export const commentsOf = ({ items = [] }: Pick<Library, 'items'>): Comment[] => items.filter(isComment);

/** The threads of a library by what they are on. An answer whose thread is gone begins one. */
export function threadsOf(library: Pick<Library, 'items'>): Map<string, Thread[]> {
  // those who write at once write in the order of their clocks
  const all = commentsOf(library).sort((a, b) => a.data.at - b.data.at || (a.id < b.id ? -1 : 1));
  const known = new Set(all.map((c) => c.id));
  const threads = new Map<string, Thread>();
  const answers: Comment[] = [];
  for (const c of all) {
    if (c.data.thread !== null && known.has(c.data.thread)) answers.push(c);
    else if (!c.data.mark) threads.set(c.id, { first: c, answers: [], isResolved: false });
  }
  for (const c of answers) {
    const thread = threads.get(c.data.thread!);
    thread?.answers.push(c);
    if (thread && c.data.mark) thread.isResolved = c.data.mark === 'resolved';
  }
  const found = new Map<string, Thread[]>();
  for (const thread of threads.values()) {
    const [on] = thread.first.refs;
    found.set(on, [...(found.get(on) ?? []), thread]);
  }
  return found;
}

/** How many of some threads are not resolved. */
export const countOpen = (threads: readonly Thread[] = []): number =>
  threads.filter((t) => !t.isResolved).length;

/** How many threads are not resolved, by what they are on; none where all are. */
export const openThreads = (library: Pick<Library, 'items'>): Map<string, number> =>
  new Map(
    [...threadsOf(library)].flatMap(([on, threads]) => {
      const open = countOpen(threads);
      return open > 0 ? [[on, open] as const] : [];
    }),
  );

const LABELS = { resolved: 'resolve a comment', reopened: 'reopen a comment' } as const;

/** Writes a comment, an answer or a mark. @param on what it is on, by its id */
export function addComment(
  rows: Pick<LibraryRows, 'itemPlaces'>,
  id: string,
  on: string,
  data: CommentData,
): Draft {
  const comment: Comment = { id, kind: COMMENT, name: '', refs: [on], data };
  return {
    label: data.mark ? LABELS[data.mark] : data.thread ? 'answer a comment' : 'comment',
    ops: itemOps(rows, [comment]),
  };
}

const drop = ({ id }: Comment): Op => ({ op: 'drop', of: 'item', id });

/** Deletes a comment, and with the first of a thread its answers. */
export const removeComment = (library: Pick<Library, 'items'>, id: string): Draft => ({
  label: 'delete a comment',
  ops: commentsOf(library)
    .filter((c) => c.id === id || c.data.thread === id)
    .map(drop),
});

/** A change with the end of the comments on what it deletes. */
export function withComments({ label, ops }: Draft, library: Pick<Library, 'items'>): Draft {
  const going = new Set(
    ops.flatMap((o) => (o.op === 'drop' && (o.of === 'swatch' || o.of === 'item') ? [o.id] : [])),
  );
  // what comes again under the same id was moved, and keeps them
  for (const o of ops) if (o.op === 'put') going.delete(o.id);
  const left =
    going.size === 0 ? [] : commentsOf(library).filter((c) => going.has(c.refs[0]) && !going.has(c.id));
  if (left.length === 0) return { label, ops };
  const n = left.filter((c) => !c.data.mark).length;
  return {
    label: `${label} with ${n === 1 ? 'a comment' : `${n} comments`}`,
    ops: [...ops, ...left.map(drop)],
  };
}
