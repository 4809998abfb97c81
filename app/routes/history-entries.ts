import { historySize, listHistory, trimHistory } from '#server/changes';
import { answers, on } from '~/api/handle';
import * as api from '~/api/libraries';

export const loader = answers(
  on(api.readHistory, async ({ db, params, query }) => {
    const before = Number(query.before);
    const from = query.before && Number.isSafeInteger(before) && before >= 0 ? before : null;
    return { entries: await listHistory(db, params.id, from), ...(await historySize(db, params.id)) };
  }),
);

export const action = answers(
  on(api.trimHistory, async ({ db, params, body }) => ({
    removed: await trimHistory(db, params.id, body.upTo),
  })),
);
