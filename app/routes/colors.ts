import { answered } from '#server/answers';
import { columnsText, tagOf } from '#server/books';
import { database } from '#server/open';
import type { Route } from './+types/colors';

/** What is in a library or book, as columns. Who has it already learns so, by the number of its last change. */
export const loader = ({ params, request }: Route.LoaderArgs) =>
  answered(async () => {
    const db = await database();
    const tag = await tagOf(db, params.id);
    const headers = { ETag: tag, 'Cache-Control': 'private, no-cache' };
    if (request.headers.get('If-None-Match') === tag) return new Response(null, { status: 304, headers });
    return new Response(await columnsText(db, params.id), {
      headers: { ...headers, 'Content-Type': 'application/json' },
    });
  });
