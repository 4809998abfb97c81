import { checkKitChoices } from '#core/formats/checks';
import { keepKit, listKits } from '#server/kits';
import { answers, on } from '~/api/handle';
import * as api from '~/api/kits';

export const loader = answers(on(api.listKits, ({ db, params }) => listKits(db, params.id)));

export const action = answers(
  on(api.keepKit, ({ db, params, body: { revision, choices } }) =>
    keepKit(db, params.id, revision, checkKitChoices(choices)),
  ),
);
