import { readFileSync } from 'node:fs';
import { IDBFactory } from 'fake-indexeddb';
import { toLab } from '#core/color/index';
import { setCondition } from '#core/swatch/index';
import { loadEngine } from '../../profiles/load.ts';
import 'fake-indexeddb/auto';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import {
  addSwatches,
  type Change,
  countingIds,
  DATABASE_HEADER,
  type DoneChange,
  type Library,
  LibraryRows,
  overwritten,
  type Reply,
  removeSwatches,
  renameLibrary,
  type Sent,
  type Steps,
  type Swatch,
  salvage,
  setFields,
  stepsAfter,
  swatchFields,
  undoOps,
} from '#core/swatch/index';
import { engine } from '#core/testing';
import { Colors } from '~/colors/colors';
import type { LibraryStore } from './library-store';
import { Shelf } from './shelf';
import { Stores } from './stores';

const swatch = (id: string): Swatch => ({
  id,
  name: id,
  kind: 'process',
  color: { space: 'rgb', components: [0, 0, 0] },
});
const start: Library = {
  id: 'l',
  name: 'Ropes',
  groups: [{ id: 'g', name: 'Hull', swatches: ['a', 'b', 'c'].map(swatch) }],
};

/** What it may say in place of a reply, by status. */
const ANSWERS = {
  '400': '/changes/0 has the wrong shape.',
  '401': 'You are not signed in.',
  '410': 'The library has been deleted.',
  '421': 'Another name.',
  '429': 'Too often.',
  '500': '',
  '503': 'The disk is full.',
};

/** An outbox once everything is saved. */
const NOTHING_WAITS = { waiting: 0, stranded: [], unkept: false, away: null, said: [] };

/** What the server does, in memory; `fail` can stand in for one reply, after or instead of what it would have done. */
class FakeServer {
  rows = LibraryRows.of(start);
  epoch = 'first';
  /** The library does not exist here. */
  gone = false;
  /** Stands in for one answer with the whole library. */
  beforeRows: (() => Promise<Response>) | null = null;
  wholeNow = () => this.whole();
  log: (DoneChange & { inverse: Change['ops']; by: string })[] = [];
  steps = new Map<string, Steps>();
  requests: string[] = [];
  /** Faults for the next requests with a body, in their order. */
  faults: ('cut' | 'lost' | 'garbled' | 'silent' | 'stranger' | keyof typeof ANSWERS)[] = [];
  private readonly newId = countingIds('other-');

  readonly fetch = async (path: RequestInfo | URL, init?: RequestInit): Promise<Response> => {
    const url = String(path);
    this.requests.push(`${init?.method ?? 'GET'} ${url.replace(/\?.*/, '')}`);
    if (this.gone && init?.method !== 'POST')
      return new Response('This library does not exist.', {
        status: 404,
        headers: { [DATABASE_HEADER]: this.epoch },
      });
    if (url.includes('/rows')) return (await this.beforeRows?.()) ?? this.whole();
    if (init?.method !== 'POST') return Response.json(this.news(Number(/after=(\d+)/.exec(url)?.[1])));
    const fault = this.faults.shift();
    if (fault === 'cut') throw new TypeError('network error');
    if (fault === 'stranger') return new Response('Nothing here.', { status: 404 });
    const headers = { [DATABASE_HEADER]: this.epoch };
    if (fault && fault in ANSWERS)
      return new Response(ANSWERS[fault as keyof typeof ANSWERS], { status: Number(fault), headers });
    const sent = JSON.parse(String(init.body)) as Sent;
    if (sent.epoch !== undefined && sent.epoch !== this.epoch)
      return new Response('The server now has different data.', { status: 412, headers });
    if (this.gone) return new Response('This library does not exist.', { status: 404, headers });
    const reply = this.apply(sent);
    if (fault === 'silent')
      return new Promise((_, reject) => {
        init.signal?.addEventListener('abort', () => reject(new DOMException('', 'TimeoutError')));
      });
    if (fault === 'lost')
      return new Response(new ReadableStream({ start: (c) => c.error(new TypeError('terminated')) }), {
        status: 200,
      });
    if (fault === 'garbled') return new Response('{"seq":', { status: 200 });
    return Response.json(reply);
  };

  private whole(): Response {
    const { library } = this.rows;
    const head = {
      id: 'l',
      name: library.name,
      epoch: this.epoch,
      seq: this.log.length,
      swatchCount: 3,
      groups: this.rows.groupPlaces().map((g) => ({ ...g, name: this.rows.group(g.id)!.name })),
      items: [],
      steps: this.stepsOf('me'),
    };
    const swatches = library.groups.flatMap((g) =>
      g.swatches.map((s) => {
        const { group, order } = this.rows.find(s.id)!;
        const {
          name,
          kind,
          code = null,
          role = null,
          ...rest
        } = swatchFields(s, { group, order }) as Record<string, unknown>;
        const { group: _, order: __, ...data } = rest;
        return [s.id, group, order, name, code, kind, role, { v: 1, ...data }];
      }),
    );
    return new Response(
      [{ head }, { swatches }, { end: true }].map((l) => `${JSON.stringify(l)}\n`).join(''),
    );
  }

  private stepsOf = (by: string): Steps => this.steps.get(by) ?? { undo: [], redo: [] };
  private news = (seen: number) => ({
    epoch: this.epoch,
    seq: this.log.length,
    changes: this.log.slice(seen).map(({ inverse: _, ...c }) => c),
    steps: this.stepsOf('me'),
  });

  apply({ by, seen, changes }: Sent): Reply {
    const theirs = this.log.slice(seen);
    const outcomes = changes.map((change) => {
      const known = this.log.find((c) => c.id === change.id);
      if (known) return { id: change.id, seq: known.seq, said: [] };
      const target = this.log.find((c) => c.id === change.undoes);
      const wanted = target
        ? undoOps({ ops: target.ops!, inverse: target.inverse }, this.rows).ops
        : change.ops;
      const applied = this.rows.apply(wanted);
      if (applied.ops.length === 0)
        return { id: change.id, seq: null, said: ['It is no longer in the library.'] };
      const over = theirs.filter((c) => overwritten(applied.ops, c.ops ?? []).length > 0).map((c) => c.by);
      this.log.push({
        ...change,
        seq: this.log.length + 1,
        ops: applied.ops,
        inverse: applied.inverse,
        ...(over.length > 0 ? { over } : {}),
      });
      this.steps.set(by, stepsAfter(this.stepsOf(by), change));
      return { id: change.id, seq: this.log.length, said: over.length > 0 ? ['Yours took its place.'] : [] };
    });
    return { outcomes, ...this.news(seen) };
  }

  /** Another person changes something. */
  other(make: (rows: LibraryRows) => { label: string; ops: Change['ops'] }, seen = this.log.length): void {
    this.apply({ by: 'you', seen, changes: [{ id: this.newId(), by: 'you', ...make(this.rows) }] });
  }
}

let server: FakeServer;
let shelf: Shelf;
const colors = new Colors(undefined, engine);
let close: () => void;
const page = (by = 'me') => new Stores({ fetch: server.fetch, shelf, by, colors });
const opened = async (stores = page()): Promise<LibraryStore> => {
  const store = stores.library('l');
  close = store.open();
  await until(() => store.snapshot().whole);
  return store;
};
const until = async (met: () => boolean) => {
  for (let i = 0; i < 3000 && !met(); i++) {
    await vi.advanceTimersByTimeAsync(50);
    await new Promise(setImmediate);
  }
  expect(met()).toBe(true);
};
const saved = (store: LibraryStore) => until(() => store.snapshot().waiting === 0);
const names = (rows: LibraryRows) =>
  rows.library.groups.flatMap((g) => g.swatches.map((s) => s.name)).join(' ');
const said = (store: LibraryStore) => store.snapshot().said.map((s) => s.text);

beforeEach(() => {
  vi.useFakeTimers({ toFake: ['setTimeout', 'clearTimeout'] });
  vi.stubGlobal('indexedDB', new IDBFactory());
  vi.spyOn(AbortSignal, 'timeout').mockImplementation((ms) => {
    const controller = new AbortController();
    setTimeout(() => controller.abort(), ms);
    return controller.signal;
  });
  server = new FakeServer();
  shelf = new Shelf();
});
afterEach(() => {
  close?.();
  vi.useRealTimers();
  vi.restoreAllMocks();
  vi.unstubAllGlobals();
});

describe('an edit', () => {
  it('is shown at once, sent in its order, and confirmed', async () => {
    const store = await opened();
    store.edit(setFields(['a'], { name: 'A' }));
    store.edit(renameLibrary('l', 'Lines'));
    expect(store.snapshot()).toMatchObject({
      library: { name: 'Lines' },
      waiting: 2,
      undo: 'rename the library',
    });
    await saved(store);
    expect(server.log.map((c) => c.label)).toEqual(['rename 1 swatch', 'rename the library']);
    expect(store.snapshot()).toMatchObject({ revision: 2, said: [], undo: 'rename the library' });
    expect(store.snapshot().library).toEqual(server.rows.library);
  });

  it.each(['cut', 'lost', 'garbled', 'silent', '500'] as const)(
    'is done once, and saving goes on, when a reply is %s',
    async (fault) => {
      const stores = page();
      const store = await opened(stores);
      server.faults.push(fault, fault);
      store.edit(addSwatches(store.rows, 'g', [swatch('x')]));
      await until(() => stores.outbox.snapshot().away !== null);
      store.edit(setFields(['x'], { name: 'X' }));
      await saved(store);
      expect(names(server.rows)).toBe('a b c X');
      expect(server.log).toHaveLength(2);
      expect(stores.outbox.snapshot()).toEqual(NOTHING_WAITS);
      // and undo goes one step back, not two
      store.undo();
      await saved(store);
      expect([names(server.rows), names(store.rows)]).toEqual(['a b c x', 'a b c x']);
    },
  );

  it.each([
    ['503', 'The disk is full.'],
    ['401', 'You are not signed in.'],
    ['421', 'Another name.'],
    ['429', 'Too often.'],
  ] as const)('waits, with the reason shown, while the server answers %s', async (fault, why) => {
    const stores = page();
    const store = await opened(stores);
    server.faults.push(fault, fault);
    store.edit(setFields(['a'], { name: 'A' }));
    await until(() => stores.outbox.snapshot().away === why);
    expect(names(store.rows)).toBe('A b c');
    await saved(store);
    expect(names(server.rows)).toBe('A b c');
    expect(stores.outbox.snapshot()).toEqual(NOTHING_WAITS);
  });

  it('that the server refuses is taken back and said, also while another one waits, until it is dismissed', async () => {
    const store = await opened();
    server.other(() => removeSwatches(['a']));
    server.faults.push('cut');
    store.edit(setFields(['a'], { name: 'A' }));
    store.edit(setFields(['b'], { name: 'B' }));
    await saved(store);
    store.edit(setFields(['c'], { name: 'C' }));
    await saved(store);
    expect(said(store)).toEqual(['It is no longer in the library.']);
    expect(names(store.rows)).toBe('B C');
    expect(store.snapshot().library).toEqual(server.rows.library);
    store.dismiss(store.snapshot().said[0].key);
    expect(said(store)).toEqual([]);
  });

  it('of the wrong shape alone is given up; those sent with it go through', async () => {
    const store = await opened();
    server.faults.push('cut', '400', '400');
    for (const id of ['a', 'b', 'c']) store.edit(setFields([id], { name: id.toUpperCase() }));
    await saved(store);
    expect(said(store)).toEqual(['/changes/0 has the wrong shape.']);
    expect(names(store.rows)).toBe('a B C');
    expect(store.snapshot().library).toEqual(server.rows.library);
  });

  it('that does not fit is not sent', async () => {
    const store = await opened();
    expect(store.edit(setFields(['gone'], { name: 'x' }))).toBeNull();
    expect(store.snapshot()).toMatchObject({ waiting: 0 });
    expect(said(store)).toEqual(['1 swatch is no longer in the library.']);
  });

  it('of a library that has been deleted waits until it is brought back', async () => {
    const store = await opened();
    server.faults.push('410');
    store.edit(renameLibrary('l', 'Lines'));
    await until(() => store.snapshot().problem !== null);
    expect(store.snapshot()).toMatchObject({
      waiting: 1,
      problem: expect.stringMatching(/deleted.*kept here/),
    });
    await saved(store);
    expect(server.rows.library.name).toBe('Lines');
    expect(store.snapshot().problem).toBeNull();
  });
});

describe('what others do', () => {
  it('lies under the edits that wait; both ends come out alike', async () => {
    const store = await opened();
    server.other(() => setFields(['b'], { name: 'Theirs' }));
    store.edit(addSwatches(store.rows, 'g', [swatch('x')]));
    store.edit(setFields(['a'], { name: 'Mine' }));
    await saved(store);
    expect(names(store.rows)).toBe('Mine Theirs c x');
    expect(store.snapshot().library).toEqual(server.rows.library);
    expect(said(store)).toEqual([]);
  });

  it('comes in by itself after a while', async () => {
    const store = await opened();
    server.other(() => setFields(['b'], { name: 'Theirs' }));
    await until(() => names(store.rows) === 'a Theirs c');
    expect(store.snapshot().undo).toBeNull();
  });

  it('on the same field: both are notified, whoever was last', async () => {
    const store = await opened();
    server.other(() => setFields(['a'], { name: 'Theirs' }));
    store.edit(setFields(['a'], { name: 'Mine' }));
    await saved(store);
    expect(said(store)).toEqual(['Yours took its place.']);
    expect(names(server.rows)).toBe('Mine b c');
    // and the other way round: one who had not seen it puts theirs in its place
    server.other(() => setFields(['a'], { name: 'Again' }), 1);
    await until(() => names(store.rows) === 'Again b c');
    expect(said(store)[1]).toMatch(/renamed your “Mine” to “Again”/);
  });

  it('on the same field is reported after a reload, too, and only to those it concerns', async () => {
    const store = await opened();
    store.edit(setFields(['a'], { name: 'Mine' }));
    await saved(store);
    close();
    const again = await opened(page());
    const third = new Stores({ fetch: server.fetch, shelf: new Shelf('third'), by: 'third', colors }).library(
      'l',
    );
    const end = third.open();
    await until(() => third.snapshot().whole);
    server.other(() => setFields(['a'], { name: 'Theirs' }), 0);
    await until(() => names(again.rows) === 'Theirs b c' && names(third.rows) === 'Theirs b c');
    expect(said(again)).toEqual(['Someone has changed what you had changed. The history has both.']);
    expect(said(third)).toEqual([]);
    end();
  });

  it('is never taken back by undo', async () => {
    const store = await opened();
    store.edit(setFields(['a'], { name: 'Mine' }));
    await saved(store);
    server.other(() => setFields(['b'], { name: 'Theirs' }));
    store.undo();
    await saved(store);
    expect([names(server.rows), names(store.rows)]).toEqual(['a Theirs c', 'a Theirs c']);
  });

  it('never replaces something newer when its reply comes late', async () => {
    const store = await opened();
    const { fetch } = server;
    let release = () => {};
    const late = new Promise<void>((resolve) => {
      release = resolve;
    });
    let held = false;
    const holding = async (path: RequestInfo | URL, init?: RequestInit) => {
      const response = await fetch(path, init);
      if (!init?.method && String(path).includes('after=') && !held) {
        held = true;
        await late;
      }
      return response;
    };
    const slow = new Stores({ fetch: holding, shelf: new Shelf('other'), by: 'me', colors });
    const other = slow.library('l');
    const end = other.open();
    await until(() => other.snapshot().whole);
    server.other(() => setFields(['b'], { name: 'B' }));
    await until(() => held);
    other.edit(setFields(['c'], { name: 'C' }));
    await saved(other);
    server.other(() => setFields(['b'], { name: 'BB' }));
    other.edit(setFields(['a'], { name: 'A' }));
    await saved(other);
    expect(names(other.rows)).toBe('A BB C');
    release();
    await vi.advanceTimersByTimeAsync(5000);
    expect(names(other.rows)).toBe('A BB C');
    expect(other.snapshot().library).toEqual(server.rows.library);
    end();
    expect(names(store.rows)).toBeTruthy();
  });

  it('a database put in its place: the library is read again, whatever the numbers say', async () => {
    const store = await opened();
    server.other(() => setFields(['b'], { name: 'Lost' }));
    await until(() => names(store.rows) === 'a Lost c');
    server.rows = LibraryRows.of(start);
    server.log = [];
    server.epoch = 'restored';
    server.other(() => setFields(['c'], { name: 'C' }));
    await until(() => names(store.rows) === 'a b C');
    store.edit(setFields(['a'], { name: 'A' }));
    await saved(store);
    expect(store.snapshot().library).toEqual(server.rows.library);
  });

  it('too much of it: the library is read again, with what waits laid over it', async () => {
    const store = await opened();
    server.other(() => setFields(['b'], { name: 'Theirs' }));
    const { fetch } = server;
    server.fetch as unknown;
    const original = server.apply.bind(server);
    server.apply = (sent) => ({ ...original(sent), changes: null });
    store.edit(setFields(['a'], { name: 'Mine' }));
    await until(() => names(store.rows) === 'Mine Theirs c' && store.snapshot().waiting === 0);
    expect(fetch).toBe(server.fetch);
    expect(store.snapshot().library).toEqual(server.rows.library);
  });
});

describe('through a reload', () => {
  it('edits made without the server wait, are there again, and go through in their order, once', async () => {
    const before = page();
    const store = await opened(before);
    server.faults.push(...Array<'cut'>(40).fill('cut'));
    store.edit(addSwatches(store.rows, 'g', [swatch('x')]));
    store.edit(setFields(['x'], { name: 'X' }));
    await until(() => before.outbox.snapshot().away !== null);
    await shelf.all('changes');
    close();
    const after = page();
    const again = await opened(after);
    expect(names(again.rows)).toBe('a b c X');
    expect(again.snapshot()).toMatchObject({ waiting: 2, undo: 'rename 1 swatch' });
    again.edit(setFields(['x'], { role: 'rail' }));
    server.faults = [];
    await saved(again);
    // the first page is still there, too, as a second tab would be
    await until(() => before.outbox.snapshot().waiting === 0);
    expect(server.log.map((c) => c.label)).toEqual([
      'add 1 swatch',
      'rename 1 swatch',
      'set the role of 1 swatch',
    ]);
    expect(await shelf.all('changes')).toEqual([]);
    expect(again.snapshot().library).toEqual(server.rows.library);
  });

  it('what was done before it can be undone, by the server’s own knowledge', async () => {
    const store = await opened();
    store.edit(setFields(['a'], { name: 'A' }));
    store.edit(removeSwatches(['b']));
    await saved(store);
    close();
    const again = await opened(page());
    again.undo();
    again.undo();
    expect(again.snapshot()).toMatchObject({ undo: null, redo: 'rename 1 swatch' });
    await saved(again);
    expect([names(again.rows), names(server.rows)]).toEqual(['a b c', 'a b c']);
    again.redo();
    await saved(again);
    expect(names(again.rows)).toBe('A b c');
  });

  it('edits of a library that is not looked at are sent, too, and refusals of them told', async () => {
    const stores = page();
    await stores.outbox.load();
    const unseen = { library: 'l', seen: 0, epoch: 'first', name: 'Ropes' };
    stores.outbox.add({
      ...unseen,
      change: { id: 'change-unseen', by: 'me', ...renameLibrary('l', 'Lines') },
    });
    stores.outbox.add({
      ...unseen,
      change: { id: 'change-wrong', by: 'me', ...setFields(['gone'], { name: '' }) },
    });
    await until(() => stores.outbox.snapshot().said.length > 0);
    expect(server.rows.library.name).toBe('Lines');
    expect(stores.outbox.snapshot().said.map((s) => s.text)).toEqual(['It is no longer in the library.']);
  });
});

describe('a server that comes back with other data', () => {
  /** A swatch is renamed and one added while the server cannot be reached; then it is there, with other data. */
  const unsaved = async (then: () => void) => {
    const stores = page();
    const store = await opened(stores);
    server.faults.push('cut', 'cut', 'cut');
    store.edit(setFields(['a'], { name: 'A' }));
    store.edit(addSwatches(store.rows, 'g', [{ ...swatch('x'), name: 'Brass' }]));
    await until(() => server.faults.length === 0);
    then();
    await until(() => stores.outbox.snapshot().stranded.length > 0);
    return { stores, store };
  };
  const kept = async () => (await shelf.all('changes')).map((w) => w.change.label);

  it('in which the library is not: the changes stay in the browser, after a reload too, and are never called saved', async () => {
    const { store, stores } = await unsaved(() => {
      server.epoch = 'another folder';
      server.gone = true;
    });
    expect(stores.outbox.snapshot().stranded).toEqual([
      { library: 'l', epoch: 'first', name: 'Ropes', changes: 2 },
    ]);
    await until(() => store.snapshot().problem !== null);
    expect(store.snapshot().problem).toMatch(/different data/);
    expect(store.snapshot().waiting).toBe(2);
    expect(names(store.rows)).toBe('A b c Brass');
    await vi.advanceTimersByTimeAsync(120_000);
    expect(await kept()).toEqual(['rename 1 swatch', 'add 1 swatch']);
    const again = page();
    await again.outbox.load();
    await until(() => again.outbox.snapshot().stranded.length > 0);
    expect(await kept()).toHaveLength(2);
  });

  it('of an earlier state: what there is is shown, and goes on, without the changes made for the other', async () => {
    const { store, stores } = await unsaved(() => {
      server.epoch = 'restored';
      server.rows = LibraryRows.of({ ...start, name: 'Old ropes' });
      server.log = [];
    });
    await until(() => store.snapshot().library.name === 'Old ropes');
    expect([names(store.rows), store.snapshot().waiting]).toEqual(['a b c', 0]);
    store.edit(setFields(['b'], { name: 'B' }));
    await saved(store);
    expect(names(server.rows)).toBe('a B c');
    expect(stores.outbox.snapshot().stranded).toMatchObject([{ epoch: 'first', changes: 2 }]);
    // what the changes hold, with the rows as they were known
    const { changes, rows } = stores.outbox.strandedChanges({ library: 'l', epoch: 'first' });
    const { groups, left } = salvage(changes, rows, 'Unsaved', countingIds('n'));
    expect(groups.map((g) => [g.name, g.swatches.map((s) => s.name)])).toEqual([['Hull', ['A', 'Brass']]]);
    expect(left).toBe(0);
    stores.outbox.discard({ library: 'l', epoch: 'first' });
    await until(() => stores.outbox.snapshot().stranded.length === 0);
    await vi.advanceTimersByTimeAsync(100);
    await vi.waitFor(async () => expect(await kept()).toEqual([]));
  });

  it('and then with the first again: the changes go through by themselves', async () => {
    const before = server.rows;
    const { store, stores } = await unsaved(() => {
      server.epoch = 'restored';
      server.rows = LibraryRows.of(start);
    });
    await until(() => names(store.rows) === 'a b c');
    server.epoch = 'first';
    server.rows = before;
    await until(() => stores.outbox.snapshot().stranded.length === 0);
    await until(() => names(store.rows) === 'A b c Brass');
    expect(names(server.rows)).toBe('A b c Brass');
    await vi.advanceTimersByTimeAsync(100);
    await vi.waitFor(async () => expect(await kept()).toEqual([]));
  });

  it('a refusal that names no database, as from something in between, ends nothing', async () => {
    const stores = page();
    const store = await opened(stores);
    server.faults.push('stranger', 'stranger');
    store.edit(setFields(['a'], { name: 'A' }));
    await until(() => server.faults.length === 0);
    expect(await kept()).toHaveLength(1);
    await saved(store);
    expect(names(server.rows)).toBe('A b c');
  });
});

describe('what the page is not thrown back by', () => {
  it('a whole library that comes in late: it is older than what has been heard since, and read again', async () => {
    const store = await opened();
    // it has to read all of it again, and the answer is held back
    let release: () => void = () => undefined;
    const held = new Promise<void>((done) => {
      release = done;
    });
    const late = server.wholeNow();
    server.beforeRows = async () => {
      server.beforeRows = null;
      await held;
      return late;
    };
    const original = server.apply.bind(server);
    server.apply = (sent) => ({ ...original(sent), changes: null });
    store.edit(setFields(['a'], { name: 'First' }));
    await until(() => server.beforeRows === null);
    server.apply = original;
    store.edit(setFields(['b'], { name: 'Second' }));
    await saved(store);
    release();
    await until(() => names(store.rows) === 'First Second c');
    await vi.advanceTimersByTimeAsync(5000);
    expect(names(store.rows)).toBe('First Second c');
    expect(store.snapshot().library).toEqual(server.rows.library);
  });

  it('a browser that can keep nothing: edits go through, and say so where they cannot', async () => {
    vi.spyOn(shelf, 'queue').mockResolvedValue(null);
    const stores = page();
    const store = await opened(stores);
    server.faults.push('cut', 'cut');
    store.edit(setFields(['a'], { name: 'A' }));
    await until(() => stores.outbox.snapshot().away !== null);
    expect(stores.outbox.snapshot().waiting).toBe(1);
    await saved(store);
    expect(names(server.rows)).toBe('A b c');
  });

  it('two thousand edits made without the server, and a page that is closed while they are sent', async () => {
    const first = page();
    const store = await opened(first);
    server.faults.push(...Array<'cut'>(400).fill('cut'));
    for (let i = 0; i < 2000; i++) store.edit(setFields(['a'], { name: `Name ${i}` }));
    close();
    await vi.waitFor(async () => expect((await shelf.all('changes')).length).toBe(2000), { timeout: 20_000 });
    server.faults.length = 0;
    // some get through before the page is gone, and some of the answers do not
    server.faults.push('lost');
    await until(() => server.log.length > 100);
    const second = page();
    const again = await opened(second);
    await until(() => second.outbox.snapshot().waiting === 0 && first.outbox.snapshot().waiting === 0);
    expect(server.log).toHaveLength(2000);
    expect(new Set(server.log.map((c) => c.id)).size).toBe(2000);
    await until(() => names(again.rows) === 'Name 1999 b c');
    expect(names(server.rows)).toBe('Name 1999 b c');
  }, 120_000);
});

describe('the undo of a message', () => {
  it('takes back its own change, whatever came after, and is past when that is taken back', async () => {
    const store = await opened();
    const first = store.edit(addSwatches(store.rows, 'g', [swatch('x')]))!;
    store.edit(setFields(['a'], { name: 'A' }));
    expect(store.stands(first)).toBe(true);
    store.undo(first);
    expect([names(store.rows), store.stands(first)]).toEqual(['A b c', false]);
    await saved(store);
    expect(names(server.rows)).toBe('A b c');
  });

  it('is past when the change is refused', async () => {
    const store = await opened();
    server.other(() => removeSwatches(['a']));
    const id = store.edit(setFields(['a'], { name: 'A' }))!;
    expect(store.stands(id)).toBe(true);
    await saved(store);
    expect(store.stands(id)).toBe(false);
  });

  it('says why it cannot', async () => {
    const store = await opened();
    store.undo('change-unknown');
    await saved(store);
    expect(said(store)).toEqual(['It is no longer in the library.']);
  });
});

it('a library that comes only in part is read again, and cannot be changed before it is whole', async () => {
  const { fetch } = server;
  let first = true;
  const stores = new Stores({
    shelf,
    by: 'me',
    colors,
    fetch: async (path, init) => {
      const response = await fetch(path, init);
      if (!first || !String(path).includes('/rows')) return response;
      first = false;
      return new Response((await response.text()).split('\n').slice(0, 2).join('\n'));
    },
  });
  const store = stores.library('l');
  close = store.open();
  expect(store.edit(renameLibrary('l', 'x'))).toBeNull();
  await until(() => store.snapshot().problem !== null);
  expect(store.snapshot().whole).toBe(false);
  await until(() => store.snapshot().whole);
  expect(names(store.rows)).toBe('a b c');
  expect(store.snapshot().problem).toBeNull();
});

describe('the print condition', () => {
  const HASH = 'e'.repeat(64);
  const other = { profile: HASH, intent: 'relative' as const, inkLimit: 300 };
  /** A page to which profiles come, or do not. */
  const pageWith = async (line: () => Response) => {
    const asked: string[] = [];
    const get = async (path: RequestInfo | URL) => {
      asked.push(String(path));
      return line();
    };
    const own = new Colors(get as typeof fetch, await loadEngine('profiles'));
    return { asked, stores: new Stores({ fetch: server.fetch, shelf, by: 'me', colors: own }) };
  };
  const uncoated = () => new Response(new Uint8Array(readFileSync('profiles/uncoated-offset.icc')));

  it('of somebody else’s edit is shown as soon as its profile is here', async () => {
    const { stores } = await pageWith(uncoated);
    const store = await opened(stores);
    server.other(() => setCondition('l', other, 'Another'));
    await until(() => store.snapshot().condition.setting.profile === HASH);
    expect(store.snapshot().library.condition).toEqual(other);
  });

  it('whose profile is gone is reported once, asked for once, and leaves the usual paper', async () => {
    const { asked, stores } = await pageWith(() => new Response('', { status: 404 }));
    const store = await opened(stores);
    store.edit(setCondition('l', other, 'Gone'));
    await saved(store);
    for (const name of ['x', 'y']) store.edit(setFields(['a'], { name }));
    await saved(store);
    await until(() => said(store).length > 0);
    expect(said(store)).toEqual([
      expect.stringMatching(/printed under is missing. Its inks are shown for Coated/),
    ]);
    expect(asked.length).toBe(1);
  });

  it('colours that name a profile of their own are shown through it, whoever brings them', async () => {
    const { stores } = await pageWith(uncoated);
    const store = await opened(stores);
    const magenta = { space: 'cmyk' as const, components: [0, 1, 0, 0] };
    server.other(() => setFields(['a'], { color: { ...magenta, profile: HASH } }));
    const now = () => store.snapshot().library.groups[0]!.swatches[0]!.color;
    await until(() => now().profile === HASH);
    const { condition } = store.snapshot();
    const before = toLab(magenta, condition);
    await until(() => toLab(now(), store.snapshot().condition)[0] > before[0] + 1);
  });
});
