import { PassThrough } from 'node:stream';
import { createReadableStreamFromReadable } from '@react-router/node';
import { renderToPipeableStream } from 'react-dom/server';
import {
  type AppLoadContext,
  type EntryContext,
  type HandleErrorFunction,
  isRouteErrorResponse,
  ServerRouter,
} from 'react-router';
import { POLICY } from '#server/http/headers';
import { log, pathOf } from '#server/log';
import { NonceContext } from './ui/nonce';

// the guards before the routes read what there is to be asked
export { endpoints } from './api';

/** What the page waits for on the server may take so long, ms. */
export const streamTimeout = 10_000;

export default function handleRequest(
  request: Request,
  status: number,
  headers: Headers,
  context: EntryContext,
  { nonce }: Partial<AppLoadContext> = {},
): Promise<Response> {
  headers.set('Content-Type', 'text/html; charset=utf-8');
  headers.set('Cache-Control', 'no-store');
  // the development server has its own scripts, and none of these guards
  if (nonce) headers.set('Content-Security-Policy', POLICY.page(nonce));
  if (request.method === 'HEAD') return Promise.resolve(new Response(null, { status, headers }));
  return new Promise((resolve, reject) => {
    let sent = false;
    const timer = setTimeout(() => abort(), streamTimeout + 1000);
    const { pipe, abort } = renderToPipeableStream(
      <NonceContext value={nonce}>
        <ServerRouter context={context} url={request.url} {...(nonce ? { nonce } : {})} />
      </NonceContext>,
      {
        nonce,
        // nothing here comes later than the rest
        onAllReady() {
          sent = true;
          clearTimeout(timer);
          const body = new PassThrough();
          const stream = createReadableStreamFromReadable(body);
          pipe(body);
          resolve(new Response(stream, { headers, status }));
        },
        onShellError: reject,
        onError(error) {
          if (sent) log.error({ error }, 'A page failed while it was sent');
        },
      },
    );
  });
}

/** What a route answers in words is not a mistake, and neither is what the browser gave up. */
export const handleError: HandleErrorFunction = (error, { request }) => {
  if (request.signal.aborted || isRouteErrorResponse(error)) return;
  log.error({ error, path: pathOf(new URL(request.url).pathname) }, 'A page failed');
};
