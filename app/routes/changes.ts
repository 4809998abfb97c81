import { checker, EditError, ShapeError } from '#core/swatch/index';
import { database } from '#server/db';
import { type Change, changeLibrary, readLibrary } from '#server/libraries';
import type { Route } from './+types/changes';

const checkBody = checker<{ change: Change; revision: number }>({
  type: 'object',
  required: ['change', 'revision'],
  properties: {
    revision: { type: 'integer' },
    change: {
      oneOf: [
        {
          type: 'object',
          required: ['edit'],
          properties: { edit: { $ref: 'edit' } },
          additionalProperties: false,
        },
        {
          type: 'object',
          required: ['step'],
          properties: { step: { enum: ['undo', 'redo'] } },
          additionalProperties: false,
        },
      ],
    },
  },
  additionalProperties: false,
});

export async function loader({ params }: Route.LoaderArgs) {
  const state = await readLibrary(await database(), params.id);
  return state ? Response.json(state) : new Response('The library is not here any more.', { status: 404 });
}

export async function action({ params, request }: Route.ActionArgs) {
  try {
    const { change, revision } = checkBody(await request.json());
    return Response.json(await changeLibrary(await database(), params.id, change, revision));
  } catch (error) {
    if (error instanceof EditError) return new Response(error.message, { status: 409 });
    if (error instanceof ShapeError || error instanceof SyntaxError)
      return new Response(error.message, { status: 400 });
    throw error;
  }
}
