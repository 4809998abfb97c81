import { checkSent } from '#core/swatch/index';
import { answered } from '#server/answers';
import { applyChanges, newsOf } from '#server/changes';
import { database } from '#server/db';
import type { Route } from './+types/changes';

/** What has happened to a library since a page last heard of it. */
export const loader = ({ params, request }: Route.LoaderArgs) =>
  answered(async () => {
    const { searchParams } = new URL(request.url);
    const seen = Number(searchParams.get('after'));
    if (!Number.isSafeInteger(seen) || seen < 0)
      return new Response('“after” is no number.', { status: 400 });
    return Response.json(await newsOf(await database(), params.id, seen, searchParams.get('by') ?? ''));
  });

/** Applies a page's changes. */
export const action = ({ params, request }: Route.ActionArgs) =>
  answered(async () =>
    Response.json(await applyChanges(await database(), params.id, checkSent(await request.json()))),
  );
