import { checkKitChoices, type KitChoices } from '#core/formats/index';
import { checker } from '#core/swatch/index';
import { answered } from '#server/answers';
import { database } from '#server/db';
import { keepKit } from '#server/kits';
import type { Route } from './+types/kits';

const checkBody = checker<{ revision: number; choices: KitChoices }>({
  type: 'object',
  required: ['revision', 'choices'],
  properties: { revision: { type: 'integer', minimum: 0 }, choices: { type: 'object' } },
  additionalProperties: false,
});

/** Remembers that a kit was taken. */
export const action = ({ params, request }: Route.ActionArgs) =>
  answered(async () => {
    const { revision, choices } = checkBody(await request.json());
    const kit = await keepKit(await database(), params.id, revision, checkKitChoices(choices));
    return Response.json(kit, { status: 201 });
  });
