import { describe, expect, it } from 'vitest';
import { call, valueFrom } from './api/call';
import { answers, on } from './api/handle';
import { endpoints } from './api/index';
import { createLibrary, listLibraries, readHistory, trimHistory } from './api/libraries';
import routes from './routes';

/** The file of each route, by its path. */
const files = new Map(routes.map(({ path, file }) => [`/${path}`, file]));
/** Answered before the routes. */
const ELSEWHERE = ['/sign-out'];

describe('endpoints', () => {
  it.each(
    endpoints
      .filter((e) => !ELSEWHERE.includes(e.path))
      .map((endpoint) => [`${endpoint.method} ${endpoint.path}`, endpoint] as const),
  )('%s has a route that answers it', async (_, endpoint) => {
    const { loader, action } = await import(`./${files.get(endpoint.path)}`);
    expect((endpoint.method === 'GET' ? loader : action).endpoints).toContain(endpoint);
  });

  it('differ in method or path', () => {
    const ways = endpoints.map((e) => `${e.method} ${e.path}`);
    expect(new Set(ways).size).toBe(ways.length);
  });
});

const responding = (...responses: (Response | null)[]) => {
  const asked: [string, RequestInit | undefined][] = [];
  const get = (async (address: string, init?: RequestInit) => {
    asked.push([address, init]);
    const response = responses.shift();
    if (!response) throw new TypeError('fetch failed');
    return response;
  }) as typeof fetch;
  return { get, asked };
};

describe('a call', () => {
  it('fills the path and the query, and reads the answer', async () => {
    const { get, asked } = responding(Response.json({ entries: [], count: 0, first: null }));
    const came = await call(readHistory, { params: { id: 'a/b' }, query: { before: 7 } }, get);
    expect(came).toMatchObject({ ok: true, value: { count: 0 } });
    expect(asked).toEqual([['/libraries/a%2Fb/changes/history?before=7', {}]]);
  });

  it('is repeated only where repeating does no harm', async () => {
    const library = { id: 'x', name: 'x', groups: [] };
    const again = responding(null, new Response('', { status: 503 }), new Response('x', { status: 201 }));
    expect(await valueFrom(call(createLibrary, { query: { id: 'x' }, body: library }, again.get))).toBe('x');
    expect(again.asked.length).toBe(3);
    const once = responding(null, Response.json({ removed: 1 }));
    expect(await call(trimHistory, { params: { id: 'x' }, body: { upTo: 1 } }, once.get)).toEqual({
      ok: false,
      status: null,
      why: 'The server does not answer.',
    });
  });

  it('says why it failed, and does not show the pages of a proxy', async () => {
    const words = responding(
      new Response('It is full.', { status: 507, headers: { 'Content-Type': 'text/plain' } }),
    );
    expect(await call(listLibraries, {}, words.get)).toEqual({ ok: false, status: 507, why: 'It is full.' });
    const page = responding(
      new Response('<h1>Bad Gateway</h1>', { status: 502, headers: { 'Content-Type': 'text/html' } }),
    );
    expect(await call(listLibraries, {}, page.get)).toMatchObject({
      why: 'The server returned error 502.',
    });
    const broken = responding(new Response('[{"id":', { status: 200 }));
    expect(await call(listLibraries, {}, broken.get)).toMatchObject({ ok: false, status: null });
  });
});

it('a route refuses methods that are not declared', async () => {
  const route = answers(on(listLibraries, async () => []));
  const request = new Request('http://here/libraries', { method: 'PUT' });
  const response = await route({ request, params: {}, context: {} } as never);
  expect([response.status, response.headers.get('Allow')]).toEqual([405, 'GET']);
});
