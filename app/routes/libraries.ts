import { checkLibrary, ShapeError } from '#core/swatch/index';
import { database } from '#server/db';
import { createLibrary, listLibraries } from '#server/libraries';
import type { Route } from './+types/libraries';

/** The libraries by name, to choose one from. */
export async function loader() {
  const list = await listLibraries(await database());
  return Response.json(list.map(({ id, name, swatchCount }) => ({ id, name, swatchCount })));
}

/** Makes a library from what is posted and answers with its id. */
export async function action({ request }: Route.ActionArgs) {
  try {
    return new Response(await createLibrary(await database(), checkLibrary(await request.json())), {
      status: 201,
    });
  } catch (error) {
    if (error instanceof ShapeError || error instanceof SyntaxError)
      return new Response(error.message, { status: 400 });
    throw error;
  }
}
