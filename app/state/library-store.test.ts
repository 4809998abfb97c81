import { afterEach, beforeEach, expect, it, vi } from 'vitest';
import { applyEdit, type Edit, type Library } from '#core/swatch/index';
import { LibraryStore } from './library-store';

const start: Library = { id: 'l', name: 'Ropes', groups: [{ id: 'g', name: '', swatches: [] }] };
const rename = (name: string): Edit => ({ type: 'renameLibrary', name });

/** What the server would do, in memory; `answer` can stand in for one reply. */
let server: { library: Library; revision: number };
let answer: (() => Response | Promise<Response>) | null;
let sent: unknown[];

beforeEach(() => {
  server = { library: start, revision: 0 };
  answer = null;
  sent = [];
  vi.useFakeTimers();
  vi.stubGlobal('fetch', async (_: string, init?: { body: string }) => {
    if (answer) {
      const now = answer;
      answer = null;
      return now();
    }
    if (!init) return Response.json({ ...server, undo: null, redo: null });
    const { change } = JSON.parse(init.body);
    sent.push(change);
    server = { library: applyEdit(server.library, change.edit).library, revision: server.revision + 1 };
    return Response.json({ revision: server.revision, undo: 'rename the library', redo: null });
  });
});
afterEach(() => {
  vi.useRealTimers();
  vi.unstubAllGlobals();
});

const open = () => new LibraryStore({ library: start, revision: 0, undo: null, redo: null });
const settle = () => vi.advanceTimersByTimeAsync(5000);

it('shows an edit at once and sends edits one after the other', async () => {
  const store = open();
  store.edit(rename('A'));
  store.edit(rename('B'));
  expect(store.snapshot()).toMatchObject({ library: { name: 'B' }, waiting: 2 });
  await settle();
  expect(sent).toEqual([{ edit: rename('A') }, { edit: rename('B') }]);
  expect(store.snapshot()).toMatchObject({
    revision: 2,
    waiting: 0,
    problem: null,
    undo: 'rename the library',
  });
});

it('keeps an edit and tries again when the server does not answer', async () => {
  const store = open();
  answer = () => Promise.reject(new TypeError('offline'));
  store.edit(rename('A'));
  await vi.advanceTimersByTimeAsync(10);
  expect(store.snapshot()).toMatchObject({ library: { name: 'A' }, waiting: 1 });
  expect(store.snapshot().problem).toMatch(/keeps trying/);
  await settle();
  expect(server.library.name).toBe('A');
  expect(store.snapshot()).toMatchObject({ waiting: 0, problem: null });
});

it('takes back what the server refuses, and says why', async () => {
  const store = open();
  answer = () => new Response('The swatch is no longer in the library.', { status: 409 });
  store.edit(rename('A'));
  await settle();
  expect(store.snapshot()).toMatchObject({
    library: { name: 'Ropes' },
    waiting: 0,
    problem: 'The swatch is no longer in the library.',
  });
});

it('lays its own unsent edits over what others changed meanwhile', async () => {
  const store = open();
  const others = applyEdit(start, { type: 'renameGroup', id: 'g', name: 'Lines' }).library;
  answer = () => {
    server = { library: applyEdit(others, rename('A')).library, revision: 2 };
    return Response.json({ revision: 2, undo: null, redo: null, library: server.library });
  };
  store.edit(rename('A'));
  store.edit(rename('B'));
  await settle();
  expect(store.snapshot().library).toMatchObject({ name: 'B', groups: [{ name: 'Lines' }] });
  expect(server.library).toEqual(store.snapshot().library);
});

it('does not send an edit that does not fit', () => {
  const store = open();
  expect(store.edit({ type: 'remove', ids: ['gone'] })).toBe(false);
  expect(store.snapshot()).toMatchObject({ waiting: 0, problem: 'The swatch is no longer in the library.' });
});
