import type { RequestHandler } from 'express';
import onHeaders from 'on-headers';
import { Turns } from '../turns.ts';

/** Streams of events stay open, and take no time. */
const IS_STREAM = /\/events$/;

/**
 * So many of these requests are worked on at once, until their answer begins; the others wait in the order they came. What many who
 * have a link ask for at the same moment keeps the owner waiting no longer than a few of them.
 */
export function fewAtOnce(most: number): RequestHandler {
  const turns = new Turns(most);
  return async (request, response, next) => {
    if (IS_STREAM.test(request.path)) return next();
    const end = await turns.take();
    // whoever has gone meanwhile is not waited for
    if (response.destroyed || request.destroyed) return end();
    response.once('close', end);
    onHeaders(response, () => end());
    next();
  };
}
