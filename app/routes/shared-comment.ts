import { withdraw } from '#server/comments';
import { personOf } from '#server/http/link';
import { answers, on } from '~/api/handle';
import * as api from '~/api/shared';

export const action = answers(
  on(api.deleteComment, async ({ db, link, request, params: { comment } }) => {
    await withdraw(db, link, await personOf(request, link), comment);
    return null;
  }),
);
