import { checkKitChoices } from '#core/formats/checks';
import { deletePreset, keepPreset } from '#server/kits';
import { answers, on } from '~/api/handle';
import * as api from '~/api/kits';

export const action = answers(
  on(api.changePreset, async ({ db, body }) => {
    if ('forget' in body) await deletePreset(db, body.forget);
    else {
      checkKitChoices({ scope: { what: 'library' }, destinations: body.keep.destinations });
      await keepPreset(db, body.keep);
    }
    return null;
  }),
);
