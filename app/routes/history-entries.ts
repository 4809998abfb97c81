import { answered } from '#server/answers';
import { historySize, listHistory, trimHistory, wayBack } from '#server/changes';
import { readJson } from '#server/http/bodies';
import { database } from '#server/open';
import type { Route } from './+types/history-entries';
import { checkTrim } from './checks';

const numberOf = (text: string | null) => {
  const n = Number(text);
  return text && Number.isSafeInteger(n) && n >= 0 ? n : null;
};

/** A library's changes, the latest first; or, with `to`, what leads back to how it was after one of them. */
export const loader = ({ params, request }: Route.LoaderArgs) =>
  answered(async () => {
    const { searchParams } = new URL(request.url);
    const db = await database();
    const to = numberOf(searchParams.get('to'));
    if (to !== null) return Response.json(await wayBack(db, params.id, to));
    const before = numberOf(searchParams.get('before'));
    return Response.json({
      entries: await listHistory(db, params.id, before),
      ...(await historySize(db, params.id)),
    });
  });

/** Removes the history up to a change. */
export const action = ({ params, request }: Route.ActionArgs) =>
  answered(async () => {
    const { upTo } = checkTrim(await readJson(request));
    return Response.json({ removed: await trimHistory(await database(), params.id, upTo) });
  });
