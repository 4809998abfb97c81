import { answered } from '#server/answers';
import { streamLibrary } from '#server/libraries';
import { database, databaseHeaders } from '#server/open';
import type { Route } from './+types/rows';

/** A whole library, line by line. */
export const loader = ({ params, request }: Route.LoaderArgs) =>
  answered(async () => {
    const by = new URL(request.url).searchParams.get('by') ?? '';
    return new Response(await streamLibrary(await database(), params.id, by), {
      // each line is to be seen as soon as it is there, so that nothing may hold it back to press it
      headers: { 'Content-Type': 'application/x-ndjson', 'Cache-Control': 'no-store, no-transform' },
    });
  }, databaseHeaders);
