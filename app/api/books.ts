import type { Library } from '#core/swatch/index';
import type { ListedBook, Use } from '#server/books';
import { LIBRARY_BYTES } from '../../core/sizes';
import { givesJson, givesNothing, json } from './endpoint';

/** Every book there is. */
export const listBooks = givesJson<ListedBook[]>()({ access: 'edit', method: 'GET', path: '/books/kept' });

/** Keeps the library that is sent as a book under the id it is to have. */
export const keepBook = givesJson<{ ids: string[] }>(201)({
  method: 'PUT',
  path: '/books/kept/:id',
  body: json<Library>(async () => (await import('#core/swatch/checks')).checkLibrary, LIBRARY_BYTES),
  again: true,
});

/** Does something with books as wholes; the ids of what it was done to come back. */
export const makeBook = givesJson<{ ids: string[] }>(201)({
  method: 'POST',
  path: '/books/kept',
  body: json(async () => (await import('./checks')).checkMade),
});

/** Sets what a book says of itself, or its names where they are the user's. */
export const editBook = givesNothing()({
  method: 'POST',
  path: '/books/:id/facts',
  body: json(async () => (await import('./checks')).checkBookEdit),
});

/** The libraries that a book, or one ink of it, is used in. */
export const readUses = givesJson<Use[]>()({ method: 'GET', path: '/books/:id/uses', query: ['code'] });
