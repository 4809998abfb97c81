import { randomBytes } from 'node:crypto';
import type { RequestHandler } from 'express';
import { cookieOf } from './cookies.ts';

const COOKIE = 'papillon-share';
/** Ten years. */
const KEPT_S = 315_360_000;

/**
 * Gives every browser an address of its own that other programs share files to. The manifest tells it to the system, and nobody
 * else knows it: what another site posts there by guessing is not taken.
 */
export const shareAddress: RequestHandler = (request, response, next) => {
  const isPage = request.method === 'GET' && request.accepts(['json', 'html']) === 'html';
  if (isPage && !isAddress(cookieOf(request.headers.cookie, COOKIE)))
    // beside that of the session
    response.append(
      'Set-Cookie',
      `${COOKIE}=${randomBytes(24).toString('base64url')}; Path=/; HttpOnly; SameSite=Lax; Max-Age=${KEPT_S}${request.secure ? '; Secure' : ''}`,
    );
  next();
};

const isAddress = (text: string | undefined): text is string => /^[\w-]{32}$/.test(text ?? '');

/** The path that this browser's installation shares to; null before it has one. */
export function sharePath(request: Request): string | null {
  const own = cookieOf(request.headers.get('Cookie') ?? undefined, COOKIE);
  return isAddress(own) ? `/share/${own}` : null;
}
