import { checkSent } from '#core/swatch/checks';
import { answered } from '#server/answers';
import { applyChanges, listHistory, newsOf } from '#server/changes';
import { LIBRARY_BYTES, readJson } from '#server/http/bodies';
import { readRows } from '#server/libraries';
import { database, databaseHeaders } from '#server/open';
import type { Route } from './+types/changes';

/** What has happened to a library since a page last heard of it; without that, the library in one piece. */
export const loader = ({ params, request }: Route.LoaderArgs) =>
  answered(async () => {
    const { searchParams } = new URL(request.url);
    const db = await database();
    if (!searchParams.has('after')) {
      const found = await readRows(db, params.id);
      if (!found) return new Response('The library no longer exists.', { status: 404 });
      const last = (await listHistory(db, params.id, null, 50)).find((e) => e.step === 'edit' && !e.undone);
      return Response.json({ library: found.rows.library, revision: found.seq, undo: last?.label ?? null });
    }
    const seen = Number(searchParams.get('after'));
    if (!Number.isSafeInteger(seen) || seen < 0)
      return new Response('“after” is not a number.', { status: 400 });
    return Response.json(await newsOf(db, params.id, seen, searchParams.get('by') ?? ''));
  }, databaseHeaders);

/** Applies a page's changes. */
export const action = ({ params, request }: Route.ActionArgs) =>
  answered(
    async () =>
      Response.json(
        await applyChanges(await database(), params.id, checkSent(await readJson(request, LIBRARY_BYTES))),
      ),
    databaseHeaders,
  );
