import type { ServerResponse } from 'node:http';
import { createRequestHandler } from '@react-router/express';
import compression from 'compression';
import express, { type ErrorRequestHandler, type Express, type RequestHandler } from 'express';
import rateLimit from 'express-rate-limit';
import type { ServerBuild } from 'react-router';
import sirv from 'sirv';
import { MB, USUAL_BYTES } from '../../core/sizes.ts';
import { tell } from '../answers.ts';
import { log, pathOf } from '../log.ts';
import type { Visitor } from '../people.ts';
import { addressKey } from './attempts.ts';
import { fewAtOnce } from './few-at-once.ts';
import { fileLinks } from './file-links.ts';
import {
  type Known,
  onlyKnownTypes,
  onlyOwnName,
  onlyOwnPages,
  onlyPaths,
  onlyReadable,
  refuse,
} from './guards.ts';
import { headers, newNonce, POLICY } from './headers.ts';
import { health } from './health.ts';
import { libraryEvents } from './library-events.ts';
import { unlisted } from './link.ts';
import { linkEvents } from './link-events.ts';
import type { Settings } from './settings.ts';
import { shareAddress } from './share.ts';
import { signIn } from './sign-in.ts';
import { type Passable, waysToEdit } from './visitors.ts';

declare module 'react-router' {
  interface AppLoadContext {
    /** Of this answer; see {@link newNonce}. */
    nonce: string;
    /** Who came by a link to edit; null for owners. */
    visitor: Visitor | null;
  }
}

/** One address may ask so often in ten seconds: far above what anyone at work does, and below what keeps others waiting. */
const MAX_REQUESTS = 5000;
const WINDOW_MS = 10_000;
/** So many links that open nothing may one address try in ten minutes. */
const MAX_MISSES = 50;
const MISSES_MS = 600_000;
/** So often one address may name itself, comment and pick by links in a minute: an office writes less. */
const MAX_SAID = 300;
/** And so often look at links and fetch their files: an office of many asks at every edit. */
const MAX_LOOKED = 6000;
const MINUTE_MS = 60_000;
/** The most requests by links that are worked on at once. */
const AT_ONCE = 2;
/** A refusal of one request too many is held back this long, ms; the most that are held back at once. */
const HELD_MS = 1000;
const MAX_HELD = 1000;
/** More addresses are not told apart; the oldest goes. */
const MAX_ADDRESSES = 10_000;
/** What has its content in its name never changes. */
const YEAR_S = 365 * 24 * 3600;
/** An answer that has not begun by then is given up. */
const MAX_ANSWER_MS = 120_000;

/** The application behind its guards: nothing of it is reached before they have let a request through. */
export function makeApp(
  settings: Settings,
  build: ServerBuild,
  client: string,
  isEnding: () => boolean = () => false,
): Express {
  // what pages can ask, as the application declares it
  const { endpoints } = build.entry.module as typeof build.entry.module & {
    endpoints: readonly (Known & Passable)[];
  };
  const app = express();
  app.disable('x-powered-by');
  // whom a request is from, and that it came encrypted, is believed of those proxies alone that were named
  app.set('trust proxy', settings.proxies.length > 0 ? settings.proxies : false);
  app.use(logged, ...headers, onlyPaths(settings), onlyReadable, onlyOwnName(settings), notTooOften());
  app.use(['/f', '/s'], unlisted, notGuessed(), notTooOften(MAX_LOOKED, MINUTE_MS), fewAtOnce(AT_ONCE));
  app.post('/s/*rest', notTooOften(MAX_SAID, MINUTE_MS));
  app.use('/f', fileLinks);
  app.use(
    onlyOwnPages(settings),
    onlyKnownTypes(endpoints),
    notTooLarge(Math.max(USUAL_BYTES, ...endpoints.map((e) => e.body?.maxBytes ?? 0))),
    toTheEnd,
    inTime(),
  );
  app.get('/health', health(isEnding));
  // a stream of events is not collected to be packed
  app.get('/s/:token/events', linkEvents);
  app.use(compression());
  const setHeaders = (response: ServerResponse) =>
    void response.setHeader('Content-Security-Policy', POLICY.assets);
  const plain = { index: false, redirect: false, setHeaders } as const;
  const forever = { immutable: true, maxAge: YEAR_S } as const;
  const packed = sirv(`${client}/assets`, { ...forever, brotli: true, etag: true, setHeaders });
  const unpacked = express.static(`${client}/assets`, { ...plain, ...forever, maxAge: '1y' });
  // what the build has packed is for those who take it
  app.use('/assets', (request, response, next) =>
    (request.acceptsEncodings('br') ? packed : unpacked)(request, response, next),
  );
  app.use(express.static(client, { ...plain, maxAge: '1h' }));
  if (settings.password) app.use(signIn(settings.password, waysToEdit(endpoints)));
  app.get('/libraries/:id/events', libraryEvents);
  app.use(shareAddress);
  app.use(
    createRequestHandler({
      build,
      getLoadContext: (_request, { locals }) => ({ nonce: newNonce(), visitor: locals.visitor ?? null }),
    }),
  );
  app.use(inWords);
  return app;
}

/** A line for each request that fails, and at the level “debug” for all others. */
const logged: RequestHandler = (request, response, next) => {
  const start = performance.now();
  const { method, originalUrl } = request;
  response.on('finish', () => {
    const { statusCode: status } = response;
    const ms = Math.round(performance.now() - start);
    log[status >= 500 ? 'warn' : 'debug']({ method, path: pathOf(originalUrl), status, ms }, 'Answered');
  });
  next();
};

let held = 0;
/** Refuses after a pause: whoever asks again at each answer would keep others waiting with that alone. */
function refuseSlowly(response: ServerResponse, text: string): void {
  if (held >= MAX_HELD) {
    refuse(response, 429, text);
    return;
  }
  held++;
  const timer = setTimeout(() => refuse(response, 429, text), HELD_MS);
  response.once('close', () => {
    held--;
    clearTimeout(timer);
  });
}

export const notTooOften = (limit = MAX_REQUESTS, windowMs = WINDOW_MS): RequestHandler =>
  rateLimit({
    windowMs,
    limit,
    standardHeaders: false,
    legacyHeaders: false,
    handler(_request, response) {
      response.setHeader('Retry-After', String(Math.ceil(windowMs / 1000)));
      refuseSlowly(response, 'That is more than Papillon can answer. Wait a moment and try again.');
    },
  });

/**
 * Whoever tries links that open nothing is soon asked to wait. Only answers count: the streams of events of an office behind one
 * address are open all day.
 */
export function notGuessed(limit = MAX_MISSES, windowMs = MISSES_MS): RequestHandler {
  const misses = new Map<string, { count: number; until: number }>();
  const ofNow = (key: string) => {
    const known = misses.get(key);
    return known && known.until > Date.now() ? known : null;
  };
  return (request, response, next) => {
    const key = addressKey(request.ip ?? '');
    const known = ofNow(key);
    if (known && known.count >= limit) {
      response.setHeader('Retry-After', String(Math.ceil((known.until - Date.now()) / 1000)));
      return refuseSlowly(
        response,
        'These were many links that open nothing. Wait some minutes and try again.',
      );
    }
    response.on('finish', () => {
      if (response.statusCode !== 404) return;
      const { count, until } = ofNow(key) ?? { count: 0, until: Date.now() + windowMs };
      const [oldest] = misses.keys();
      if (misses.size >= MAX_ADDRESSES && oldest !== undefined) misses.delete(oldest);
      misses.set(key, { count: count + 1, until });
    });
    next();
  };
}

/** Nothing that is sent here is larger; each route has its own limit below that. */
const notTooLarge =
  (maxBytes: number): RequestHandler =>
  (request, response, next) => {
    if (Number(request.headers['content-length'] ?? 0) <= maxBytes) return next();
    refuse(response, 413, `No more than ${maxBytes / MB} MB can be sent at once. Send it in parts.`);
  };

/**
 * What of a body nobody wanted is read to its end all the same, and let go: whoever sends it hears the answer only then, and the
 * next request on the connection comes behind it.
 */
const toTheEnd: RequestHandler = (request, response, next) => {
  response.on('finish', () => {
    if (request.complete) return;
    request.removeAllListeners('data');
    request.resume();
  });
  next();
};

export const inTime =
  (most = MAX_ANSWER_MS): RequestHandler =>
  (_request, response, next) => {
    const timer = setTimeout(() => {
      if (!response.headersSent) refuse(response, 503, 'This took too long and was given up. Try again.');
    }, most);
    response.on('close', () => clearTimeout(timer));
    next();
  };

/** What went wrong before or beside the routes. */
export const inWords: ErrorRequestHandler = (error, _request, response, next) => {
  if (response.headersSent) return next(error);
  const status = Number((error as { status?: unknown })?.status);
  if (status >= 400 && status < 500) {
    const said = {
      400: 'The address or what was sent with it cannot be read.',
      413: 'That is too much to be sent here.',
    };
    return refuse(response, status, said[status as keyof typeof said] ?? 'That cannot be answered.');
  }
  const fault = tell(error);
  refuse(response, fault.status, fault.text);
};
