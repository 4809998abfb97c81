import { answers, on } from '~/api/handle';
import * as api from '~/api/session';
import { surroundCookie } from '~/theme/cookie';

export const action = answers(
  on(
    api.chooseSurround,
    async ({ body }) => new Response(null, { status: 204, headers: { 'Set-Cookie': surroundCookie(body) } }),
  ),
);
