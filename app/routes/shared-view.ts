import { NO_LINK, PRIVATE } from '#server/http/link';
import { sharedView, viewBytes } from '#server/shared';
import { answers, on } from '~/api/handle';
import * as api from '~/api/shared';

export const loader = answers(
  on(api.readShared, async ({ db, link, params: { token }, request }) => {
    const view = await sharedView(db, link, `/s/${token}`);
    if (!view) return new Response(NO_LINK, { status: 404, headers: PRIVATE });
    const asPacked = /\bgzip\b/.test(request.headers.get('Accept-Encoding') ?? '');
    return new Response(new Uint8Array(await viewBytes(view, asPacked)), {
      headers: {
        ...PRIVATE,
        'Content-Type': 'application/json',
        ...(asPacked ? { 'Content-Encoding': 'gzip' } : {}),
        Vary: 'Accept-Encoding',
      },
    });
  }),
);
