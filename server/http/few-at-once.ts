import type { RequestHandler } from 'express';
import onHeaders from 'on-headers';
import { Turns } from '../turns.ts';

/** Streams of events stay open, and take no time. */
const IS_STREAM = /\/events$/;
const IS_READ = /^(?:GET|HEAD)$/;

/**
 * Works on a few of these requests at once, until their answers begin; the others wait in the order they came. What many people with
 * links ask for at the same moment then keeps the owner waiting no longer than a few of them.
 *
 * @param most at once
 */
export function fewAtOnce(most: number): RequestHandler {
  const turns = new Turns(most);
  return async (request, response, next) => {
    // a body may take as long as whoever sends it likes
    if (!IS_READ.test(request.method) || IS_STREAM.test(request.path)) return next();
    const end = await turns.take();
    // whoever has gone meanwhile is not waited for
    if (response.destroyed || request.destroyed) return end();
    response.once('close', end);
    onHeaders(response, () => end());
    next();
  };
}
