import { isPdf } from '#core/pdf/sniff';
import { pictureType } from '#core/picture/sniff';
import { keepArtwork, readArtworkBytes } from '#server/artworks';
import { holdsArtwork } from '#server/visiting';
import * as api from '~/api/assets';
import { answers, on } from '~/api/handle';

/** What is called by its hash never changes. They are data here, and no page. */
export const loader = answers(
  on(api.readArtwork, async ({ db, params, visitor }) => {
    const bytes =
      (!visitor || (await holdsArtwork(db, visitor, params.hash))) &&
      (await readArtworkBytes(db, params.hash));
    if (!bytes) return new Response('This artwork does not exist.', { status: 404 });
    return new Response(bytes as Uint8Array<ArrayBuffer>, {
      headers: {
        'Content-Type': 'application/octet-stream',
        'Cache-Control': 'private, max-age=31536000, immutable',
      },
    });
  }),
);

export const action = answers(
  on(api.keepArtwork, async ({ db, params, body }) => {
    const mime = pictureType(body) || isPdf(body) ? 'application/octet-stream' : 'image/svg+xml';
    if (await keepArtwork(db, params.hash, { mime, bytes: body })) return null;
    return new Response('The artwork arrived incomplete. Try again.', { status: 400 });
  }),
);
