import type { SharedComment, SharedPick } from '#server/comments';
import type { SharedView } from '#server/shared';
import { givesJson, givesNothing, givesRaw, json } from './endpoint';

const checks = () => import('./checks');

// What whoever has a link can ask: nothing else is answered to them.

/** What a link shows. */
export const readShared = givesJson<SharedView>()({ method: 'GET', path: '/s/:token/view', access: 'view' });

/** A file in one of the formats that a link allows. */
export const sharedFile = givesRaw()({ method: 'GET', path: '/s/:token/files/:format', access: 'view' });

/** The copy of a picture that is on the board of a link. */
export const sharedPicture = givesRaw()({
  method: 'GET',
  path: '/s/:token/pictures/:picture',
  access: 'view',
});

/** A drawing on the board of a link, in a colourway. */
export const sharedWork = givesRaw()({
  method: 'GET',
  path: '/s/:token/works/:work',
  query: ['colorway'],
  access: 'view',
});

/** Who came by a link, as their page knows them. */
export interface Me {
  name: string;
  /** The mark under which their comments stand. */
  by: string;
}

/** Says what whoever came by a link is called; from then on their browser is known by a cookie. */
export const nameVisitor = givesJson<Me>()({
  method: 'POST',
  path: '/s/:token/person',
  body: json<{ name: string }>(async () => (await checks()).checkName),
  access: 'comment',
});

/** Writes a comment, an answer or a mark; with the same id a second time it is one all the same. */
export const writeComment = givesNothing()({
  method: 'POST',
  path: '/s/:token/comments',
  body: json<SharedComment>(async () => (await checks()).checkComment),
  access: 'comment',
  again: true,
});

/** Deletes a visitor's own comment. */
export const deleteComment = givesNothing()({
  method: 'DELETE',
  path: '/s/:token/comments/:comment',
  access: 'comment',
  again: true,
});

/** Picks one of the options of a choice. */
export const pickShared = givesNothing()({
  method: 'POST',
  path: '/s/:token/picks',
  body: json<SharedPick>(async () => (await checks()).checkPick),
  access: 'comment',
  again: true,
});
