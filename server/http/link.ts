import type { RequestHandler } from 'express';
import { allows, type Level } from '../../core/level.ts';
import { countUse, type OpenLink, openLink, type PageLink } from '../links.ts';
import { database } from '../open.ts';
import { type Person, visitorOf } from '../people.ts';
import { cookieOf } from './cookies.ts';

/** The answer for a link that opens nothing: the same for all reasons, so that guessing learns nothing. */
export const NO_LINK =
  'This link does not open anything: it may have expired, or been renewed or revoked. Ask for a new one.';

/** The link of a page, counted as used; answers with 404 where it opens nothing, and 403 where it allows less. @throws Response */
export async function linkOf(token: string, level: Level = 'view'): Promise<OpenLink<PageLink>> {
  const db = await database();
  const link = await openLink(db, token, 'page');
  if (!link) throw new Response(NO_LINK, { status: 404, headers: PRIVATE });
  if (!allows(link.data.access, level))
    throw new Response('This link is to look at, and takes no comments.', { status: 403, headers: PRIVATE });
  await countUse(db, link.id);
  return link;
}

/** The cookie that holds the card of somebody who came by a link; see {@link joinLink}. */
export const CARD = 'papillon-card-';
const KEPT_S = 31_536_000;

/** The cookie by which a browser is known again as somebody who came by a link. */
export const cardCookie = (link: string, card: string, isSecure: boolean): string =>
  `${CARD}${link}=${card}; Path=/; HttpOnly; SameSite=Lax; Max-Age=${KEPT_S}${isSecure ? '; Secure' : ''}`;

/** Who asks, as one who came by this link; null before they have said their name. */
export async function guestOf(request: Request, link: OpenLink<PageLink>): Promise<Person | null> {
  const card = cookieOf(request.headers.get('Cookie') ?? undefined, CARD + link.id);
  const visitor = card ? await visitorOf(await database(), card) : null;
  return visitor?.link.id === link.id ? { id: visitor.id, name: visitor.name } : null;
}

/** The same, of whom a name is needed. @throws Response */
export async function personOf(request: Request, link: OpenLink<PageLink>): Promise<Person> {
  const person = await guestOf(request, link);
  if (!person)
    throw new Response('Say your name first, and send it again.', { status: 401, headers: PRIVATE });
  return person;
}

/** Of an answer that only those get who have a link: nothing keeps it. */
export const PRIVATE = { 'Cache-Control': 'no-store', 'Content-Type': 'text/plain; charset=utf-8' };

/** Of all that a link gives: no search engine lists it, and no other site learns its address. */
export const unlisted: RequestHandler = (_request, response, next) => {
  response.setHeader('X-Robots-Tag', 'noindex, nofollow');
  response.setHeader('Referrer-Policy', 'no-referrer');
  next();
};
