import * as assets from './assets';
import * as books from './books';
import type { Endpoint } from './endpoint';
import * as kits from './kits';
import * as libraries from './libraries';
import * as links from './links';
import * as people from './people';
import * as session from './session';
import * as shared from './shared';

/** Everything that pages can ask of the server, besides the pages themselves. */
export const endpoints: readonly Endpoint[] = [
  assets,
  books,
  kits,
  libraries,
  links,
  people,
  session,
  shared,
].flatMap((area) => Object.values(area)) as Endpoint[];
