import type { Link, LinkData } from '#server/links';
import { anything, givesJson, givesNothing, givesText, json } from './endpoint';

const checkLink = async () => (await import('./checks')).checkLink;

/** The links that were given to a library, without their addresses. */
export const listLinks = givesJson<Link[]>()({ method: 'GET', path: '/libraries/:id/links' });

/** Makes a link. Its address comes back once. */
export const makeLink = givesJson<{ link: Link; token: string }>(201)({
  method: 'POST',
  path: '/libraries/:id/links',
  body: json<LinkData>(checkLink),
});

/** Changes what a link shows and allows. */
export const changeLink = givesJson<Link>()({
  method: 'PUT',
  path: '/libraries/:id/links/:link',
  body: json<LinkData>(checkLink),
  again: true,
});

/** Gives a link another address, which comes back; the old one ends. */
export const renewLink = givesText()({
  method: 'POST',
  path: '/libraries/:id/links/:link',
  body: anything,
});

export const revokeLink = givesNothing()({
  method: 'DELETE',
  path: '/libraries/:id/links/:link',
  again: true,
});
