import { PRIVATE } from '#server/http/link';
import { sharedWork } from '#server/shared';
import { answers, on } from '~/api/handle';
import * as api from '~/api/shared';

export const loader = answers(
  on(api.sharedWork, async ({ db, link, params: { work }, query: { colorway = '' } }) => {
    const svg = await sharedWork(db, link, work, colorway);
    if (svg === null)
      return new Response('This link does not show this work.', { status: 404, headers: PRIVATE });
    // shown as a picture, it runs and loads nothing
    return new Response(svg, { headers: { ...PRIVATE, 'Content-Type': 'image/svg+xml' } });
  }),
);
