import { surroundCookie } from '~/theme/cookie';
import { isSurround } from '~/theme/surrounds';
import type { Route } from './+types/surround';

export async function action({ request }: Route.ActionArgs) {
  const wanted = await request.text();
  if (!isSurround(wanted)) return new Response('There is no such surround.', { status: 400 });
  return new Response(null, { status: 204, headers: { 'Set-Cookie': surroundCookie(wanted) } });
}
