import { PRIVATE } from '#server/http/link';
import { readCopy } from '#server/pictures';
import { showsPicture } from '#server/shared';
import { answers, on } from '~/api/handle';
import * as api from '~/api/shared';

export const loader = answers(
  on(api.sharedPicture, async ({ db, link, params: { picture } }) => {
    const copy = (await showsPicture(db, link, picture))
      ? await readCopy(db, link.library.id, picture)
      : null;
    if (!copy)
      return new Response('This link does not show this picture.', { status: 404, headers: PRIVATE });
    return new Response(new Uint8Array(copy.bytes), { headers: { ...PRIVATE, 'Content-Type': copy.mime } });
  }),
);
