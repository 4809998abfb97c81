import { COPY_BYTES, checkTakes, pictureType } from '#core/picture/index';
import { findLibrary } from '#server/changes';
import { BodyError, jsonOf } from '#server/http/bodies';
import { forgetPicture, keepPicture, readCopy, saveTakes } from '#server/pictures';
import * as api from '~/api/assets';
import { checkPicture } from '~/api/checks';
import { answers, on } from '~/api/handle';

const MIMES: Record<string, string> = {
  PNG: 'image/png',
  JPEG: 'image/jpeg',
  WebP: 'image/webp',
  GIF: 'image/gif',
  AVIF: 'image/avif',
  BMP: 'image/bmp',
  TIFF: 'image/tiff',
};

export const loader = answers(
  on(api.readPicture, async ({ db, params }) => {
    const copy = await readCopy(db, params.id, params.picture);
    if (!copy) return new Response('The picture is no longer kept here.', { status: 404 });
    return new Response(new Uint8Array(copy.bytes), {
      headers: { 'Content-Type': copy.mime, 'Cache-Control': 'no-store' },
    });
  }),
);

export const action = answers(
  on(api.forgetPicture, async ({ db, params }) => {
    await forgetPicture(db, params.id, params.picture);
    return null;
  }),
  on(api.saveTakes, async ({ db, params, body }) => {
    if (await saveTakes(db, params.id, params.picture, body)) return null;
    return new Response('The picture is no longer kept with the library.', { status: 404 });
  }),
  on(api.keepPicture, async ({ db, params: { id, picture }, body }) => {
    await findLibrary(db, id);
    const file = body.get('copy');
    if (!(file instanceof Blob)) throw new BodyError(400, 'The copy of the picture is missing.');
    if (file.size > COPY_BYTES) throw new BodyError(413, 'The copy of the picture is too large.');
    const bytes = new Uint8Array(await file.arrayBuffer());
    const mime = MIMES[pictureType(bytes) ?? ''];
    if (!mime) return new Response('The copy is not a picture.', { status: 400 });
    const { takes, ...about } = checkPicture(jsonOf(String(body.get('about'))));
    await keepPicture(db, id, { id: picture, ...about, takes: checkTakes(takes) }, { mime, bytes });
    return null;
  }),
);
