import { answered } from '#server/answers';
import { usesOf } from '#server/books';
import { database } from '#server/open';
import type { Route } from './+types/book-uses';

/** The libraries that a book, or one ink of it, is used in. */
export const loader = ({ params, request }: Route.LoaderArgs) =>
  answered(async () => {
    const code = new URL(request.url).searchParams.get('code') ?? undefined;
    return Response.json(await usesOf(await database(), params.id, code));
  });
