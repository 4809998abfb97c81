import { applyChanges, listHistory, newsOf } from '#server/changes';
import { readRows } from '#server/libraries';
import { signed } from '#server/visiting';
import { answers, on } from '~/api/handle';
import * as api from '~/api/libraries';

export const loader = answers(
  on(api.readChanges, async ({ db, params, query, visitor }) => {
    if (query.after === undefined) {
      const found = await readRows(db, params.id);
      if (!found) return new Response('The library no longer exists.', { status: 404 });
      const last = (await listHistory(db, params.id, null, 50)).find((e) => e.step === 'edit' && !e.undone);
      return Response.json({ library: found.rows.library, revision: found.seq, undo: last?.label ?? null });
    }
    const seen = Number(query.after);
    if (!Number.isSafeInteger(seen) || seen < 0)
      return new Response('“after” is not a number.', { status: 400 });
    return newsOf(db, params.id, seen, visitor?.id ?? query.by ?? '');
  }),
);

export const action = answers(
  on(api.sendChanges, async ({ db, params: { id }, body, visitor }) =>
    applyChanges(db, id, visitor ? await signed(db, id, body, visitor) : body),
  ),
);
