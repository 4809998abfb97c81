import type { RequestHandler } from 'express';
import { tell } from '../answers.ts';
import { hashOf, linksNow } from '../links.ts';
import { database } from '../open.ts';
import { refuse } from './guards.ts';
import { NO_LINK } from './link.ts';
import { Streams } from './streams.ts';

// Pages of links hear of changes by server-sent events.

/** Of all links, and of one; pages beyond that look by themselves, from time to time. */
const MAX_WATCHERS = 500;
const MAX_OF_LINK = 100;

interface Watched {
  hash: string;
  version: string | null;
}

const streams = new Streams<Watched>(async (open, now) => {
  const found = await linksNow(await database(), [...new Set([...open].map((s) => s.about.hash))], now);
  for (const stream of open) {
    const { about } = stream;
    const version = found.get(about.hash)?.version;
    if (version === undefined) streams.end(stream, 'gone');
    else if (about.version !== version) {
      stream.send('change', version);
      about.version = version;
    }
  }
});

/** `/s/TOKEN/events`: the version of what the link shows whenever it is another, and when the link ends. */
export const linkEvents: RequestHandler = async (request, response) => {
  const { token = '' } = request.params as { token?: string };
  const hash = hashOf(token);
  if (streams.size >= MAX_WATCHERS || streams.count((w) => w.hash === hash) >= MAX_OF_LINK)
    return refuse(response, 503, 'Many pages are open. Try again in a moment.');
  try {
    if (!(await linksNow(await database(), [hash])).has(hash)) return refuse(response, 404, NO_LINK);
  } catch (error) {
    const fault = tell(error);
    return refuse(response, fault.status, fault.text);
  }
  // it may have gone while the database was asked
  if (response.destroyed) return;
  streams.begin(request, response, { hash, version: null });
};

export const endLinkEvents = (): void => streams.endAll();
