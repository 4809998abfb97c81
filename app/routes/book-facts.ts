import { answered } from '#server/answers';
import { editBook } from '#server/books';
import { readJson } from '#server/http/bodies';
import { database } from '#server/open';
import type { Route } from './+types/book-facts';
import { checkBookEdit } from './checks';

/** Sets what a book says of itself, or its names where they are the user's. */
export const action = ({ params, request }: Route.ActionArgs) =>
  answered(async () => {
    await editBook(await database(), params.id, checkBookEdit(await readJson(request)));
    return new Response(null, { status: 204 });
  });
