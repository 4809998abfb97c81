import { commentBy } from '#server/comments';
import { personOf } from '#server/http/link';
import { answers, on } from '~/api/handle';
import * as api from '~/api/shared';

export const action = answers(
  on(api.writeComment, async ({ db, link, request, body }) => {
    await commentBy(db, link, await personOf(request, link), body);
    return null;
  }),
);
