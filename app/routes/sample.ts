import { readFile } from 'node:fs/promises';
import { basename, join } from 'node:path';
import type { Route } from './+types/sample';

/** One of the demo's pictures; there are none outside the demo. */
export async function loader({ params }: Route.LoaderArgs) {
  const folder = process.env.PAPILLON_SAMPLES;
  const bytes = folder && (await readFile(join(folder, basename(params.name))).catch(() => null));
  return bytes
    ? new Response(new Uint8Array(bytes), {
        headers: { 'Content-Type': 'image/png', 'Cache-Control': 'max-age=3600' },
      })
    : new Response('This picture does not exist.', { status: 404 });
}
