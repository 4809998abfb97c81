import { nameOwner, renameVisitor } from '#server/people';
import { checkId } from '~/api/checks';
import { answers, on } from '~/api/handle';
import * as api from '~/api/people';

export const action = answers(
  on(api.namePerson, async ({ db, visitor, params: { id }, body: { name } }) => {
    // whoever came by a link has a name of their own, and nobody else's
    if (visitor) await renameVisitor(db, { id: visitor.id, name });
    else await nameOwner(db, { id: checkId(id), name });
    return null;
  }),
);
