import { PRIVATE } from '#server/http/link';
import { downloadOfLink } from '#server/link-files';
import { answers, on } from '~/api/handle';
import * as api from '~/api/shared';

export const loader = answers(
  on(api.sharedFile, async ({ db, link, params: { format } }) => {
    const file = await downloadOfLink(db, link, format);
    if (!file)
      return new Response('This link does not allow this download.', { status: 404, headers: PRIVATE });
    const name = encodeURIComponent(file.name).replaceAll("'", '%27');
    return new Response(file.bytes, {
      headers: {
        ...PRIVATE,
        'Content-Type': file.mime,
        'Content-Disposition': `attachment; filename*=UTF-8''${name}`,
      },
    });
  }),
);
