import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { IDBFactory } from 'fake-indexeddb';
import 'fake-indexeddb/auto';
import { afterAll, beforeAll, expect, it, vi } from 'vitest';
import { checkSent } from '#core/swatch/checks';
import {
  addSwatches,
  moveSwatches,
  removeGroup,
  removeSwatches,
  type Swatch,
  setFields,
} from '#core/swatch/index';
import { engine } from '#core/testing';
import { answered } from '#server/answers';
import { applyChanges, newsOf } from '#server/changes';
import type { Db } from '#server/db';
import { createLibrary, readLibrary, streamLibrary } from '#server/libraries';
import { openDatabase } from '#server/open';
import { Colors } from '~/colors/colors';
import type { LibraryStore } from './library-store';
import { Shelf } from './shelf';
import { Stores } from './stores';

const folder = mkdtempSync(join(tmpdir(), 'papillon-people-'));
let db: Db;
beforeAll(async () => {
  vi.stubGlobal('indexedDB', new IDBFactory());
  db = await openDatabase(`file:${join(folder, 'papillon.db')}`);
});
afterAll(() => {
  vi.unstubAllGlobals();
  rmSync(folder, { recursive: true });
});

/** The same dice in every run. */
let seed = 20_261_126;
const dice = (n: number) => {
  seed = (seed * 1_103_515_245 + 12_345) % 2 ** 31;
  return Math.floor((seed / 2 ** 31) * n);
};

/** The server itself, over a line that loses requests, replies and the middle of replies. */
const line =
  (faults: boolean): typeof fetch =>
  async (input, init) => {
    const url = new URL(String(input), 'http://papillon');
    const [, , id] = url.pathname.split('/');
    const fault = faults ? dice(12) : 99;
    if (fault === 0) throw new TypeError('the request was lost');
    const response = await answered(async () => {
      if (url.pathname.endsWith('/rows'))
        return new Response(await streamLibrary(db, id, url.searchParams.get('by') ?? ''));
      if (init?.method === 'POST')
        return Response.json(await applyChanges(db, id, checkSent(JSON.parse(String(init.body)))));
      return Response.json(
        await newsOf(db, id, Number(url.searchParams.get('after')), url.searchParams.get('by') ?? ''),
      );
    });
    if (fault === 1) throw new TypeError('the reply was lost');
    if (fault === 2) return new Response((await response.text()).slice(0, 40), { status: response.status });
    return response;
  };

it('two people make a thousand changes over a bad line, and end alike, each change done once', async () => {
  const color = { space: 'rgb' as const, components: [0, 0, 0] };
  const swatch = (name: string): Swatch => ({ id: `${name}-id`, name, kind: 'process', color });
  const id = await createLibrary(db, {
    id: 'x',
    name: 'Shared',
    groups: ['', 'Hull', 'Deck'].map((name, g) => ({
      id: `g${g}`,
      name,
      swatches: Array.from({ length: 20 }, (_, i) => swatch(`s${g}-${i}`)),
    })),
  });
  const people = ['me', 'you'].map((by) => {
    const stores = new Stores({
      colors: new Colors(undefined, engine),
      fetch: line(true),
      shelf: new Shelf(`shelf-${by}`),
      by,
    });
    const store = stores.library(id);
    return { store, stores, close: store.open(), made: 0 };
  });
  const whole = (store: LibraryStore) =>
    vi.waitFor(() => expect(store.snapshot().whole).toBe(true), { timeout: 20_000 });
  for (const { store } of people) await whole(store);
  let n = 0;
  const change = ({ store }: (typeof people)[number]): string | null => {
    const { rows } = store;
    const { groups } = rows.library;
    const group = groups[dice(groups.length)];
    const all = groups.flatMap((g) => g.swatches);
    const some = all.filter(() => dice(8) === 0).map((s) => s.id);
    switch (dice(7)) {
      case 0:
        return store.edit(addSwatches(rows, group.id, [swatch(`n${++n}`)], dice(group.swatches.length + 1)));
      case 1:
        return some.length > 0 && all.length > 25 ? store.edit(removeSwatches(some.slice(0, 2))) : null;
      case 2:
        return store.edit(moveSwatches(rows, some, group.id, dice(group.swatches.length + 1)));
      case 3:
      case 4:
        return some.length > 0 ? store.edit(setFields(some.slice(0, 3), { name: `name ${++n}` })) : null;
      case 5:
        return groups.length > 2 && dice(10) === 0 ? store.edit(removeGroup(rows, group.id)) : null;
      default:
        if (!store.snapshot().undo) return null;
        store.undo();
        return 'undone';
    }
  };
  for (let i = 0; i < 1000; ) {
    const person = people[dice(2)];
    if (change(person)) {
      person.made++;
      i++;
    }
    if (dice(4) === 0) await new Promise((resolve) => setTimeout(resolve, 1));
    if (dice(60) === 0) for (const { stores } of people) stores.outbox.wake();
  }
  const quiet = () => {
    for (const { stores } of people) stores.outbox.wake();
    return people.every((p) => p.stores.outbox.snapshot().waiting === 0);
  };
  await vi.waitFor(() => expect(quiet()).toBe(true), { timeout: 60_000, interval: 20 });
  const server = await readLibrary(db, id);
  // each hears of the other's last changes by itself
  await vi.waitFor(
    () => {
      for (const { store } of people) expect(store.snapshot().library).toEqual(server);
    },
    { timeout: 30_000, interval: 200 },
  );
  // what was made and what was done are the same number, but for what was refused and said
  const { seq } = await newsOf(db, id, 0, 'me');
  const refused = people.flatMap((p) => p.store.snapshot().said);
  expect(people[0].made + people[1].made).toBe(1000);
  expect(seq).toBeLessThanOrEqual(1000);
  expect(1000 - seq).toBeLessThanOrEqual(refused.length);
  expect(seq).toBeGreaterThan(500);
  for (const { close } of people) close();
}, 180_000);
