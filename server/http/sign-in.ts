import { createHash, createHmac, randomBytes, scrypt, timingSafeEqual } from 'node:crypto';
import { promisify } from 'node:util';
import express, { Router } from 'express';
import type { Visitor } from '../people.ts';
import { Turns } from '../turns.ts';
import { Attempts } from './attempts.ts';
import { cookieOf } from './cookies.ts';
import { refuse } from './guards.ts';
import { newNonce, POLICY } from './headers.ts';
import { editorsOf, passOf, type waysToEdit } from './visitors.ts';

const COOKIE = 'papillon-session';
const KNOWN_COOKIE = 'papillon-known';
/** A year. */
const KNOWN_S = 31_536_000;
const HOUR = 3_600_000;
/** A session ends when nothing was asked for so long, and in any case after a week. */
const IDLE_MS = 12 * HOUR;
const MAX_SESSION_MS = 7 * 24 * HOUR;
const MAX_SESSIONS = 1000;
/** 16 MB and some 50 ms a try. */
const COST = { N: 16384, r: 8, p: 1, maxmem: 64 * 1024 * 1024 };
const MAX_PASSWORD_CHARACTERS = 1000;

const hashed = promisify<string, Buffer, number, object, Buffer>(scrypt);
const idOf = (token: string) => createHash('sha256').update(token).digest('base64');

interface Session {
  begun: number;
  last: number;
}

/** Who has signed in. Only hashes of the tokens are held, in memory: they end with the server. */
export class Sessions {
  private readonly sessions = new Map<string, Session>();

  constructor(private readonly now: () => number = Date.now) {}

  begin(): string {
    const token = randomBytes(32).toString('base64url');
    const [oldest] = this.sessions.keys();
    if (this.sessions.size >= MAX_SESSIONS && oldest) this.sessions.delete(oldest);
    this.sessions.set(idOf(token), { begun: this.now(), last: this.now() });
    return token;
  }

  goesOn(token: string | undefined): boolean {
    if (!token) return false;
    const id = idOf(token);
    const session = this.sessions.get(id);
    if (!session) return false;
    const now = this.now();
    if (now - session.last > IDLE_MS || now - session.begun > MAX_SESSION_MS) {
      this.sessions.delete(id);
      return false;
    }
    session.last = now;
    return true;
  }

  end(token: string | undefined): void {
    if (token) this.sessions.delete(idOf(token));
  }
}

/**
 * Asks for the password before anything else, and remembers who gave it.
 *
 * @param ways what those reach who came by a link to edit
 */
export function signIn(password: string, ways: ReturnType<typeof waysToEdit>): Router {
  const salt = randomBytes(16);
  const right = hashed(password, salt, 64, COST);
  const sessions = new Sessions();
  // each try takes its memory
  const turns = new Turns(2);
  const router = Router();
  const attempts = new Attempts();
  const known = knownBrowsers(password);

  const cookie = (secure: boolean, value: string, age: number) =>
    `${COOKIE}=${value}; Path=/; HttpOnly; SameSite=Strict; Max-Age=${age}${secure ? '; Secure' : ''}`;

  router.post(
    '/sign-in',
    express.urlencoded({ extended: false, limit: '8kb' }),
    async (request, response) => {
      const to = ownPath(request.body?.to);
      const given = String(request.body?.password ?? '').slice(0, MAX_PASSWORD_CHARACTERS);
      const address = request.ip ?? '';
      const browser = await known.read(cookieOf(request.headers.cookie, KNOWN_COOKIE));
      const end = await turns.take();
      try {
        // looked at when it is its turn: many at once are as many tries
        const wait = Math.ceil(attempts.waitFor(address, browser) / 1000);
        if (wait > 0) {
          response.setHeader('Retry-After', String(wait));
          const seconds = wait === 1 ? '1 second' : `${wait} seconds`;
          return signInPage(response, 429, to, `Too many wrong passwords. Wait ${seconds} and try again.`);
        }
        const hash = await hashed(given, salt, 64, COST);
        if (!timingSafeEqual(hash, await right)) {
          attempts.failed(address, browser);
          return signInPage(response, 401, to, 'That is not the password.');
        }
      } finally {
        end();
      }
      attempts.succeeded(address, browser);
      sessions.end(cookieOf(request.headers.cookie, COOKIE));
      const name = browser ?? randomBytes(16).toString('base64url');
      response.setHeader('Set-Cookie', [
        cookie(request.secure, sessions.begin(), IDLE_MS / 1000),
        `${KNOWN_COOKIE}=${await known.write(name)}; Path=/sign-in; HttpOnly; SameSite=Strict; Max-Age=${KNOWN_S}${request.secure ? '; Secure' : ''}`,
      ]);
      response.redirect(303, to);
    },
  );
  router.post('/sign-out', (request, response) => {
    sessions.end(cookieOf(request.headers.cookie, COOKIE));
    response.setHeader('Set-Cookie', cookie(request.secure, '', 0));
    response.setHeader('Clear-Site-Data', '"cache"');
    response.status(204).end();
  });
  router.use(async (request, response, next) => {
    // whoever has a link needs no password for what it shows
    if (isOfLink(request.originalUrl)) return next();
    const token = cookieOf(request.headers.cookie, COOKIE);
    if (sessions.goesOn(token)) {
      response.setHeader('Set-Cookie', cookie(request.secure, token!, IDLE_MS / 1000));
      // what only those who signed in may see is not left in a cache
      response.setHeader('Cache-Control', 'no-store');
      response.locals.signedIn = true;
      return next();
    }
    const isPage = request.method === 'GET' && request.accepts(['json', 'html']) === 'html';
    let editors: Visitor[];
    try {
      editors = await editorsOf(request);
    } catch (error) {
      return next(error);
    }
    if (editors.length > 0) {
      response.setHeader('Cache-Control', 'no-store');
      // what leads out of the path that was looked at is not let through
      const { method, originalUrl } = request;
      const path = plainPath(originalUrl);
      const visitor = path === null ? null : passOf(ways, editors, { method, path });
      if (visitor) {
        response.locals.visitor = visitor;
        return next();
      }
      if (isPage && path === '/')
        return response.redirect(303, `/libraries/${editors[0]!.link.library.id}/arrange`);
      if (!isPage)
        return refuse(response, 403, 'The link you came by opens one library, and this is not part of it.');
    }
    if (isPage) return signInPage(response, 401, request.originalUrl);
    refuse(response, 401, 'You are signed out. Open Papillon in a new tab and sign in there.');
  });
  return router;
}

/**
 * Knows again browsers that were signed in before, by a cookie that only who has the password can write. It lets nobody in: it
 * tells them from those who guess.
 */
function knownBrowsers(password: string) {
  const key = hashed(password, Buffer.from('papillon known browsers'), 32, COST);
  const signed = async (name: string) =>
    createHmac('sha256', await key)
      .update(name)
      .digest('base64url');
  return {
    write: async (name: string) => `${name}.${await signed(name)}`,
    read: async (cookie: string | undefined): Promise<string | null> => {
      const [name = '', given = ''] = cookie?.split('.') ?? [];
      const right = Buffer.from(await signed(name));
      const said = Buffer.from(given);
      return name && said.length === right.length && timingSafeEqual(said, right) ? name : null;
    },
  };
}

/** The path of an address where it is as plain as those that are made here; null where anything in it has to be decoded or resolved. */
function plainPath(address: string): string | null {
  const path = address.split(/[?#]/)[0]!;
  return /^(?:\/[\w.-]*)+$/.test(path) && !/(?:^|\/)\.{1,2}(?:\/|$)|\/\//.test(path) ? path : null;
}

/** Whether an address is below a link, as the routes will read it: what leads out of it again is not. */
export function isOfLink(address: string): boolean {
  try {
    return /^\/s\/[\w-]+(?:\/[\w/.-]*)?$/.test(new URL(address, 'http://own.invalid').pathname);
  } catch {
    return false;
  }
}

/** A path on this server; anything else leads to the start. */
export function ownPath(to: unknown): string {
  if (typeof to !== 'string' || to.length > 2000) return '/';
  try {
    const base = 'http://own.invalid';
    const url = new URL(to, base);
    const path = url.pathname + url.search;
    // two slashes at the beginning, also of what “/./” leaves, name another host
    return url.origin === base && to.startsWith('/') && !/^\/[/\\]/.test(to) && !/^\/[/\\]/.test(path)
      ? path
      : '/';
  } catch {
    return '/';
  }
}

const escaped = (text: string) => text.replace(/[&<>"']/g, (c) => `&#${c.charCodeAt(0)};`);

function signInPage(response: express.Response, status: number, to: string, said = ''): void {
  const nonce = newNonce();
  response.setHeader('Content-Security-Policy', POLICY.page(nonce));
  response.setHeader('Cache-Control', 'no-store');
  response
    .status(status)
    .type('html')
    .send(`<!doctype html>
<html lang="en-GB">
<head>
<meta charset="utf-8">
<meta name="viewport" content="width=device-width, initial-scale=1">
<title>Sign in · Papillon</title>
<style nonce="${nonce}">
:root { color-scheme: light dark; --paper: #cbcbcb; --panel: #e4e4e4; --ink: #161616; --line: #6e6e6e }
@media (prefers-color-scheme: dark) { :root { --paper: #262626; --panel: #343434; --ink: #f4f4f4; --line: #9a9a9a } }
body { margin: 0; min-height: 100vh; display: grid; place-items: center; background: var(--paper); color: var(--ink); font: 14px/1.5 'Hanken Grotesk Variable', system-ui, sans-serif }
form { width: 300px; padding: 28px; background: var(--panel); display: grid; gap: 12px }
h1 { margin: 0 0 4px; font-size: 20px; font-weight: 600 }
label { display: grid; gap: 4px }
input, button { font: inherit; color: inherit; padding: 8px 10px; border: 1px solid var(--line); background: none; border-radius: 2px }
button { background: var(--ink); color: var(--panel); border-color: var(--ink); cursor: pointer }
p { margin: 0 }
:focus-visible { outline: 2px solid var(--ink); outline-offset: 2px }
</style>
</head>
<body>
<main>
<form method="post" action="/sign-in">
<h1>Papillon</h1>
${said ? `<p role="alert">${escaped(said)}</p>` : ''}
<input type="hidden" name="to" value="${escaped(ownPath(to))}">
<label>Password <input type="password" name="password" autocomplete="current-password" required autofocus></label>
<button>Sign in</button>
</form>
</main>
</body>
</html>
`);
}
