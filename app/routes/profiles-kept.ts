import { keepProfile, listProfiles } from '#server/profiles';
import * as api from '~/api/assets';
import { answers, on } from '~/api/handle';

export const loader = answers(
  on(api.listProfiles, async ({ db, visitor }) => (visitor ? [] : listProfiles(db))),
);

export const action = answers(on(api.keepProfile, ({ db, body }) => keepProfile(db, body)));
