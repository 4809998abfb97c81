import { readFile } from 'node:fs/promises';
import { basename, join } from 'node:path';
import * as api from '~/api/assets';
import { answers, on } from '~/api/handle';

/** There are none outside the demo. */
export const loader = answers(
  on(api.readSample, async ({ params }) => {
    const folder = process.env.PAPILLON_SAMPLES;
    const bytes = folder && (await readFile(join(folder, basename(params.name))).catch(() => null));
    return bytes
      ? new Response(new Uint8Array(bytes), {
          headers: { 'Content-Type': 'image/png', 'Cache-Control': 'max-age=3600' },
        })
      : new Response('This picture does not exist.', { status: 404 });
  }),
);
