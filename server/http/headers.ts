import { randomBytes } from 'node:crypto';
import type { RequestHandler } from 'express';
import helmet from 'helmet';
import onHeaders from 'on-headers';

/** A page's scripts and style sheets show this, a new one for every answer, so that none that got into it runs. */
export const newNonce = () => randomBytes(16).toString('base64url');

const SELF = "'self'";
/** Script, worker and style files: what a worker may do is reported by the answer that brings its script. */
const assets = {
  'default-src': ["'none'"],
  // the colour engine is WebAssembly; code made of text is not run
  'script-src': [SELF, "'wasm-unsafe-eval'"],
  'connect-src': [SELF],
  'worker-src': [SELF],
  'font-src': [SELF],
  'base-uri': ["'none'"],
  'form-action': ["'none'"],
  'frame-ancestors': ["'none'"],
};

const page = (nonce: string) => ({
  ...assets,
  // 'strict-dynamic': what a known script loads is known, and nothing else, wherever it lies
  'script-src': [`'nonce-${nonce}'`, "'strict-dynamic'", "'wasm-unsafe-eval'"],
  'style-src': [SELF, `'nonce-${nonce}'`],
  // styles of single elements cannot load or run anything; React writes them into the page it sends
  'style-src-attr': ["'unsafe-inline'"],
  'img-src': [SELF, 'blob:', 'data:'],
  'form-action': [SELF],
  'manifest-src': [SELF],
  'object-src': ["'none'"],
});

/** Everything else is only data: even opened by itself it does nothing. */
const data = { 'default-src': ["'none'"], 'frame-ancestors': ["'none'"], sandbox: [] };

const PERMISSIONS = ['camera', 'microphone', 'geolocation', 'payment', 'usb', 'serial', 'hid', 'midi']
  .map((name) => `${name}=()`)
  .join(', ');

const written = (policy: Record<string, string[]>) =>
  Object.entries(policy)
    .map(([name, values]) => [name, ...values].join(' '))
    .join('; ');

/** The policies by what an answer is. */
export const POLICY = {
  page: (nonce: string) => written(page(nonce)),
  assets: written(assets),
  data: written(data),
};

/** The headers of every answer; pages and assets bring a policy of their own, all else gets that for data. */
export const headers: RequestHandler[] = [
  helmet({
    contentSecurityPolicy: false,
    crossOriginEmbedderPolicy: { policy: 'require-corp' },
    crossOriginOpenerPolicy: { policy: 'same-origin' },
    crossOriginResourcePolicy: { policy: 'same-origin' },
    // with none at all, forms would not tell their origin
    referrerPolicy: { policy: 'same-origin' },
    xFrameOptions: { action: 'deny' },
  }),
  (_request, response, next) => {
    response.setHeader('Permissions-Policy', PERMISSIONS);
    // at the end, since two policies would both hold
    onHeaders(response, () => {
      if (!response.hasHeader('Content-Security-Policy'))
        response.setHeader('Content-Security-Policy', POLICY.data);
    });
    next();
  },
];
