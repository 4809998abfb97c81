import {
  addSampleBooks,
  bookOfLibrary,
  deleteBook,
  libraryOfBook,
  listBooks,
  restoreBook,
} from '#server/books';
import { RefusedError } from '#server/changes';
import type { Db } from '#server/db';
import type { BookMade } from '~/api/bodies';
import * as api from '~/api/books';
import { answers, on } from '~/api/handle';

export const loader = answers(
  // whoever came by a link sees one library
  on(api.listBooks, async ({ db, visitor }) => (visitor ? [] : listBooks(db))),
);

export const action = answers(
  on(api.makeBook, async ({ db, body }) => {
    const ids = await made(db, body);
    const known = ids.filter((id) => id !== null);
    if (known.length < ids.length) throw new RefusedError('Its source no longer exists.', 'never');
    return { ids: known };
  }),
);

async function made(db: Db, asked: BookMade): Promise<(string | null)[]> {
  switch (asked.intent) {
    case 'samples':
      return addSampleBooks(db);
    case 'book':
      return [await bookOfLibrary(db, asked.library, asked.id)];
    case 'library':
      return [await libraryOfBook(db, asked.book, asked.id)];
    case 'delete':
      await deleteBook(db, asked.book);
      return [asked.book];
    case 'restore':
      await restoreBook(db, asked.book);
      return [asked.book];
  }
}
