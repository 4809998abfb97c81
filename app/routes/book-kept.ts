import { createBook } from '#server/books';
import { RefusedError } from '#server/changes';
import * as api from '~/api/books';
import { checkId } from '~/api/checks';
import { answers, on } from '~/api/handle';

export const action = answers(
  on(api.keepBook, async ({ db, params, body }) => {
    const id = await createBook(db, body, checkId(params.id));
    if (id === null) throw new RefusedError('Its source no longer exists.', 'never');
    return { ids: [id] };
  }),
);
