import { COPY_BYTES, checkTakes, pictureType, type Take } from '#core/picture/index';
import { answered } from '#server/answers';
import { findLibrary } from '#server/changes';
import { BodyError, jsonOf, readForm, readJson } from '#server/http/bodies';
import { database } from '#server/open';
import { forgetPicture, keepPicture, readCopy, saveTakes } from '#server/pictures';
import type { Route } from './+types/picture';
import { checkPicture } from './checks';

/** Many takes with all their colours. */
const TAKES_BYTES = 8 * 1024 * 1024;

const MIMES: Record<string, string> = {
  PNG: 'image/png',
  JPEG: 'image/jpeg',
  WebP: 'image/webp',
  GIF: 'image/gif',
  AVIF: 'image/avif',
  BMP: 'image/bmp',
  TIFF: 'image/tiff',
};

/** The copy of a picture kept with a library. */
export const loader = ({ params }: Route.LoaderArgs) =>
  answered(async () => {
    const copy = await readCopy(await database(), params.id, params.picture);
    if (!copy) return new Response('The picture is no longer kept here.', { status: 404 });
    return new Response(new Uint8Array(copy.bytes), {
      headers: {
        'Content-Type': copy.mime,
        'Cache-Control': 'no-store',
      },
    });
  });

/** PUT keeps a picture with its takes, PATCH its takes alone, DELETE forgets it. */
export const action = ({ params, request }: Route.ActionArgs) =>
  answered(async () => {
    const db = await database();
    const { id, picture } = params;
    if (request.method === 'DELETE') {
      await forgetPicture(db, id, picture);
      return new Response(null, { status: 204 });
    }
    if (request.method === 'PATCH') {
      const takes: Take[] = checkTakes(await readJson(request, TAKES_BYTES));
      if (await saveTakes(db, id, picture, takes)) return new Response(null, { status: 204 });
      return new Response('The picture is no longer kept with the library.', { status: 404 });
    }
    await findLibrary(db, id);
    const form = await readForm(request, COPY_BYTES + TAKES_BYTES);
    const file = form.get('copy');
    if (!(file instanceof Blob)) throw new BodyError(400, 'The copy of the picture is missing.');
    if (file.size > COPY_BYTES) throw new BodyError(413, 'The copy of the picture is too large.');
    const bytes = new Uint8Array(await file.arrayBuffer());
    const mime = MIMES[pictureType(bytes) ?? ''];
    if (!mime) return new Response('The copy is not a picture.', { status: 400 });
    const { takes, ...about } = checkPicture(jsonOf(String(form.get('about'))));
    await keepPicture(db, id, { id: picture, ...about, takes: checkTakes(takes) }, { mime, bytes });
    return new Response(null, { status: 201 });
  });
