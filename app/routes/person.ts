import { nameOwner } from '#server/people';
import { checkId } from '~/api/checks';
import { answers, on } from '~/api/handle';
import * as api from '~/api/people';

export const action = answers(
  on(api.nameOwner, async ({ db, params: { id }, body: { name } }) => {
    await nameOwner(db, { id: checkId(id), name });
    return null;
  }),
);
