import { linkFrom } from '#server/link-files';
import { listLinks, makeLink } from '#server/links';
import { answers, on } from '~/api/handle';
import * as api from '~/api/links';

export const loader = answers(on(api.listLinks, ({ db, params }) => listLinks(db, params.id)));

export const action = answers(
  on(api.makeLink, async ({ db, params: { id }, body }) => {
    const { data, pinned } = await linkFrom(db, id, body, null);
    return makeLink(db, id, data, pinned);
  }),
);
