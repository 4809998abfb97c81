import type { Request } from 'express';
import { allows, type Level } from '../../core/level.ts';
import { trayOf } from '../libraries.ts';
import { database } from '../open.ts';
import { type Visitor, visitorsOf } from '../people.ts';
import { type Known, patternOf } from './guards.ts';
import { CARD } from './link.ts';

// Whoever came by a link that allows editing works in the application itself. What they reach is listed here and by the endpoints
// that say “edit”; everything else is the owner's.

/** What the guard has to know of an endpoint. */
export type Passable = Pick<Known, 'method' | 'path'> & { access: 'owner' | Level };

/** The screens of a library, and those that hold nothing of anybody. */
const PAGES = [
  ...['', '/gather', '/arrange', '/apply', '/check', '/hand-over', '/history'].map(
    (step) => `/libraries/:id${step}`,
  ),
  // the events of its pages
  '/libraries/:id/events',
  '/formats',
  '/away',
  '/manifest.webmanifest',
  '/__manifest',
];

interface Way {
  method: string;
  pattern: RegExp;
  /** The id in the path is a library's. */
  isOfLibrary: boolean;
}

/** All ways that are open to those who came to edit. */
export function waysToEdit(endpoints: readonly Passable[]): Way[] {
  const pages = PAGES.flatMap((path) => [path, `${path}.data`].map((p) => ({ method: 'GET', path: p })));
  const asked = endpoints.filter((e) => e.access !== 'owner' && allows('edit', e.access));
  return [...pages, ...asked].map(({ method, path }) => ({
    method,
    pattern: patternOf(path),
    isOfLibrary: path.startsWith('/libraries/:id'),
  }));
}

/** The cards a browser holds. */
function cardsOf(header: string | undefined): string[] {
  return (header ?? '').split(';').flatMap((part) => {
    const [name = '', card = ''] = part.trim().split('=');
    return name.startsWith(CARD) && card ? [card] : [];
  });
}

/** Everybody a browser is who may edit something. */
export async function editorsOf(request: Pick<Request, 'headers'>): Promise<Visitor[]> {
  const cards = cardsOf(request.headers.cookie);
  if (cards.length === 0) return [];
  return (await visitorsOf(await database(), cards)).filter((v) => allows(v.link.data.access, 'edit'));
}

/** As whom a request may pass; null where none of them may ask that. */
export function passOf(
  ways: readonly Way[],
  editors: readonly Visitor[],
  { method, path }: { method: string; path: string },
): Visitor | null {
  const asked = method === 'HEAD' ? 'GET' : method;
  for (const way of ways) {
    if (way.method !== asked || !way.pattern.test(path)) continue;
    if (!way.isOfLibrary) return editors[0] ?? null;
    const id = path.split('/')[2]!.replace(/\.data$/, '');
    return editors.find((v) => id === v.link.library.id || id === trayOf(v.id)) ?? null;
  }
  return null;
}
