import { dropPinned, linkFrom } from '#server/link-files';
import { changeLink, listLinks, renewLink, revokeLink } from '#server/links';
import { answers, on } from '~/api/handle';
import * as api from '~/api/links';

export const action = answers(
  on(api.changeLink, async ({ db, params: { id, link }, body }) => {
    const before = (await listLinks(db, id)).find((l) => l.id === link)?.data ?? null;
    const { data, pinned } = await linkFrom(db, id, body, before);
    const changed = await changeLink(db, id, link, data, pinned);
    await dropPinned(db);
    return changed;
  }),
  on(api.renewLink, ({ db, params: { id, link } }) => renewLink(db, id, link)),
  on(api.revokeLink, async ({ db, params: { id, link } }) => {
    await revokeLink(db, id, link);
    await dropPinned(db);
    return null;
  }),
);
