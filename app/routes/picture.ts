import { checkTakes, pictureType, type Take } from '#core/picture/index';
import { checker } from '#core/swatch/index';
import { answered } from '#server/answers';
import { findLibrary } from '#server/changes';
import { database } from '#server/db';
import { COPY_BYTES, COPY_SIDE, forgetPicture, keepPicture, readCopy, saveTakes } from '#server/pictures';
import type { Route } from './+types/picture';

const checkAbout = checker<{ name: string; width: number; height: number; takes: unknown[] }>({
  type: 'object',
  required: ['name', 'width', 'height', 'takes'],
  properties: {
    name: { type: 'string', maxLength: 1000 },
    width: { type: 'integer', minimum: 1, maximum: COPY_SIDE },
    height: { type: 'integer', minimum: 1, maximum: COPY_SIDE },
    takes: { type: 'array' },
  },
  additionalProperties: false,
});

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
    if (!copy) return new Response('The picture is not kept here any more.', { status: 404 });
    return new Response(new Uint8Array(copy.bytes), {
      headers: {
        'Content-Type': copy.mime,
        'X-Content-Type-Options': 'nosniff',
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
      const takes: Take[] = checkTakes(await request.json());
      if (await saveTakes(db, id, picture, takes)) return new Response(null, { status: 204 });
      return new Response('The picture is not kept with the library any more.', { status: 404 });
    }
    await findLibrary(db, id);
    const form = await request.formData();
    const file = form.get('copy');
    if (!(file instanceof Blob) || file.size > COPY_BYTES)
      return new Response('The copy of the picture is missing or too large.', { status: 400 });
    const bytes = new Uint8Array(await file.arrayBuffer());
    const mime = MIMES[pictureType(bytes) ?? ''];
    if (!mime) return new Response('The copy is no picture.', { status: 400 });
    const { takes, ...about } = checkAbout(JSON.parse(String(form.get('about'))));
    await keepPicture(db, id, { id: picture, ...about, takes: checkTakes(takes) }, { mime, bytes });
    return new Response(null, { status: 201 });
  });
