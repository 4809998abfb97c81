import { createLibrary, listNames } from '#server/libraries';
import { checkId } from '~/api/checks';
import { answers, on } from '~/api/handle';
import * as api from '~/api/libraries';

export const loader = answers(
  on(api.listLibraries, async ({ db, visitor }) => {
    const all = await listNames(db);
    return visitor ? all.filter(({ id }) => id === visitor.link.library.id) : all;
  }),
);

export const action = answers(
  on(api.createLibrary, ({ db, query, body }) => {
    // what a file says of itself as a book is for those who keep it as one
    const { book: _, ...library } = body;
    return createLibrary(db, library, query.id === undefined ? undefined : checkId(query.id));
  }),
);
