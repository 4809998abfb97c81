import { answered } from '#server/answers';
import { readJson } from '#server/http/bodies';
import { surroundCookie } from '~/theme/cookie';
import { isSurround } from '~/theme/tokens';
import type { Route } from './+types/surround';

/** Keeps which surround was chosen. */
export const action = ({ request }: Route.ActionArgs) =>
  answered(async () => {
    const wanted = await readJson(request);
    if (typeof wanted !== 'string' || !isSurround(wanted))
      return new Response('This surround does not exist.', { status: 400 });
    return new Response(null, { status: 204, headers: { 'Set-Cookie': surroundCookie(wanted) } });
  });
