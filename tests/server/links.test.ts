import { request } from 'node:http';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { endpoints } from '../../app/api/index.ts';
import { libraryOf } from '../../core/testing.ts';
import { isOfLink } from '../../server/http/sign-in.ts';
import type { LinkData, PageLink } from '../../server/links.ts';
import { Running } from './running.ts';

// Links from outside: what whoever has one reaches, and what nobody reaches with one.

const PASSWORD = 'a long way to Tipperary';
let server: Running;
let cookie = '';
let id = '';
let other = '';

const asOwner = (path: string, method = 'GET', body?: unknown) =>
  fetch(`${server.url}${path}`, {
    method,
    headers: { Cookie: cookie, ...(body === undefined ? {} : { 'Content-Type': 'application/json' }) },
    ...(body === undefined ? {} : { body: JSON.stringify(body) }),
  });
const asVisitor = (path: string, init: RequestInit = {}) => fetch(`${server.url}${path}`, init);
const page = (more: Partial<PageLink> = {}): PageLink => ({
  ...{ is: 'page', name: 'Printer', access: 'view', board: null, formats: ['ase'], expires: null },
  ...more,
});
const make = async (data: LinkData, library = id) => {
  const reply = await asOwner(`/libraries/${library}/links`, 'POST', data);
  expect(reply.status).toBe(201);
  return (await reply.json()) as { link: { id: string }; token: string };
};
const file = (more: object = {}) =>
  ({
    is: 'file',
    name: 'CSS',
    file: { format: 'css' },
    groups: null,
    cors: false,
    pinned: null,
    ...more,
  }) as LinkData;

beforeAll(async () => {
  server = await Running.start({ PAPILLON_PASSWORD: PASSWORD });
  const body = new URLSearchParams({ password: PASSWORD, to: '/' });
  const signed = await fetch(`${server.url}/sign-in`, { method: 'POST', body, redirect: 'manual' });
  cookie = signed.headers.getSetCookie()[0]!.split(';')[0]!;
  id = await (await asOwner('/libraries', 'POST', libraryOf('Hull', { Deck: [['Teak', '#6d4a2c']] }))).text();
  other = await (
    await asOwner('/libraries', 'POST', libraryOf('Secret', { All: [['Hidden', '#123456']] }))
  ).text();
});
afterAll(() => server?.stop());

describe('many who fetch what a link gives', () => {
  it('leave the owner served meanwhile, and are all served themselves', async () => {
    const colors = Array.from({ length: 3000 }, (_, i): [string, string] => [`Rope ${i}`, '#6d4a2c']);
    const large = await (await asOwner('/libraries', 'POST', libraryOf('Large', { All: colors }))).text();
    const { token } = await make(page({ formats: null }), large);
    const fetched = Promise.all(
      Array.from({ length: 60 }, async (_, i) => {
        const reply = await asVisitor(`/s/${token}${['/files/csv', '/view', ''][i % 3]}`);
        await reply.arrayBuffer();
        return reply.status;
      }),
    );
    const own = Array.from({ length: 10 }, async () => (await asOwner(`/libraries/${id}/changes`)).status);
    expect(new Set(await Promise.all(own))).toEqual(new Set([200]));
    expect(new Set(await fetched)).toEqual(new Set([200]));
  });

  it('and those who send slowly, or do not wait for their answer, hold nobody up', async () => {
    const { token } = await make(page({ access: 'comment' }));
    const slow = Array.from({ length: 8 }, () => {
      const headers = { 'Content-Type': 'application/json', 'Content-Length': '900' };
      const sending = request(`${server.url}/s/${token}/person`, { method: 'POST', headers });
      sending.on('error', () => undefined);
      sending.write('{');
      return sending;
    });
    const reply = await asVisitor(`/s/${token}/view`, { signal: AbortSignal.timeout(10_000) });
    expect(reply.status).toBe(200);
    for (const sending of slow) sending.destroy();
    for (let i = 0; i < 20; i++) {
      const stop = new AbortController();
      const asked = asVisitor(`/s/${token}`, { signal: stop.signal }).catch(() => null);
      setTimeout(() => stop.abort(), i % 4);
      await asked;
    }
    expect((await asVisitor(`/s/${token}/view`)).status).toBe(200);
  });
});

describe('whoever has a link', () => {
  it('sees its page without a password, and needs no script of the application for it', async () => {
    const { token } = await make(page());
    const reply = await asVisitor(`/s/${token}`);
    const html = await reply.text();
    expect([reply.status, html.includes('Teak'), html.includes('Hidden')]).toEqual([200, true, false]);
    expect(reply.headers.get('X-Robots-Tag')).toMatch(/noindex/);
    expect(reply.headers.get('Referrer-Policy')).toBe('no-referrer');
    expect(reply.headers.get('Cache-Control')).toBe('no-store');
    expect(html).not.toContain('entry.client');
    // its address is not in the title, which histories and screenshots keep
    expect(/<title>(.*?)<\/title>/.exec(html)?.[1]).toBe('Hull · Papillon');
    const scripts = [...html.matchAll(/<script[^>]* src="([^"]+)"/g)].map((m) => m[1]!);
    expect(scripts.length).toBe(1);
    const script = await asVisitor(scripts[0]!, { headers: { 'Accept-Encoding': 'br' } });
    expect(Number(script.headers.get('Content-Length'))).toBeLessThan(120_000);
  });

  it('downloads what it allows, and nothing else', async () => {
    const { token } = await make(page());
    const reply = await asVisitor(`/s/${token}/files/ase`);
    expect(reply.headers.get('Content-Disposition')).toContain('Hull.ase');
    expect(
      Buffer.from(await reply.arrayBuffer())
        .subarray(0, 4)
        .toString(),
    ).toBe('ASEF');
    for (const path of ['files/css', 'files/../../../libraries', 'pictures/x', 'works/x', `files/${other}`])
      expect([path, (await asVisitor(`/s/${token}/${path}`)).status]).not.toEqual([path, 200]);
  });

  it('reaches no other route by any method: all are the owner’s', async () => {
    const { token, link } = await make(page());
    for (const { method, path, access, body } of endpoints) {
      if (path.startsWith('/s/:token/')) {
        expect([path, access === 'owner']).toEqual([path, false]);
        continue;
      }
      const filled = path.replace(':id', id).replace(':link', link.id).replace(/:\w+/g, 'x');
      for (const headers of [
        {},
        { Cookie: `papillon-session=${token}` },
        { Cookie: `papillon-card-${link.id}=${token}` },
        { Authorization: `Bearer ${token}` },
      ]) {
        const reply = await asVisitor(filled, {
          method,
          headers: { 'Content-Type': body?.types[0] ?? 'application/json', ...headers },
          ...(method === 'GET' ? {} : { body: '{}' }),
        });
        // signing out is everybody’s
        if (path !== '/sign-out') expect([method, path, reply.status]).toEqual([method, path, 401]);
      }
    }
    // nor changes what it may see
    for (const method of ['POST', 'PUT', 'PATCH', 'DELETE']) {
      const reply = await asVisitor(`/s/${token}`, {
        method,
        headers: { 'Content-Type': 'application/json' },
        body: '{}',
      });
      expect([method, reply.status]).not.toEqual([method, 200]);
    }
  });

  it('is not let out of it by an address', async () => {
    const { token } = await make(page());
    for (const path of [
      `/s/${token}/../../libraries`,
      `/s/${token}/%2e%2e/%2e%2e/libraries`,
      `/s/../libraries`,
      `/s/%2e%2e/libraries`,
      `//s/../libraries`,
      `/s/x/..;/../libraries`,
      `/s\\..\\libraries`,
      `/f/../libraries`,
      `/s/${token}.data`,
      `/s/_.data?_routes=routes/home`,
      `/libraries/${id}/rows#/s/${token}`,
      `/libraries?x=/s/${token}`,
    ]) {
      const answer = await server.raw({ path });
      expect([path, answer.status, answer.text.includes('Hull')]).toEqual([path, expect.any(Number), false]);
      expect([path, answer.status]).not.toEqual([path, 200]);
    }
    expect(isOfLink('http://evil/s/x')).toBe(true);
    expect(isOfLink('/s/x/../../libraries')).toBe(false);
  });

  it('has nothing any more once it is revoked or renewed, also while its page is open', async () => {
    const { token, link } = await make(page());
    const events = await asVisitor(`/s/${token}/events`);
    expect(events.headers.get('Content-Type')).toBe('text/event-stream');
    const reader = events.body!.getReader();
    const read = async () => new TextDecoder().decode((await reader.read()).value);
    let heard = '';
    while (!heard.includes('event: change')) heard += await read();
    const at = Date.now();
    await asOwner(`/libraries/${id}/links/${link.id}`, 'DELETE');
    while (!heard.includes('event: gone')) heard += await read();
    expect(Date.now() - at).toBeLessThan(5000);
    for (const path of ['', '/view', '/files/ase', '/events'])
      expect([path, (await asVisitor(`/s/${token}${path}`)).status]).toEqual([path, 404]);
    const renewed = await make(page());
    const next = await asOwner(`/libraries/${id}/links/${renewed.link.id}`, 'POST', {});
    expect((await asVisitor(`/s/${renewed.token}`)).status).toBe(404);
    expect((await asVisitor(`/s/${await next.text()}`)).status).toBe(200);
  });

  it('cannot keep others from hearing by opening many pages and leaving', async () => {
    const { token, link } = await make(page());
    const open = async (many: number) => {
      const stop = new AbortController();
      const replies = await Promise.all(
        Array.from({ length: many }, () => asVisitor(`/s/${token}/events`, { signal: stop.signal })),
      );
      return { stop, statuses: replies.map((r) => r.status) };
    };
    for (let round = 0; round < 3; round++) {
      const { stop, statuses } = await open(100);
      expect(new Set(statuses)).toEqual(new Set([200]));
      expect((await asVisitor(`/s/${token}/events`)).status).toBe(503);
      const other = await make(page());
      const heard = await asVisitor(`/s/${other.token}/events`);
      expect(heard.status).toBe(200);
      await heard.body?.cancel();
      stop.abort();
      await new Promise((resolve) => setTimeout(resolve, 300));
    }
    // nor by leaving before the answer has begun
    const hasty = new AbortController();
    const asked = Array.from({ length: 100 }, () =>
      asVisitor(`/s/${token}/events`, { signal: hasty.signal }).catch(() => null),
    );
    hasty.abort();
    await Promise.all(asked);
    await new Promise((resolve) => setTimeout(resolve, 500));
    const { statuses } = await open(100);
    expect(new Set(statuses)).toEqual(new Set([200]));
    // and all of them hear that it has ended, while the server goes on
    await asOwner(`/libraries/${id}/links/${link.id}`, 'DELETE');
    await new Promise((resolve) => setTimeout(resolve, 1500));
    expect((await asOwner('/libraries')).status).toBe(200);
  });

  it('hears of a change as it happens', async () => {
    const { token } = await make(page());
    const reader = (await asVisitor(`/s/${token}/events`)).body!.getReader();
    let heard = '';
    const until = async (what: RegExp) => {
      while (!what.test(heard)) {
        const { value, done } = await reader.read();
        if (done) throw new Error(`ended after “${heard}”`);
        heard += new TextDecoder().decode(value);
      }
    };
    await until(/event: change/);
    heard = '';
    const ops = [{ op: 'set', of: 'library', id, fields: { name: 'Hull 2' } }];
    await asOwner(`/libraries/${id}/changes`, 'POST', {
      by: 'x',
      seen: 0,
      changes: [{ id: 'rename-by-owner', by: 'x', label: 'rename', ops }],
    });
    await until(/event: change/);
    await reader.cancel();
    expect(((await (await asVisitor(`/s/${token}/view`)).json()) as { title: string }).title).toBe('Hull 2');
  });
});

describe('a file link', () => {
  it('is loaded by pages of other sites, and sent once while it is the same', async () => {
    const { token } = await make(file());
    const foreign = {
      Origin: 'http://site.example',
      'Sec-Fetch-Site': 'cross-site',
      'Sec-Fetch-Mode': 'no-cors',
    };
    const first = await server.raw({ path: `/f/${token}/hull.css`, headers: foreign });
    expect([first.status, first.headers['content-type']]).toEqual([200, 'text/css']);
    expect(first.text).toContain('#6d4a2c');
    expect(first.headers['cross-origin-resource-policy']).toBe('cross-origin');
    expect(first.headers['access-control-allow-origin']).toBeUndefined();
    const again = await server.raw({
      path: `/f/${token}/whatever`,
      headers: { 'If-None-Match': String(first.headers.etag) },
    });
    expect([again.status, again.text]).toEqual([304, '']);
    const head = await server.raw({ method: 'HEAD', path: `/f/${token}/hull.css` });
    expect([head.status, head.text, head.headers.etag]).toEqual([200, '', first.headers.etag]);
    const open = await make(file({ cors: true }));
    const read = await asVisitor(`/f/${open.token}/x.css`);
    expect(read.headers.get('Access-Control-Allow-Origin')).toBe('*');
  });

  it('answers nothing but reading, and nothing else below its address', async () => {
    const { token } = await make(file());
    for (const method of ['POST', 'PUT', 'DELETE'])
      expect((await asVisitor(`/f/${token}/x.css`, { method })).status).toBe(405);
    expect((await asVisitor(`/f/${token}/a/b`)).status).toBe(404);
    expect((await asVisitor(`/s/${token}`)).status).toBe(404);
  });
});

it('tokens are in no line of the log, and guessing them is soon slowed down', async () => {
  const noisy = await Running.start({ PAPILLON_PASSWORD: PASSWORD, PAPILLON_LOG: 'debug' });
  try {
    const token = 'Zm9vYmFyYmF6cXV4MTIzNA';
    await fetch(`${noisy.url}/s/${token}`);
    await fetch(`${noisy.url}/f/${token}/x.css`);
    for (const path of ['"/s/:id"', '"/f/:id/x.css"']) await expect.poll(() => noisy.log).toContain(path);
    expect(noisy.log).not.toContain(token);
    const statuses: number[] = [];
    for (let i = 0; i < 52; i++)
      statuses.push((await fetch(`${noisy.url}/s/${String(i).padStart(22, 'x')}/view`)).status);
    expect([statuses[0], statuses.at(-1)]).toEqual([404, 429]);
    // and keeps nobody from signing in
    expect((await fetch(`${noisy.url}/libraries`)).status).toBe(401);
  } finally {
    await noisy.stop();
  }
});
