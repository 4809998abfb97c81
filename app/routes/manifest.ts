import { readable } from '#core/formats/registry';
import { PICTURE_TYPES } from '#core/picture/sniff';
import { sharePath } from '#server/http/share';
import type { Route } from './+types/manifest';

/** The endings of every file that opens, by their media types, as an installed application tells the system. */
function accepted(): Record<string, string[]> {
  const byType: Record<string, string[]> = {};
  for (const { mime, endings } of [...readable, ...PICTURE_TYPES]) {
    const type = mime.split(';')[0]!;
    byType[type] = [...new Set([...(byType[type] ?? []), ...endings.map((e) => `.${e}`)])];
  }
  return byType;
}

/** What a system needs to know of Papillon to install it, to open files with it and to share with it. */
export function loader({ request }: Route.LoaderArgs): Response {
  const accept = accepted();
  const share = sharePath(request);
  return Response.json(
    {
      id: '/',
      name: 'Papillon',
      short_name: 'Papillon',
      description: 'Swatch libraries: gathered, arranged, handed over.',
      start_url: '/',
      display: 'standalone',
      background_color: '#cbcbcb',
      theme_color: '#d6d6d6',
      icons: [
        { src: '/icons/192.png', sizes: '192x192', type: 'image/png' },
        { src: '/icons/512.png', sizes: '512x512', type: 'image/png' },
        { src: '/icons/maskable-512.png', sizes: '512x512', type: 'image/png', purpose: 'maskable' },
      ],
      file_handlers: [{ action: '/', accept }],
      // the service worker takes what is shared: it never leaves this machine
      ...(share
        ? {
            share_target: {
              action: share,
              method: 'POST',
              enctype: 'multipart/form-data',
              params: {
                title: 'title',
                text: 'text',
                url: 'url',
                files: [{ name: 'files', accept: [...Object.keys(accept), ...Object.values(accept).flat()] }],
              },
            },
          }
        : {}),
    },
    { headers: { 'Content-Type': 'application/manifest+json', 'Cache-Control': 'no-store' } },
  );
}
