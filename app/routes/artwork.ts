import { MAX_ARTWORK_BYTES } from '#core/artwork/source';
import { pictureType } from '#core/picture/sniff';
import { answered } from '#server/answers';
import { keepArtwork, readArtworkBytes } from '#server/artworks';
import { readBytes } from '#server/http/bodies';
import { database } from '#server/open';
import type { Route } from './+types/artwork';

/** The bytes of a piece of artwork: what is called by its hash never changes. They are data here, and no page. */
export const loader = ({ params }: Route.LoaderArgs) =>
  answered(async () => {
    const bytes = await readArtworkBytes(await database(), params.hash);
    if (!bytes) return new Response('This artwork does not exist.', { status: 404 });
    return new Response(bytes as Uint8Array<ArrayBuffer>, {
      headers: {
        'Content-Type': 'application/octet-stream',
        'Cache-Control': 'private, max-age=31536000, immutable',
      },
    });
  });

/** PUT keeps them. */
export const action = ({ params, request }: Route.ActionArgs) =>
  answered(async () => {
    const bytes = await readBytes(request, MAX_ARTWORK_BYTES);
    const mime = pictureType(bytes) ? 'application/octet-stream' : 'image/svg+xml';
    if (!(await keepArtwork(await database(), params.hash, { mime, bytes })))
      return new Response('The artwork arrived incomplete. Try again.', { status: 400 });
    return new Response(null, { status: 201 });
  });
