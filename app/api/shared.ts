import type { SharedView } from '#server/shared';
import { givesJson, givesRaw } from './endpoint';

// What whoever has a link can ask: nothing else is answered to them.

/** What a link shows. */
export const readShared = givesJson<SharedView>()({ method: 'GET', path: '/s/:token/view', access: 'link' });

/** A file in one of the formats that a link allows. */
export const sharedFile = givesRaw()({ method: 'GET', path: '/s/:token/files/:format', access: 'link' });

/** The copy of a picture that is on the board of a link. */
export const sharedPicture = givesRaw()({
  method: 'GET',
  path: '/s/:token/pictures/:picture',
  access: 'link',
});

/** A drawing on the board of a link, in a colourway. */
export const sharedWork = givesRaw()({
  method: 'GET',
  path: '/s/:token/works/:work',
  query: ['colorway'],
  access: 'link',
});
