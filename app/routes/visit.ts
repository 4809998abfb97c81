import { keepVisit, visitOf } from '#server/visits';
import { checkId } from '~/api/checks';
import { answers, on } from '~/api/handle';
import * as api from '~/api/people';

export const loader = answers(
  on(api.readVisit, ({ db, params: { id }, query: { by }, visitor }) =>
    visitOf(db, id, visitor?.id ?? checkId(by)),
  ),
);

export const action = answers(
  on(api.keepVisit, async ({ db, params: { id }, body: { by, seq }, visitor }) => {
    await keepVisit(db, id, visitor?.id ?? by, seq);
    return null;
  }),
);
