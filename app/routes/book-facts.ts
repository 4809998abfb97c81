import { editBook } from '#server/books';
import * as api from '~/api/books';
import { answers, on } from '~/api/handle';

export const action = answers(
  on(api.editBook, async ({ db, params, body }) => {
    await editBook(db, params.id, body);
    return null;
  }),
);
