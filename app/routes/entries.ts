import { readEntries } from '#server/books';
import { answers, on } from '~/api/handle';
import * as api from '~/api/libraries';

export const loader = answers(
  on(api.readSwatches, ({ db, params, query }) => readEntries(db, params.id, query.ids?.split(',') ?? [])),
);
