import type { Surround } from '~/theme/tokens';
import { anything, givesNothing, json } from './endpoint';

/** Keeps which surround was chosen. */
export const chooseSurround = givesNothing()({
  method: 'POST',
  path: '/surround',
  access: 'edit',
  body: json<Surround>(async () => (await import('./checks')).checkSurround),
  usesDatabase: false,
});

/** Ends the session; answered before the routes, in `server/http/sign-in.ts`. */
export const signOut = givesNothing()({ method: 'POST', path: '/sign-out', body: anything });
