import { checkKitChoices, type KitChoices } from '#core/formats/index';
import { checker, ShapeError } from '#core/swatch/index';
import { database } from '#server/db';
import { keepKit } from '#server/kits';
import { readLibrary } from '#server/libraries';
import type { Route } from './+types/kits';

const checkBody = checker<{ revision: number; choices: KitChoices }>({
  type: 'object',
  required: ['revision', 'choices'],
  properties: { revision: { type: 'integer', minimum: 0 }, choices: { type: 'object' } },
  additionalProperties: false,
});

/** Remembers that a kit was taken. */
export async function action({ params, request }: Route.ActionArgs) {
  try {
    const { revision, choices } = checkBody(await request.json());
    const db = await database();
    if (!(await readLibrary(db, params.id)))
      return new Response('There is no such library.', { status: 404 });
    return Response.json(await keepKit(db, params.id, revision, checkKitChoices(choices)), { status: 201 });
  } catch (error) {
    if (error instanceof ShapeError || error instanceof SyntaxError)
      return new Response(error.message, { status: 400 });
    throw error;
  }
}
