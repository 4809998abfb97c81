import { wayBack } from '#server/changes';
import { answers, on } from '~/api/handle';
import * as api from '~/api/libraries';

export const loader = answers(
  on(api.readWayBack, async ({ db, params }) => {
    const seq = Number(params.seq);
    if (!Number.isSafeInteger(seq) || seq < 0)
      return new Response('The change is not named by a number.', { status: 400 });
    return wayBack(db, params.id, seq);
  }),
);
