import { checkKitChoices } from '#core/formats/index';
import { checker } from '#core/swatch/index';
import { answered } from '#server/answers';
import { database } from '#server/db';
import { deletePreset, keepPreset, type Preset } from '#server/kits';
import type { Route } from './+types/presets';

const name = { type: 'string', minLength: 1, maxLength: 200 };
const checkBody = checker<{ keep: Preset } | { forget: string }>({
  oneOf: [
    {
      type: 'object',
      required: ['keep'],
      properties: {
        keep: {
          type: 'object',
          required: ['name', 'destinations'],
          properties: { name, destinations: { type: 'array' } },
          additionalProperties: false,
        },
      },
      additionalProperties: false,
    },
    { type: 'object', required: ['forget'], properties: { forget: name }, additionalProperties: false },
  ],
});

/** Keeps or forgets a preset. */
export const action = ({ request }: Route.ActionArgs) =>
  answered(async () => {
    const wanted = checkBody(await request.json());
    const db = await database();
    if ('forget' in wanted) await deletePreset(db, wanted.forget);
    else {
      checkKitChoices({ scope: { what: 'library' }, destinations: wanted.keep.destinations });
      await keepPreset(db, wanted.keep);
    }
    return new Response(null, { status: 204 });
  });
