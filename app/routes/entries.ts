import { answered } from '#server/answers';
import { readEntries } from '#server/books';
import { database } from '#server/open';
import type { Route } from './+types/entries';

/** Whole swatches of a library or book, by `ids`. */
export const loader = ({ params, request }: Route.LoaderArgs) =>
  answered(async () => {
    const ids = new URL(request.url).searchParams.get('ids')?.split(',') ?? [];
    return Response.json(await readEntries(await database(), params.id, ids));
  });
