import type { RequestHandler } from 'express';
import { allows } from '../../core/level.ts';
import { tell } from '../answers.ts';
import { findLibrary, newsOf } from '../changes.ts';
import type { Db } from '../db.ts';
import { linksNow } from '../links.ts';
import { log } from '../log.ts';
import { database } from '../open.ts';
import type { Visitor } from '../people.ts';
import { arrive, leave, librariesNow, stay } from '../present.ts';
import { wake } from '../wake.ts';
import { refuse } from './guards.ts';
import { Streams } from './streams.ts';

// Pages of the application hear of changes to their library, and of who else is there, by server-sent events.

const MAX_WATCHERS = 500;
/** Pages that are open are said to be there so often, ms. */
const STAY_MS = 15_000;

interface Watched {
  id: string;
  num: number;
  page: string;
  /** The hash of the link that somebody came by; null for owners. */
  link: string | null;
  seq: number | null;
  /** Who else was there when it was last said, as JSON. */
  people: string;
}

/** A page asks for more than this by itself. */
const MAX_NEWS_CHARACTERS = 64 * 1024;
/** What is new of libraries since a number, found once for all who wait for it. */
type Fresh = Map<string, Promise<{ seq: number; text: string } | null>>;

function newsFor(
  db: Db,
  id: string,
  seen: number,
  fresh: Fresh,
): Promise<{ seq: number; text: string } | null> {
  const key = `${id} ${seen}`;
  const known = fresh.get(key);
  if (known !== undefined) return known;
  const asked = newsOf(db, id, seen, '').then((news) => {
    if (!news.changes) return null;
    // what can be taken back is everybody's own, which a page knows
    const text = JSON.stringify({ ...news, steps: { undo: [], redo: [] } });
    return text.length > MAX_NEWS_CHARACTERS ? null : { seq: news.seq, text };
  });
  fresh.set(key, asked);
  return asked;
}

let stayed = 0;

const streams = new Streams<Watched>(async (open, now) => {
  const db = await database();
  if (now - stayed > STAY_MS) {
    stayed = now;
    await stay(
      db,
      [...open].map((s) => s.about.page),
    );
  }
  const found = await librariesNow(db, [...new Set([...open].map((s) => s.about.num))], now);
  const hashes = [...open].flatMap((s) => s.about.link ?? []);
  const fresh: Fresh = new Map();
  const links = await linksNow(db, [...new Set(hashes)], now);
  for (const stream of open) {
    const { about } = stream;
    const state = found.get(about.num);
    const access = about.link === null ? 'edit' : links.get(about.link)?.access;
    if (!state || !access || !allows(access, 'edit')) {
      streams.end(stream, 'gone');
      continue;
    }
    if (about.seq !== state.seq) {
      const news = about.seq === null ? null : await newsFor(db, about.id, about.seq, fresh);
      about.seq = news ? news.seq : state.seq;
      if (news) stream.send('news', news.text);
      else stream.send('seq', String(state.seq));
    }
    // by its id a page speaks for itself: others do not learn it
    const people = JSON.stringify(state.people.flatMap(({ page, ...p }) => (page === about.page ? [] : [p])));
    if (about.people !== people) {
      about.people = people;
      stream.send('people', people);
    }
  }
});

const isId = (text: unknown): text is string => typeof text === 'string' && /^[\w-]{8,40}$/.test(text);

/** `/libraries/ID/events?page=…&by=…`: what is new, or the number of the last change where that is much, and who else is there. */
export const libraryEvents: RequestHandler = async (request, response) => {
  const { id = '' } = request.params as { id?: string };
  const { page, by } = request.query;
  const visitor = response.locals.visitor as Visitor | undefined;
  const person = visitor?.id ?? by;
  if (!isId(page) || !isId(person)) return refuse(response, 400, 'The page does not say which it is.');
  if (streams.size >= MAX_WATCHERS)
    return refuse(response, 503, 'Many pages are open. Try again in a moment.');
  try {
    const db = await database();
    const { num } = await findLibrary(db, id);
    if (response.destroyed) return;
    await arrive(db, { page, library: num, person });
    const left = () =>
      void leave(db, page)
        .then(wake)
        .catch((error: unknown) => log.debug({ error }, 'A page that left stays for a while'));
    if (response.destroyed) return left();
    streams.begin(
      request,
      response,
      { id, num, page, link: visitor?.link.hash ?? null, seq: null, people: '[]' },
      left,
    );
    wake();
  } catch (error) {
    const fault = tell(error);
    refuse(response, fault.status, fault.text);
  }
};

export const endLibraryEvents = (): void => streams.endAll();
