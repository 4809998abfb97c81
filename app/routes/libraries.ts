import { checkLibrary } from '#core/swatch/checks';
import { answered } from '#server/answers';
import { LIBRARY_BYTES, readJson } from '#server/http/bodies';
import { createLibrary, listNames } from '#server/libraries';
import { database } from '#server/open';
import type { Route } from './+types/libraries';
import { checkId } from './checks';

/** The libraries by name, to choose one from. */
export const loader = () => answered(async () => Response.json(await listNames(await database())));

/** Makes a library from what is posted; with an id it is to have, the same request again makes no second one. */
export const action = ({ request }: Route.ActionArgs) =>
  answered(async () => {
    const wanted = new URL(request.url).searchParams.get('id');
    // what a file says of itself as a book is for those who keep it as one
    const { book: _, ...library } = checkLibrary(await readJson(request, LIBRARY_BYTES));
    const id = await createLibrary(await database(), library, wanted === null ? undefined : checkId(wanted));
    return new Response(id, { status: 201 });
  });
