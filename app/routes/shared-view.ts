import { NO_LINK, PRIVATE } from '#server/http/link';
import { sharedView, viewText } from '#server/shared';
import { answers, on } from '~/api/handle';
import * as api from '~/api/shared';

export const loader = answers(
  on(api.readShared, async ({ db, link, params: { token } }) => {
    const view = await sharedView(db, link, `/s/${token}`);
    if (!view) return new Response(NO_LINK, { status: 404, headers: PRIVATE });
    return new Response(viewText(view), { headers: { ...PRIVATE, 'Content-Type': 'application/json' } });
  }),
);
