import type { Take } from '#core/picture/index';
import type { KeptPicture } from '#server/pictures';
import type { ListedProfile } from '#server/profiles';
import { COPY_BYTES } from '../../core/picture/limits';
import { MAX_ARTWORK_BYTES, MAX_PROFILE_BYTES, MB } from '../../core/sizes';
import { bytes, form, givesJson, givesNothing, givesRaw, json } from './endpoint';

/** Many takes with all their colours. */
const TAKES_BYTES = 8 * MB;
const checkTakes = async () => (await import('#core/picture/checks')).checkTakes;

/** The pictures that are kept with a library, in the order they came. */
export const listPictures = givesJson<KeptPicture[]>()({
  access: 'edit',
  method: 'GET',
  path: '/libraries/:id/pictures',
});

/** The copy of a picture kept with a library. */
export const readPicture = givesRaw()({
  access: 'edit',
  method: 'GET',
  path: '/libraries/:id/pictures/:picture',
});

/** Keeps a picture with its takes: a form with `copy` and `about`. */
export const keepPicture = givesNothing(201)({
  access: 'edit',
  method: 'PUT',
  path: '/libraries/:id/pictures/:picture',
  body: form(COPY_BYTES + TAKES_BYTES),
  again: true,
});

/** Keeps the takes of a picture. */
export const saveTakes = givesNothing()({
  access: 'edit',
  method: 'PATCH',
  path: '/libraries/:id/pictures/:picture',
  body: json<Take[]>(checkTakes, TAKES_BYTES),
});

/** Takes the copy of a picture out of a library. */
export const forgetPicture = givesNothing()({
  access: 'edit',
  method: 'DELETE',
  path: '/libraries/:id/pictures/:picture',
});

/** Every profile there is. */
export const listProfiles = givesJson<ListedProfile[]>()({
  access: 'edit',
  method: 'GET',
  path: '/profiles/kept',
});

/** Keeps the profile that is sent, once. */
export const keepProfile = givesJson<ListedProfile>(201)({
  method: 'POST',
  path: '/profiles/kept',
  body: bytes('application/vnd.iccprofile', MAX_PROFILE_BYTES),
  again: true,
});

/** The bytes of a profile. */
export const readProfile = givesRaw()({ access: 'edit', method: 'GET', path: '/profiles/:hash' });

/** Takes a profile away, unless a library uses it. */
export const removeProfile = givesNothing()({ method: 'DELETE', path: '/profiles/:hash' });

/** The bytes of a piece of artwork. */
export const readArtwork = givesRaw()({ access: 'edit', method: 'GET', path: '/artworks/:hash' });

/** Keeps them. */
export const keepArtwork = givesNothing(201)({
  access: 'edit',
  method: 'PUT',
  path: '/artworks/:hash',
  body: bytes('application/octet-stream', MAX_ARTWORK_BYTES),
  again: true,
});

/** One of the demo's pictures. */
export const readSample = givesRaw()({
  access: 'edit',
  method: 'GET',
  path: '/samples/:name',
  usesDatabase: false,
});
