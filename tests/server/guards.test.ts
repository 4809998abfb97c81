import { connect } from 'node:net';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { libraryOf } from '../../core/testing.ts';
import { type Answer, Running } from './running.ts';

let server: Running;
let id = '';
beforeAll(async () => {
  server = await Running.start();
  id = await (await server.post('/libraries', hull())).text();
});
afterAll(() => server?.stop());

const hull = () => libraryOf('Hull', { Deck: [['Teak', '#6d4a2c']] });
const names = async () =>
  ((await (await fetch(`${server.url}/libraries`)).json()) as { name: string }[]).map((l) => l.name);

/** Everything that writes, with a body it would take. */
const writing: [method: string, path: () => string, body: () => unknown][] = [
  ['POST', () => '/libraries', hull],
  ['POST', () => '/?index', () => ({ intent: 'delete', ids: [id] })],
  ['POST', () => '/?index', () => ({ intent: 'new', id: 'planted-one', name: 'Planted' })],
  ['POST', () => `/libraries/${id}/changes`, () => ({ by: 'x', seen: 0, changes: [rename('Stolen')] })],
  ['POST', () => `/libraries/${id}/changes/history`, () => ({ upTo: 1 })],
  [
    'POST',
    () => `/libraries/${id}/kits`,
    () => ({ revision: 0, choices: { scope: { what: 'library' }, destinations: [] } }),
  ],
  ['POST', () => '/presets', () => ({ keep: { name: 'Planted', destinations: [] } })],
  ['POST', () => '/surround', () => 'dark'],
  ['PATCH', () => `/libraries/${id}/pictures/p`, () => []],
  ['DELETE', () => `/libraries/${id}/pictures/p`, () => ''],
];
let n = 0;
const rename = (name: string) => ({
  id: `rename-${String(n++).padStart(4, '0')}`,
  by: 'x',
  label: 'rename',
  ops: [{ op: 'set', of: 'library', id, fields: { name } }],
});

const send = (
  method: string,
  path: string,
  body: unknown,
  headers: Record<string, string>,
): Promise<Answer> => {
  const text = body === '' ? '' : JSON.stringify(body);
  return server.raw(
    {
      method,
      path,
      headers: { 'Content-Type': 'application/json', 'Content-Length': Buffer.byteLength(text), ...headers },
    },
    text,
  );
};

describe('pages of other sites', () => {
  const foreign: [string, Record<string, string>][] = [
    ['another site', { Origin: 'http://evil.example', 'Sec-Fetch-Site': 'cross-site' }],
    ['another site in an old browser', { Origin: 'http://evil.example' }],
    ['a page without an origin', { Origin: 'null' }],
    ['another program on this machine', { Origin: 'http://localhost:1', 'Sec-Fetch-Site': 'same-site' }],
    ['another port, whatever it says of its site', { Origin: 'http://127.0.0.1:1' }],
    ['an origin that is none', { Origin: '127.0.0.1' }],
  ];
  it.each(foreign)('%s changes nothing', async (_, headers) => {
    for (const [method, path, body] of writing) {
      const answer = await send(method, path(), body(), headers);
      expect([path(), answer.status, answer.text]).toEqual([
        path(),
        403,
        'Other sites may not change anything in Papillon.',
      ]);
    }
    expect(await names()).toEqual(['Hull']);
  });

  it('nor with a form, whose body needs nobody’s leave', async () => {
    for (const type of [
      'text/plain',
      'application/x-www-form-urlencoded',
      'multipart/form-data; boundary=x',
      '',
      'text/json',
    ])
      for (const [method, path, body] of writing.filter(([m]) => m === 'POST')) {
        const answer = await send(method, path(), body(), { 'Content-Type': type });
        expect([path(), answer.status]).toEqual([path(), 415]);
        expect(answer.text).toMatch(/must be JSON/);
      }
    expect(await names()).toEqual(['Hull']);
  });

  it('read nothing, and show nothing of it in a frame', async () => {
    for (const path of [
      '/libraries',
      `/libraries/${id}/rows`,
      `/libraries/${id}/changes`,
      '/',
      '/favicon.svg',
    ])
      for (const site of ['cross-site', 'same-site'])
        for (const [mode, dest] of [
          ['no-cors', 'image'],
          ['cors', 'empty'],
          ['navigate', 'iframe'],
          ['navigate', 'object'],
        ]) {
          const answer = await server.raw({
            path,
            headers: { 'Sec-Fetch-Site': site, 'Sec-Fetch-Mode': mode, 'Sec-Fetch-Dest': dest },
          });
          expect([path, mode, answer.status]).toEqual([path, mode, 403]);
        }
  });

  it('may link here', async () => {
    const headers = {
      'Sec-Fetch-Site': 'cross-site',
      'Sec-Fetch-Mode': 'navigate',
      'Sec-Fetch-Dest': 'document',
    };
    expect((await server.raw({ path: '/', headers })).status).toBe(200);
  });

  it('get no leave when a browser asks for one', async () => {
    const answer = await server.raw({
      method: 'OPTIONS',
      path: '/libraries',
      headers: {
        Origin: 'http://evil.example',
        'Access-Control-Request-Method': 'POST',
        'Access-Control-Request-Headers': 'content-type',
      },
    });
    expect(Object.keys(answer.headers).filter((h) => h.startsWith('access-control'))).toEqual([]);
  });

  it('its own page writes, with and without what newer browsers send', async () => {
    const own = { Origin: server.url };
    for (const headers of [
      own,
      { ...own, 'Sec-Fetch-Site': 'same-origin' },
      { 'Sec-Fetch-Site': 'same-origin' },
      { 'Sec-Fetch-Site': 'same-origin', Origin: 'null' },
      {} as Record<string, string>,
    ]) {
      const answer = await send('POST', '/surround', 'dark', headers);
      expect(answer.status).toBe(204);
    }
  });
});

describe('a name that is not the server’s', () => {
  it.each([
    'evil.example',
    'evil.example:80',
    '127.0.0.1.evil.example',
    'localhost.evil.example',
    '10.0.0.1',
    'x@127.0.0.1',
  ])('“%s” is answered by no route', async (host) => {
    for (const [method, path, body] of [
      ...writing,
      ['GET', () => '/libraries', () => ''],
      ['GET', () => '/assets/x.js', () => ''],
    ] as typeof writing) {
      const answer = await send(method, path(), body(), { Host: host, Origin: `http://${host}` });
      expect([400, 421]).toContain(answer.status);
      expect(answer.text).toMatch(/PAPILLON_HOSTS|which host/);
    }
    expect(await names()).toEqual(['Hull']);
  });

  it('is not taken from what a proxy would say either', async () => {
    const answer = await send('POST', '/surround', 'dark', {
      'X-Forwarded-Host': 'evil.example',
      Origin: 'http://evil.example',
    });
    expect(answer.status).toBe(403);
  });

  it('its own names are, with any port a tunnel may give them', async () => {
    for (const host of ['localhost', 'LOCALHOST:1234', '127.0.0.1', '[::1]:3000', 'localhost.'])
      expect((await server.raw({ path: '/libraries', headers: { Host: host } })).status).toBe(200);
  });
});

describe('a request for a host that is in its first line, or that there cannot be', () => {
  const first = (line: string, host = '127.0.0.1') =>
    new Promise<string>((resolve, reject) => {
      const socket = connect(Number(new URL(server.url).port), '127.0.0.1');
      let heard = '';
      socket.on('data', (data) => {
        heard += data;
      });
      socket.on('close', () => resolve(heard));
      socket.on('error', reject);
      socket.write(`${line} HTTP/1.1\r\nHost: ${host}\r\nConnection: close\r\n\r\n`);
    });

  it.each([
    ['GET /libraries', '127.0.0.1:99999', 400],
    ['GET /libraries', '127.0.0.1:80:80', 400],
    ['GET /libraries', '127.0.0.1/x', 421],
    ['GET http://evil.example/libraries', '127.0.0.1', 421],
    ['GET http://evil.example:99999/libraries', '127.0.0.1', 400],
    ['GET http://127.0.0.1/libraries', '127.0.0.1', 200],
    ['GET http://127.0.0.1//evil.example', '127.0.0.1', 404],
    ['OPTIONS *', '127.0.0.1', 400],
    ['GET ftp://127.0.0.1/', '127.0.0.1', 400],
  ])('%s, for %s, is answered with %i', async (line, host, status) => {
    const answer = await first(line, host);
    expect(answer.split('\r\n')[0]).toMatch(new RegExp(`^HTTP/1.1 ${status} `));
  });
});

describe('what answers bring with them', () => {
  it('pages run their own scripts and style sheets alone, marked again each time', async () => {
    const [one, two] = [await server.raw({ path: '/' }), await server.raw({ path: '/' })];
    const policy = String(one.headers['content-security-policy']);
    const nonce = /script-src 'nonce-([\w-]{20,})'/.exec(policy)?.[1];
    expect(nonce).toBeTruthy();
    expect(String(two.headers['content-security-policy'])).not.toContain(nonce);
    expect(policy).not.toMatch(
      /unsafe-eval'(?<!wasm-unsafe-eval')|script-src[^;]*unsafe-inline|style-src [^;]*unsafe-inline|\*/,
    );
    for (const part of [
      "default-src 'none'",
      "frame-ancestors 'none'",
      "base-uri 'none'",
      "object-src 'none'",
      "form-action 'self'",
    ])
      expect(policy).toContain(part);
    const scripts = [...one.text.matchAll(/<script\b[^>]*>/g)].map(([tag]) => tag);
    const styles = [...one.text.matchAll(/<style\b[^>]*>/g)].map(([tag]) => tag);
    expect(scripts.length).toBeGreaterThan(0);
    for (const tag of [...scripts, ...styles]) expect(tag).toContain(`nonce="${nonce}"`);
  });

  it.each(['/', '/libraries', '/nothing', '/%', '/favicon.svg', '/gather.data'])(
    '%s has the headers that keep it apart',
    async (path) => {
      const { headers } = await server.raw({ path });
      expect(headers).toMatchObject({
        'x-content-type-options': 'nosniff',
        'referrer-policy': 'same-origin',
        'cross-origin-opener-policy': 'same-origin',
        'cross-origin-embedder-policy': 'require-corp',
        'cross-origin-resource-policy': 'same-origin',
        'content-security-policy': expect.stringContaining("frame-ancestors 'none'"),
      });
      expect(headers['x-powered-by']).toBeUndefined();
      expect(headers['server']).toBeUndefined();
    },
  );

  it('data are no page, even opened by themselves', async () => {
    const { headers } = await server.raw({ path: '/libraries' });
    expect(headers['content-security-policy']).toBe("default-src 'none'; frame-ancestors 'none'; sandbox");
  });
});

describe('bodies', () => {
  const MB = 1024 * 1024;
  const residentMB = async () => {
    const { readFileSync } = await import('node:fs');
    return Number(/VmHWM:\s+(\d+)/.exec(readFileSync(`/proc/${server.pid}/status`, 'utf8'))?.[1]) / 1024;
  };

  it('over the limit of their place are refused with a reason, before they are read, in little time and memory', async () => {
    const before = await residentMB();
    for (const [path, size] of [
      ['/presets', 60 * MB],
      ['/presets', 1.1 * MB],
      ['/surround', 2 * MB],
      ['/?index', 2 * MB],
      [`/libraries/${id}/kits`, 2 * MB],
      [`/libraries/${id}/changes/history`, 2 * MB],
      [`/libraries/${id}/changes`, 70 * MB],
      ['/libraries', 70 * MB],
      ['/nowhere', 70 * MB],
    ] as const) {
      const start = performance.now();
      const response = await server.post(path, `[${' '.repeat(size)}]`);
      expect([path, response.status]).toEqual([path, 413]);
      expect(await response.text()).toMatch(/MB.*Send it in parts/);
      expect(performance.now() - start).toBeLessThan(5000);
    }
    expect((await residentMB()) - before).toBeLessThan(200);
  });

  it('that do not say how long they are are counted as they come', async () => {
    const answer = await new Promise<Answer>((resolve, reject) => {
      void import('node:http').then(({ request }) => {
        const sent = request(
          `${server.url}/presets`,
          { method: 'POST', headers: { 'Content-Type': 'application/json', 'Transfer-Encoding': 'chunked' } },
          (response) => {
            let text = '';
            response.on('data', (d) => {
              text += d;
            });
            response.on('end', () =>
              resolve({ status: response.statusCode!, headers: response.headers, text }),
            );
          },
        );
        sent.on('error', reject);
        for (let i = 0; i < 30; i++) sent.write(' '.repeat(100_000));
        sent.end('{}');
      });
    });
    expect([answer.status, answer.text]).toEqual([413, expect.stringMatching(/up to 1 MB/)]);
  });

  it('of a library may be large, but not hold more than any library', async () => {
    const swatch = { name: 'x', kind: 'process', color: { space: 'rgb', components: [0, 0, 0] } };
    const large = {
      id: 'l',
      name: 'Large',
      groups: [
        {
          id: 'g',
          name: 'g',
          swatches: Array.from({ length: 20_000 }, (_, i) => ({
            id: `s${i}`,
            ...swatch,
            note: 'y'.repeat(60),
          })),
        },
      ],
    };
    expect((await server.post('/libraries', large)).status).toBe(201);
    const start = performance.now();
    const many = await server.post('/libraries', `[${'[],'.repeat(10_000_000)}[]]`);
    expect([many.status, await many.text()]).toEqual([
      413,
      expect.stringMatching(/more values than any library/),
    ]);
    expect(performance.now() - start).toBeLessThan(10_000);
  });

  it('that lie too deep, are cut off or no JSON at all are distinguished from sound ones', async () => {
    for (const [body, why] of [
      ['['.repeat(500) + ']'.repeat(500), /more than 64 deep/],
      [`${'{"a":'.repeat(500)}1${'}'.repeat(500)}`, /more than 64 deep/],
      ['{"by":', /no JSON, or is cut off/],
      ['', /no JSON, or is cut off/],
      ['\u0000', /no JSON, or is cut off/],
    ] as const)
      for (const path of ['/presets', '/libraries', `/libraries/${id}/changes`, '/surround', '/?index']) {
        const response = await server.post(path, body);
        expect([path, response.status]).toEqual([path, 400]);
        expect(await response.text()).toMatch(why);
      }
  });
});

describe('a server that others reach', () => {
  const others = { HOST: '0.0.0.0' };

  it('does not start without a password, and says why', async () => {
    const alone = new Running();
    const child = alone.spawn({ ...others, PORT: '0', PAPILLON_PASSWORD: '' });
    const code = await new Promise((resolve) => child.once('exit', resolve));
    expect(code).toBe(1);
    expect(alone.log).toMatch(/does not start: HOST=0\.0\.0\.0.*PAPILLON_PASSWORD/s);
    await alone.stop();
  });

  it('asks for it before anything else, and slows down whoever guesses', async () => {
    const shared = await Running.start({ ...others, PAPILLON_PASSWORD: 'a long way to Tipperary' });
    try {
      const page = await shared.raw({ path: '/libraries', headers: { Accept: 'text/html' } });
      expect([page.status, page.text]).toEqual([401, expect.stringContaining('type="password"')]);
      for (const path of ['/libraries', '/gather.data', `/libraries/x/rows`, '/samples/x.png']) {
        const answer = await shared.raw({ path });
        expect([path, answer.status, answer.text]).toEqual([path, 401, expect.stringMatching(/signed out/)]);
      }
      expect((await shared.post('/libraries', hull())).status).toBe(401);

      const attempt = (password: string, headers: Record<string, string> = {}) => {
        const body = new URLSearchParams({ password, to: '/gather' }).toString();
        return shared.raw(
          {
            method: 'POST',
            path: '/sign-in',
            headers: {
              'Content-Type': 'application/x-www-form-urlencoded',
              'Content-Length': body.length,
              ...headers,
            },
          },
          body,
        );
      };
      expect((await attempt('a long way to Tipperary', { Origin: 'http://evil.example' })).status).toBe(403);
      const right = await attempt('a long way to Tipperary');
      expect([right.status, right.headers.location]).toEqual([303, '/gather']);
      const [cookie] = right.headers['set-cookie']!;
      expect(cookie).toMatch(/^papillon-session=[\w-]{40,}; .*HttpOnly; SameSite=Strict/);
      const session = cookie.split(';')[0];
      expect((await shared.raw({ path: '/libraries', headers: { Cookie: session } })).text).toBe('[]');
      expect((await shared.raw({ path: '/libraries', headers: { Cookie: `${session}x` } })).status).toBe(401);

      // whoever guesses has to wait longer each time, and gains nothing by naming other addresses
      const statuses: number[] = [];
      for (let i = 0; i < 12; i++)
        statuses.push((await attempt('wrong', { 'X-Forwarded-For': `10.0.0.${i}` })).status);
      expect(statuses.slice(0, 3)).toEqual([401, 401, 401]);
      expect(statuses.slice(3)).toContain(429);
      const late = await attempt('a long way to Tipperary');
      expect([late.status, late.text]).toEqual([429, expect.stringMatching(/Wait \d+ seconds? and try/)]);
      expect(Number(late.headers['retry-after'])).toBeGreaterThan(0);
      // who was signed in before waits for nobody who guesses
      const known = right.headers['set-cookie']!.find((c) => c.startsWith('papillon-known='))!.split(';')[0]!;
      expect((await attempt('a long way to Tipperary', { Cookie: known })).status).toBe(303);
      const forged = `${known.slice(0, -3)}xyz`;
      expect((await attempt('a long way to Tipperary', { Cookie: forged })).status).toBe(429);

      // signing out ends it on the server, too
      await shared.raw(
        {
          method: 'POST',
          path: '/sign-out',
          headers: { Cookie: session, 'Content-Type': 'application/json', 'Content-Length': 2 },
        },
        '{}',
      );
      expect((await shared.raw({ path: '/libraries', headers: { Cookie: session } })).status).toBe(401);
    } finally {
      await shared.stop();
    }
  });

  it('leads nowhere else after signing in', async () => {
    const shared = await Running.start({ PAPILLON_PASSWORD: 'a long way to Tipperary' });
    try {
      for (const to of [
        'https://evil.example/',
        '//evil.example',
        '/\\evil.example',
        'javascript:alert(1)',
        '"><script>',
        '/.//evil.example',
        '/a/..//evil.example',
        '/%2e//evil.example',
      ]) {
        const body = new URLSearchParams({ password: 'a long way to Tipperary', to }).toString();
        const answer = await shared.raw(
          {
            method: 'POST',
            path: '/sign-in',
            headers: { 'Content-Type': 'application/x-www-form-urlencoded', 'Content-Length': body.length },
          },
          body,
        );
        expect([to, answer.headers.location]).toEqual([to, '/']);
      }
    } finally {
      await shared.stop();
    }
  });

  it('is called by the names it is given', async () => {
    const shared = await Running.start({ PAPILLON_HOSTS: 'colours.studio.example, other.example:8443' });
    try {
      const ask = (host: string, origin: string) =>
        shared.raw(
          {
            method: 'POST',
            path: '/surround',
            headers: { Host: host, Origin: origin, 'Content-Type': 'application/json', 'Content-Length': 6 },
          },
          '"dark"',
        );
      expect((await ask('colours.studio.example', 'http://colours.studio.example')).status).toBe(204);
      // a proxy may ask under the name it knows, for a page under the other
      expect((await ask('127.0.0.1', 'https://colours.studio.example')).status).toBe(204);
      expect((await ask('127.0.0.1', 'https://other.example:8443')).status).toBe(204);
      expect((await ask('evil.example', 'http://evil.example')).status).toBe(421);
      expect((await ask('colours.studio.example', 'http://evil.example')).status).toBe(403);
    } finally {
      await shared.stop();
    }
  });
});

describe('what the build made', () => {
  it('goes packed to those who take it, plain to others, the same to both, and never changes', async () => {
    const [script] = /\/assets\/[\w.-]+\.js/.exec(await (await fetch(server.url)).text())!;
    const ask = (encodings?: string, headers = {}) =>
      server.raw({
        path: script,
        headers: { ...(encodings ? { 'Accept-Encoding': encodings } : {}), ...headers },
      });
    const encoding = async (encodings?: string) => (await ask(encodings)).headers['content-encoding'];
    expect(
      await Promise.all([undefined, 'identity', 'br;q=0, identity', 'gzip, br', 'gzip'].map(encoding)),
    ).toEqual([undefined, undefined, undefined, 'br', 'gzip']);
    const { headers, text } = await ask('identity');
    // fetch takes and unpacks brotli
    expect(await (await fetch(server.url + script)).text()).toBe(text);
    expect(headers).toMatchObject({
      'cache-control': expect.stringMatching(/max-age=31536000.*immutable/),
      'content-security-policy': expect.any(String),
      vary: expect.stringMatching(/Accept-Encoding/i),
    });
    const { etag } = (await ask('br')).headers;
    expect((await ask('br', { 'If-None-Match': etag })).status).toBe(304);
  });
});
