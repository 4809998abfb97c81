import type { Response as ExpressResponse, RequestHandler } from 'express';
import { tell } from '../answers.ts';
import { hashOf, linksNow } from '../links.ts';
import { log } from '../log.ts';
import { database } from '../open.ts';
import { refuse } from './guards.ts';
import { NO_LINK, PRIVATE } from './link.ts';

// Pages of links hear of changes by server-sent events. The database is asked, and not this process: another server may have written.

/** How often, ms. */
const EVERY_MS = 400;
/** A proxy takes a connection on which nothing comes for dead. */
const ALIVE_MS = 15_000;
/** Of all links, and of one; pages beyond that look by themselves, from time to time. */
const MAX_WATCHERS = 500;
const MAX_OF_LINK = 100;

interface Watcher {
  hash: string;
  response: ExpressResponse;
  version: string | null;
  last: number;
}

const watchers = new Set<Watcher>();
let timer: NodeJS.Timeout | null = null;
let busy = false;

async function look(): Promise<void> {
  if (busy) return;
  busy = true;
  try {
    const now = Date.now();
    const found = await linksNow(await database(), [...new Set([...watchers].map((w) => w.hash))], now);
    for (const watcher of watchers) {
      const version = found.get(watcher.hash);
      if (version === undefined) {
        // once: what is written behind an end is an error
        watchers.delete(watcher);
        watcher.response.end('event: gone\ndata: \n\n');
        continue;
      }
      if (watcher.version !== version) {
        watcher.response.write(`event: change\ndata: ${version}\n\n`);
        Object.assign(watcher, { version, last: now });
      } else if (now - watcher.last > ALIVE_MS) {
        watcher.response.write(': still here\n\n');
        watcher.last = now;
      }
    }
  } catch (error) {
    // the next look may find it again
    log.warn({ error }, 'Links could not be looked at');
  } finally {
    busy = false;
  }
}

/** `/s/TOKEN/events`: the version of what the link shows whenever it is another, and when the link ends. */
export const linkEvents: RequestHandler = async (request, response) => {
  for (const [name, value] of Object.entries(PRIVATE)) response.setHeader(name, value);
  const { token = '' } = request.params as { token?: string };
  const hash = hashOf(token);
  const ofLink = [...watchers].filter((w) => w.hash === hash).length;
  if (watchers.size >= MAX_WATCHERS || ofLink >= MAX_OF_LINK)
    return refuse(response, 503, 'Many pages are open. Try again in a moment.');
  try {
    if (!(await linksNow(await database(), [hash])).has(hash)) return refuse(response, 404, NO_LINK);
  } catch (error) {
    const fault = tell(error);
    return refuse(response, fault.status, fault.text);
  }
  // it may have gone while the database was asked
  if (response.destroyed) return;
  response.setHeader('Content-Type', 'text/event-stream');
  // what stands between must not collect it
  response.setHeader('X-Accel-Buffering', 'no');
  response.flushHeaders();
  response.write('retry: 2000\n\n');
  const watcher: Watcher = { hash, response, version: null, last: Date.now() };
  watchers.add(watcher);
  timer ??= setInterval(() => void look(), EVERY_MS);
  timer.unref();
  response.on('close', () => {
    watchers.delete(watcher);
    if (watchers.size > 0 || !timer) return;
    clearInterval(timer);
    timer = null;
  });
};

/** Ends the connections, so that a server that is to end can. */
export function endLinkEvents(): void {
  for (const { response } of watchers) response.end();
}
