import { answered } from '#server/answers';
import { database } from '#server/open';
import { readProfile, removeProfile } from '#server/profiles';
import type { Route } from './+types/profile';

/** The bytes of a profile: what is called by its hash never changes. */
export const loader = ({ params }: Route.LoaderArgs) =>
  answered(async () => {
    const bytes = await readProfile(await database(), params.hash);
    if (!bytes) return new Response('This profile does not exist.', { status: 404 });
    return new Response(bytes as Uint8Array<ArrayBuffer>, {
      headers: {
        'Content-Type': 'application/vnd.iccprofile',
        'Cache-Control': 'private, max-age=31536000, immutable',
      },
    });
  });

/** DELETE takes it away, unless a library uses it. */
export const action = ({ params }: Route.ActionArgs) =>
  answered(async () => {
    await removeProfile(await database(), params.hash);
    return new Response(null, { status: 204 });
  });
