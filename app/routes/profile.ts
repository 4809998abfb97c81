import { readProfile, removeProfile } from '#server/profiles';
import * as api from '~/api/assets';
import { answers, on } from '~/api/handle';

/** What is called by its hash never changes. */
export const loader = answers(
  on(api.readProfile, async ({ db, params }) => {
    const bytes = await readProfile(db, params.hash);
    if (!bytes) return new Response('This profile does not exist.', { status: 404 });
    return new Response(bytes as Uint8Array<ArrayBuffer>, {
      headers: {
        'Content-Type': 'application/vnd.iccprofile',
        'Cache-Control': 'private, max-age=31536000, immutable',
      },
    });
  }),
);

export const action = answers(
  on(api.removeProfile, async ({ db, params }) => {
    await removeProfile(db, params.hash);
    return null;
  }),
);
