import { COMMENT, type Comment, type CommentMark, commentsOf, isComment } from './comment.ts';
import type { Item, Library } from './model.ts';

/** A comment as a file has it, which says what it is on, and which one it answers, by places from 0. Who wrote it is a name alone. */
export interface FileComment {
  /** `swatch 3`, `item 0`. */
  on: string;
  author: string;
  /** ISO 8601. */
  at: string;
  text: string;
  answers?: number;
  mark?: CommentMark;
}

/** The comments of a library for a file. @param place where something stands in it; what is not there takes its comments along */
export function commentsForFile(
  library: Pick<Library, 'items'>,
  place: (id: string) => string | undefined,
): FileComment[] {
  const there = commentsOf(library).flatMap((comment) => {
    const on = place(comment.refs[0]);
    return on === undefined ? [] : [{ comment, on }];
  });
  const places = new Map(there.map(({ comment }, at) => [comment.id, at]));
  return there.map(({ on, comment: { data } }) => {
    const answers = data.thread === null ? undefined : places.get(data.thread);
    return {
      ...{ on, author: data.author, at: new Date(data.at).toISOString(), text: data.text },
      ...(answers === undefined ? {} : { answers }),
      ...(data.mark && answers !== undefined ? { mark: data.mark } : {}),
    };
  });
}

/** The comments of a file as items; those on what it does not hold are left out. @param at the id of what stands at a place */
export function commentsFromFile(
  comments: readonly FileComment[],
  at: (on: string) => string | undefined,
  newId: () => string,
): Comment[] {
  const ids = comments.map(() => newId());
  return comments.flatMap(({ on, author, at: time, text, answers, mark }, i) => {
    const ref = at(on);
    const thread = answers === undefined ? null : (ids[answers] ?? null);
    const data = { by: '', author, at: Date.parse(time), text, thread, ...(mark ? { mark } : {}) };
    const item: Item = { id: ids[i]!, kind: COMMENT, name: '', refs: ref === undefined ? [] : [ref], data };
    return isComment(item) ? [item] : [];
  });
}
