import { checker, type Library } from '#core/swatch/index';
import { answered } from '#server/answers';
import { database } from '#server/db';
import { createLibrary, listNames } from '#server/libraries';
import type { Route } from './+types/libraries';

const checkBody = checker<{ id: string; library: Library }>({
  type: 'object',
  required: ['id', 'library'],
  properties: {
    id: { type: 'string', minLength: 8, maxLength: 40, pattern: '^[\\w-]+$' },
    library: { $ref: 'library' },
  },
  additionalProperties: false,
});

/** The libraries by name, to choose one from. */
export const loader = async () => Response.json(await listNames(await database()));

/** Makes a library from what is posted, under the id it is to have; the same request again makes no second one. */
export const action = ({ request }: Route.ActionArgs) =>
  answered(async () => {
    const { id, library } = checkBody(await request.json());
    return new Response(await createLibrary(await database(), library, id), { status: 201 });
  });
