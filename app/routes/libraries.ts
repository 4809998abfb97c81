import { checker, checkLibrary } from '#core/swatch/index';
import { answered } from '#server/answers';
import { database } from '#server/db';
import { createLibrary, listNames } from '#server/libraries';
import type { Route } from './+types/libraries';

const checkId = checker<string>({ type: 'string', minLength: 8, maxLength: 40, pattern: '^[\\w-]+$' });

/** The libraries by name, to choose one from. */
export const loader = async () => Response.json(await listNames(await database()));

/** Makes a library from what is posted; with an id it is to have, the same request again makes no second one. */
export const action = ({ request }: Route.ActionArgs) =>
  answered(async () => {
    const wanted = new URL(request.url).searchParams.get('id');
    const library = checkLibrary(await request.json());
    const id = await createLibrary(await database(), library, wanted === null ? undefined : checkId(wanted));
    return new Response(id, { status: 201 });
  });
