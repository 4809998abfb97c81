import { checkKitChoices } from '#core/formats/checks';
import { answered } from '#server/answers';
import { readJson } from '#server/http/bodies';
import { deletePreset, keepPreset } from '#server/kits';
import { database } from '#server/open';
import type { Route } from './+types/presets';
import { checkPreset } from './checks';

/** Keeps or forgets a preset. */
export const action = ({ request }: Route.ActionArgs) =>
  answered(async () => {
    const wanted = checkPreset(await readJson(request));
    const db = await database();
    if ('forget' in wanted) await deletePreset(db, wanted.forget);
    else {
      checkKitChoices({ scope: { what: 'library' }, destinations: wanted.keep.destinations });
      await keepPreset(db, wanted.keep);
    }
    return new Response(null, { status: 204 });
  });
