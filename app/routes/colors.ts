import { columnsText, tagOf } from '#server/books';
import { answers, on } from '~/api/handle';
import * as api from '~/api/libraries';

/** Who has them already learns so, by the number of the last change. */
export const loader = answers(
  on(api.readColumns, async ({ db, params, request }) => {
    const tag = await tagOf(db, params.id);
    const headers = { ETag: tag, 'Cache-Control': 'private, no-cache' };
    if (request.headers.get('If-None-Match') === tag) return new Response(null, { status: 304, headers });
    return new Response(await columnsText(db, params.id), {
      headers: { ...headers, 'Content-Type': 'application/json' },
    });
  }),
);
