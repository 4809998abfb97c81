import type { RequestHandler } from 'express';
import { countUse, type OpenLink, openLink, type PageLink } from '../links.ts';
import { database } from '../open.ts';

/** The answer for a link that opens nothing: the same for all reasons, so that guessing learns nothing. */
export const NO_LINK =
  'This link does not open anything: it may have expired, or been renewed or revoked. Ask for a new one.';

/** The link of a page, counted as used; answers with 404 where it opens nothing. @throws Response */
export async function linkOf(token: string): Promise<OpenLink<PageLink>> {
  const db = await database();
  const link = await openLink(db, token, 'page');
  if (!link) throw new Response(NO_LINK, { status: 404, headers: PRIVATE });
  await countUse(db, link.id);
  return link;
}

/** Of an answer that only those get who have a link: nothing keeps it. */
export const PRIVATE = { 'Cache-Control': 'no-store', 'Content-Type': 'text/plain; charset=utf-8' };

/** Of all that a link gives: no search engine lists it, and no other site learns its address. */
export const unlisted: RequestHandler = (_request, response, next) => {
  response.setHeader('X-Robots-Tag', 'noindex, nofollow');
  response.setHeader('Referrer-Policy', 'no-referrer');
  next();
};
