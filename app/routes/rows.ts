import { streamLibrary } from '#server/libraries';
import { answers, on } from '~/api/handle';
import * as api from '~/api/libraries';

export const loader = answers(
  on(
    api.readRows,
    async ({ db, params, query, visitor }) =>
      new Response(await streamLibrary(db, params.id, visitor?.id ?? query.by ?? ''), {
        // each line is to be seen as soon as it is there, so that nothing may hold it back to press it
        headers: { 'Content-Type': 'application/x-ndjson', 'Cache-Control': 'no-store, no-transform' },
      }),
  ),
);
