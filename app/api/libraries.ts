import type { Library, News, Reply, Sent, Swatch } from '#core/swatch/index';
import type { Columns } from '#server/books';
import type { HistoryEntry, WayBack } from '#server/changes';
import type { LibraryName } from '#server/libraries';
import { LIBRARY_BYTES } from '../../core/sizes';
import { givesJson, givesRaw, givesText, json } from './endpoint';

const checkLibrary = async () => (await import('#core/swatch/checks')).checkLibrary;

/** The libraries by name, to choose one from. */
export const listLibraries = givesJson<LibraryName[]>()({
  access: 'edit',
  method: 'GET',
  path: '/libraries',
});

/** Makes a library of what is sent; with an id it is to have, the same request again makes no second one. Its id comes back. */
export const createLibrary = givesText(201)({
  method: 'POST',
  path: '/libraries',
  query: ['id'],
  body: json<Library>(checkLibrary, LIBRARY_BYTES),
  again: true,
});

/** A whole library, line by line. */
export const readRows = givesRaw()({
  access: 'edit',
  method: 'GET',
  path: '/libraries/:id/rows',
  query: ['by'],
  namesDatabase: true,
});

/** What has happened to a library since a page last heard of it; without `after`, the library in one piece. */
export const readChanges = givesJson<News>()({
  access: 'edit',
  method: 'GET',
  path: '/libraries/:id/changes',
  query: ['after', 'by'],
  namesDatabase: true,
});

/** Applies a page's changes. The outbox sends them again by itself. */
export const sendChanges = givesJson<Reply>()({
  access: 'edit',
  method: 'POST',
  path: '/libraries/:id/changes',
  body: json<Sent>(async () => (await import('#core/swatch/checks')).checkSent, LIBRARY_BYTES),
  namesDatabase: true,
});

/** A library's changes, the latest first. */
export const readHistory = givesJson<{
  entries: HistoryEntry[];
  count: number;
  first: number | null;
}>()({ access: 'edit', method: 'GET', path: '/libraries/:id/changes/history', query: ['before'] });

/** Removes the history up to a change. */
export const trimHistory = givesJson<{ removed: number }>()({
  method: 'POST',
  path: '/libraries/:id/changes/history',
  body: json(async () => (await import('./checks')).checkTrim),
});

/** What leads back to how a library was after a change. */
export const readWayBack = givesJson<WayBack>()({
  access: 'edit',
  method: 'GET',
  path: '/libraries/:id/changes/history/:seq',
});

/** What is in a library or book, as columns; who has it already learns so. */
export const readColumns = givesJson<Columns>()({
  access: 'edit',
  method: 'GET',
  path: '/libraries/:id/colors',
});

/** Whole swatches of a library or book. */
export const readSwatches = givesJson<Swatch[]>()({
  access: 'edit',
  method: 'GET',
  path: '/libraries/:id/entries',
  query: ['ids'],
});
