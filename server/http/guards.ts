import type { IncomingMessage, ServerResponse } from 'node:http';
import { nameOf, type Settings } from './settings.ts';

export type Next = (error?: unknown) => void;
export type Guard = (request: IncomingMessage, response: ServerResponse, next: Next) => void;

/** Answers in words, which the page shows. */
export function refuse(response: ServerResponse, status: number, why: string): void {
  response.statusCode = status;
  response.setHeader('Content-Type', 'text/plain; charset=utf-8');
  response.setHeader('Cache-Control', 'no-store');
  response.end(why);
}

const one = (value: string | string[] | undefined) => (Array.isArray(value) ? value[0] : value);
const READS = new Set(['GET', 'HEAD', 'OPTIONS']);
const WRITES = new Set(['POST', 'PUT', 'PATCH', 'DELETE']);

/**
 * Lets nobody in by a name that is not the server's: a page elsewhere that gives its own name this machine's address would
 * else be of the same origin.
 */
export const onlyOwnName =
  ({ hosts }: Pick<Settings, 'hosts'>): Guard =>
  (request, response, next) => {
    const host = request.headers.host;
    if (!host) return refuse(response, 400, 'The request does not say which host it is for.');
    if (hosts.has(nameOf(host))) return next();
    refuse(
      response,
      421,
      `Papillon is not called “${nameOf(host).slice(0, 100)}” here. If it is to be, start it with that name in PAPILLON_HOSTS.`,
    );
  };

/**
 * Takes a request that names its host in its first line for one of that host (RFC 9112, 3.2.2), and refuses what is neither a
 * path nor such an address.
 */
export const onlyPaths =
  ({ hosts }: Pick<Settings, 'hosts'>): Guard =>
  (request, response, next) => {
    const { url = '/', headers } = request;
    for (const host of url.startsWith('/') ? [headers.host] : [headers.host, url])
      if (host !== undefined && !isHost(host))
        return refuse(response, 400, 'The request names no host that there can be. Check name and port.');
    if (url.startsWith('/')) return next();
    const named = /^https?:/i.test(url) ? new URL(url) : null;
    if (!named) return refuse(response, 400, 'What is asked for is neither a path nor an address.');
    if (!hosts.has(nameOf(named.host)))
      return refuse(response, 421, `Papillon is not called “${nameOf(named.host).slice(0, 100)}” here.`);
    request.url = named.pathname + named.search;
    // what comes after goes by what was asked for at first
    Object.assign(request, { originalUrl: request.url });
    headers.host = named.host;
    next();
  };

/** Whether there can be such a host, with its port. */
function isHost(host: string): boolean {
  try {
    return new URL(/^https?:/i.test(host) ? host : `http://${host}`).host !== '';
  } catch {
    return false;
  }
}

/** Longer than any address that is made here. */
const MAX_ADDRESS_CHARACTERS = 8000;

/** Lets nothing through whose address cannot be read. */
export const onlyReadable: Guard = (request, response, next) => {
  const { url = '/' } = request;
  if (url.length > MAX_ADDRESS_CHARACTERS)
    return refuse(
      response,
      414,
      `The address has ${url.length} characters; up to ${MAX_ADDRESS_CHARACTERS} are read.`,
    );
  try {
    // a name with a NUL in it means something else to each who reads it
    if (!decodeURIComponent(url.split('?')[0]!).includes('\0')) return next();
  } catch {
    // a percent sign without two digits
  }
  refuse(response, 400, 'The address cannot be read: something after a percent sign is wrong in it.');
};

/**
 * Lets pages of other origins neither write nor read. What comes from no browser names no origin and is let through: it has no one's cookies.
 * (The same rule as the Fetch Metadata draft of the W3C recommends: `Sec-Fetch-Site` decides, `Origin` where it is missing.)
 */
export const onlyOwnPages =
  ({ pages }: Pick<Settings, 'pages'>): Guard =>
  (request, response, next) => {
    const { method = 'GET', headers } = request;
    if (!READS.has(method) && !WRITES.has(method)) {
      response.setHeader('Allow', [...READS, ...WRITES].join(', '));
      return refuse(response, 405, `Nothing here answers to ${method}.`);
    }
    const site = one(headers['sec-fetch-site']);
    if (READS.has(method)) {
      // a link from elsewhere may lead here; nothing else of other sites may fetch anything
      const strange = site === 'cross-site' || site === 'same-site';
      if (strange && one(headers['sec-fetch-mode']) !== 'navigate')
        return refuse(response, 403, 'Other sites may not read what is in Papillon.');
      if (strange && one(headers['sec-fetch-dest']) !== 'document')
        return refuse(response, 403, 'Papillon is not shown inside other pages.');
      return next();
    }
    const origin = one(headers.origin);
    if (site !== undefined && site !== 'same-origin')
      return refuse(response, 403, 'Other sites may not change anything in Papillon.');
    // a browser that vouches for the site may keep the origin to itself
    const kept = origin === 'null' && site === 'same-origin';
    if (origin !== undefined && !kept && !ownOrigin(origin, headers.host ?? '', pages))
      return refuse(response, 403, 'Other sites may not change anything in Papillon.');
    next();
  };

function ownOrigin(origin: string, host: string, pages: ReadonlySet<string>): boolean {
  let at: string;
  try {
    at = new URL(origin).host;
  } catch {
    return false;
  }
  return at === host.toLowerCase() || pages.has(at) || pages.has(nameOf(at));
}

const JSON_ALONE: readonly string[] = ['application/json'];
const TYPE_NAMES: Record<string, string> = { 'application/json': 'JSON (Content-Type: application/json)' };

/** What the guards have to know of an endpoint. */
export interface Known {
  method: string;
  /** As the router has it: `/libraries/:id/kits`. */
  path: string;
  body: { types: readonly string[]; maxBytes: number } | null;
}

/** What addresses a path of the router stands for. */
export const patternOf = (path: string) =>
  new RegExp(`^${path.replace(/[.*+?^${}()|[\]\\]/g, '\\$&').replace(/:\w+/g, '[^/]+')}$`);

/** How a body must be described, since a form of another site can send all others without being asked. */
export const onlyKnownTypes = (endpoints: readonly Known[]): Guard => {
  const known = [
    { method: 'POST', path: '/sign-in', body: { types: ['application/x-www-form-urlencoded'] } },
    ...endpoints,
  ].map(({ method, path, body }) => ({ method, pattern: patternOf(path), types: body?.types ?? JSON_ALONE }));
  return (request, response, next) => {
    const { method = 'GET', headers, url = '/' } = request;
    const empty = headers['transfer-encoding'] === undefined && (headers['content-length'] ?? '0') === '0';
    if (!WRITES.has(method) || (empty && method === 'DELETE')) return next();
    const type = (headers['content-type'] ?? '').split(';')[0]!.trim().toLowerCase();
    const path = url.split('?')[0]!;
    // what is sent to pages is JSON, too
    const types = known.find((k) => k.method === method && k.pattern.test(path))?.types ?? JSON_ALONE;
    if (types.includes(type)) return next();
    refuse(
      response,
      415,
      `What is sent here must be ${types.map((t) => TYPE_NAMES[t] ?? t).join(' or ')}${type ? `, not ${type.slice(0, 80)}` : ''}.`,
    );
  };
};
