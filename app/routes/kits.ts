import { checkKitChoices } from '#core/formats/checks';
import { answered } from '#server/answers';
import { readJson } from '#server/http/bodies';
import { keepKit } from '#server/kits';
import { database } from '#server/open';
import type { Route } from './+types/kits';
import { checkKit } from './checks';

/** Remembers that a kit was taken. */
export const action = ({ params, request }: Route.ActionArgs) =>
  answered(async () => {
    const { revision, choices } = checkKit(await readJson(request));
    const kit = await keepKit(await database(), params.id, revision, checkKitChoices(choices));
    return Response.json(kit, { status: 201 });
  });
