import { expect, it } from 'vitest';
import type { ArtworkClient } from '~/workers/clients';
import { ArtworkStore } from './artwork-store';

const facts = {
  form: 'drawing',
  parts: 1,
  colors: [],
  size: { width: 1, height: 1, unit: 'mm', view: [0, 0, 1, 1] },
};
const bytes = new Blob(['<svg/>']);

/** A store with a worker that answers at once, and a server that answers as told, one answer after the other. */
function begin(answers: (Response | Error)[]) {
  const asked: [string, string][] = [];
  const worker: [string, unknown][] = [];
  const get = (async (path: string, init?: RequestInit) => {
    asked.push([init?.method ?? 'GET', path]);
    const answer = answers.shift() ?? new Error('nothing more was to be asked');
    if (answer instanceof Error) throw answer;
    return answer;
  }) as typeof fetch;
  const client = {
    ask: async (name: string, ask: unknown) => {
      worker.push([name, ask]);
      return name === 'read'
        ? { hash: 'h', bytes, facts, warnings: ['Taken out: scripts (line 1).'] }
        : { facts, warnings: [] };
    },
  } as unknown as ArtworkClient;
  return { store: new ArtworkStore(get, () => client), asked, worker };
}

it('keeps artwork, and tries again when no reply comes', async () => {
  const { store, asked, worker } = begin([
    new Error('away'),
    new Response('', { status: 503 }),
    new Response('', { status: 201 }),
  ]);
  const { hash, warnings } = await store.keep(bytes);
  expect([hash, warnings]).toEqual(['h', ['Taken out: scripts (line 1).']]);
  expect(asked).toEqual(Array.from({ length: 3 }, () => ['PUT', '/artworks/h']));
  // a worker that takes the place of a dead one has to be told
  expect(worker.map(([name]) => name)).toEqual(['read', 'open']);
  expect(store.snapshot().works.h).toBeDefined();
});

it('says why it was not kept', async () => {
  const { store } = begin([
    new Response('The artwork arrived incomplete. Try again.', {
      status: 400,
      headers: { 'Content-Type': 'text/plain' },
    }),
  ]);
  await expect(store.keep(bytes)).rejects.toThrow(/arrived incomplete/);
});

it('opens artwork once, and says what is not there until it is', async () => {
  const { store, asked } = begin([
    new Response('This artwork does not exist.', { status: 404, headers: { 'Content-Type': 'text/plain' } }),
    new Response(bytes),
  ]);
  await Promise.all([store.open('h'), store.open('h')]);
  expect(store.snapshot().problems.h).toMatch(/does not exist/);
  await store.open('h');
  expect(store.snapshot().problems).toEqual({});
  await store.open('h');
  expect(asked).toHaveLength(2);
});
