import { checkLibrary } from '#core/swatch/checks';
import { answered } from '#server/answers';
import {
  addSampleBooks,
  bookOfLibrary,
  createBook,
  deleteBook,
  libraryOfBook,
  listBooks,
  restoreBook,
} from '#server/books';
import { RefusedError } from '#server/changes';
import { LIBRARY_BYTES, readJson } from '#server/http/bodies';
import { database } from '#server/open';
import type { Route } from './+types/books-kept';
import { checkId, checkMade } from './checks';

/** Every book there is. */
export const loader = () => answered(async () => Response.json(await listBooks(await database())));

/** With an id it keeps the library that is sent as a book; without, it does what is asked for. Answers with ids. */
export const action = ({ request }: Route.ActionArgs) =>
  answered(async () => {
    const db = await database();
    const wanted = new URL(request.url).searchParams.get('id');
    if (wanted !== null) {
      const library = checkLibrary(await readJson(request, LIBRARY_BYTES));
      return made([await createBook(db, library, checkId(wanted))]);
    }
    const asked = checkMade(await readJson(request));
    switch (asked.intent) {
      case 'samples':
        return made(await addSampleBooks(db));
      case 'book':
        return made([await bookOfLibrary(db, asked.library, asked.id)]);
      case 'library':
        return made([await libraryOfBook(db, asked.book, asked.id)]);
      case 'delete':
        await deleteBook(db, asked.book);
        return made([asked.book]);
      case 'restore':
        await restoreBook(db, asked.book);
        return made([asked.book]);
    }
  });

function made(ids: (string | null)[]): Response {
  if (ids.includes(null)) throw new RefusedError('Its source no longer exists.', 'never');
  return Response.json({ ids }, { status: 201 });
}
