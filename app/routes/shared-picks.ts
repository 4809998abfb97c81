import { pickBy } from '#server/comments';
import { personOf } from '#server/http/link';
import { answers, on } from '~/api/handle';
import * as api from '~/api/shared';

export const action = answers(
  on(api.pickShared, async ({ db, link, request, body }) => {
    await pickBy(db, link, await personOf(request, link), body);
    return null;
  }),
);
