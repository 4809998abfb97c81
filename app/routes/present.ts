import { point } from '#server/present';
import { wake } from '#server/wake';
import { answers, on } from '~/api/handle';
import * as api from '~/api/people';

export const action = answers(
  on(api.pointAt, async ({ db, params: { id }, body: { page, selection }, visitor }) => {
    await point(db, id, page, selection, visitor?.id ?? null);
    wake();
    return null;
  }),
);
