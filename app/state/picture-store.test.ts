import { IDBFactory } from 'fake-indexeddb';
import { convert } from '#core/color/index';
import { coated } from '#core/testing';
import 'fake-indexeddb/auto';
import { afterEach, beforeEach, describe, expect, it, type Mock, vi } from 'vitest';
import { newTake } from '#core/picture/index';
import type { PictureClient } from '~/workers/clients';
import { PictureStore } from './picture-store';
import { Shelf, type ShelfNews } from './shelf';

/** A browser's pages hear of each other's shelves; a page does not hear of its own. */
const pages = new Set<FakeChannel>();
class FakeChannel extends EventTarget {
  constructor() {
    super();
    pages.add(this);
  }
  postMessage(data: ShelfNews) {
    for (const page of pages) if (page !== this) page.dispatchEvent(new MessageEvent('message', { data }));
  }
}

const opened: string[] = [];
const client = () =>
  ({
    ask: async (name: string, ask: { id: string }) => {
      if (name === 'open') opened.push(ask.id);
      if (name === 'copy') return { copy: new Blob(['copy']), width: 2, height: 2 };
      return { width: 4, height: 4, opaque: 16, space: 'sRGB', note: null, thumbnail: new Blob([]) };
    },
    close: () => undefined,
  }) as unknown as PictureClient;

let send: Mock<typeof fetch>;
const page = () => new PictureStore(new Shelf(), client, send);
const settle = async () => {
  for (let i = 0; i < 25; i++) {
    await vi.advanceTimersByTimeAsync(40);
    await new Promise(setImmediate);
  }
};
const file = (name: string) => ({ name, file: new Blob([name]) });
const takes = (store: PictureStore) =>
  Object.fromEntries(
    Object.entries(store.snapshot().boards).map(([id, b]) => [
      store.snapshot().pictures.find((p) => p.id === id)?.name ?? id,
      b.takes.map((t) => t.name),
    ]),
  );
const put = vi.spyOn(Shelf.prototype, 'put');

beforeEach(() => {
  vi.useFakeTimers({ toFake: ['setTimeout', 'clearTimeout'] });
  vi.stubGlobal('indexedDB', new IDBFactory());
  vi.stubGlobal('window', {});
  vi.stubGlobal('BroadcastChannel', FakeChannel);
  const session = new Map<string, string>();
  vi.stubGlobal('sessionStorage', {
    getItem: (k: string) => session.get(k) ?? null,
    setItem: (k: string, v: string) => session.set(k, v),
  });
  send = vi.fn(async () => new Response(null, { status: 204 }));
  pages.clear();
  opened.length = 0;
  put.mockClear();
});
afterEach(() => {
  vi.useRealTimers();
  vi.unstubAllGlobals();
});

describe('pictures', () => {
  it('and their takes are there again after a reload, the one shown and the take worked on too', async () => {
    const before = page();
    before.open([file('a.png'), file('b.png')]);
    const [, b] = before.snapshot().pictures;
    before.show(b.id);
    before.change(b.id, (t) => ({ ...t, name: 'Dusk' }));
    before.addTake(b.id);
    before.change(b.id, (t) => ({ ...t, name: 'Night' }));
    before.chooseTake(b.id, before.snapshot().boards[b.id].takes[0].id);
    await settle();
    const after = page();
    await after.restore();
    await settle();
    const now = after.snapshot();
    expect(now.pictures.map((p) => [p.name, !!p.opened, p.problem])).toEqual([
      ['a.png', true, null],
      ['b.png', true, null],
    ]);
    expect([now.shown, takes(after)['b.png']]).toEqual([b.id, ['Dusk', 'Night']]);
    expect(now.boards[b.id].current).toBe(now.boards[b.id].takes[0].id);
  });

  it('are written once, and a slider writes its own take alone', async () => {
    const store = page();
    store.open([file('a.png'), file('b.png')]);
    await settle();
    const files = put.mock.calls.filter(([shelf]) => shelf === 'files').length;
    expect(files).toBe(2);
    put.mockClear();
    const [a] = store.snapshot().pictures;
    for (let i = 0; i < 20; i++) {
      store.change(a.id, (t) => ({ ...t, recipe: { ...t.recipe, count: 5 + i } }));
      await settle();
    }
    expect(put.mock.calls.map(([shelf]) => shelf)).toEqual(Array(20).fill('takes'));
  });

  it('a take that goes and comes back stands where it stood, after a reload too', async () => {
    const before = page();
    const files = ['a.png', 'b.png', 'c.png', 'd.png', 'e.png', 'f.png'];
    before.open(files.map(file));
    for (const { id } of before.snapshot().pictures) {
      before.show(id);
      before.change(id, (t) => ({ ...t, name: 'First' }));
      before.addTake(id);
      before.change(id, (t) => ({ ...t, name: 'Second' }));
      await settle();
      const back = before.removeTake(id, before.snapshot().boards[id].takes[0].id);
      before.change(id, (t) => ({ ...t, name: 'Still second' }));
      await settle();
      back?.();
      await settle();
    }
    const after = page();
    await after.restore();
    await settle();
    expect(takes(after)).toEqual(Object.fromEntries(files.map((name) => [name, ['First', 'Still second']])));
  });

  it('that are closed are gone after a reload, with their files and takes', async () => {
    const store = page();
    store.open([file('a.png')]);
    await settle();
    store.close(store.snapshot().pictures[0].id);
    await settle();
    const shelf = new Shelf();
    expect([await shelf.all('pictures'), await shelf.all('files'), await shelf.all('takes')]).toEqual([
      [],
      [],
      [],
    ]);
  });

  it('are limited, and those left out are reported with what to do', async () => {
    const store = page();
    store.open(Array.from({ length: 30 }, (_, i) => file(`${i}.png`)));
    expect(store.snapshot().pictures).toHaveLength(24);
    expect(store.snapshot().problem).toMatch(/6 pictures were not opened.*Close some first/);
  });

  it('that this browser has no room for stay open, and it is reported', async () => {
    put.mockResolvedValueOnce(false);
    const store = page();
    store.open([file('a.png')]);
    await settle();
    expect(store.snapshot().pictures).toHaveLength(1);
    expect(store.snapshot().problem).toMatch(/no room to keep/);
  });

  it('kept by an earlier version come over', async () => {
    const store = page();
    const take = { ...newTake('t'), name: 'Old' };
    await store.restore({
      pictures: [{ id: 'p', name: 'old.png', file: new Blob(['x']), keptIn: null, copy: null }],
      boards: { p: { takes: [take], current: 't' } },
    });
    await settle();
    expect(takes(store)).toEqual({ 'old.png': ['Old'] });
    expect(opened).toEqual(['p']);
  });
});

describe('two pages of one browser', () => {
  it('show the same pictures and takes, and neither overwrites what the other has done', async () => {
    const [one, two] = [page(), page()];
    await Promise.all([one.restore(), two.restore()]);
    one.open([file('a.png')]);
    await settle();
    const [{ id }] = one.snapshot().pictures;
    expect(takes(two)).toEqual({ 'a.png': [''] });
    one.addTake(id);
    await settle();
    // each works on a take of its own, at the same time
    const [first, second] = two.snapshot().boards[id].takes;
    two.chooseTake(id, first.id);
    one.chooseTake(id, second.id);
    two.change(id, (t) => ({ ...t, name: 'Two' }));
    one.change(id, (t) => ({ ...t, name: 'One' }));
    await settle();
    for (const store of [one, two]) expect(takes(store)).toEqual({ 'a.png': ['Two', 'One'] });
    const after = page();
    await after.restore();
    expect(takes(after)).toEqual({ 'a.png': ['Two', 'One'] });
    two.close(id);
    await settle();
    expect(one.snapshot().pictures).toEqual([]);
  });

  it('that find the same colours do not go on telling each other', async () => {
    const [one, two] = [page(), page()];
    await Promise.all([one.restore(), two.restore()]);
    one.open([file('a.png')]);
    await settle();
    const [{ id }] = one.snapshot().pictures;
    const [{ id: take }] = one.snapshot().boards[id].takes;
    const color = {
      color: { space: 'rgb' as const, components: [0, 0, 0] },
      rgb: [0, 0, 0] as never,
      share: 1,
      first: 0,
    };
    for (const store of [one, two]) store.keepResult(id, take, [{ ...color }], 1);
    await settle();
    put.mockClear();
    for (const store of [one, two]) store.keepResult(id, take, [{ ...color }], 1);
    await settle();
    expect(put).not.toHaveBeenCalled();
  });
});

describe('takes kept with a library', () => {
  const kept = async () => {
    const store = page();
    store.open([file('a.png')]);
    await settle();
    const [{ id }] = store.snapshot().pictures;
    send.mockResolvedValueOnce(new Response(null, { status: 201 }));
    await store.keep('l', id);
    await settle();
    send.mockClear();
    return { store, id };
  };

  it('follow the changes', async () => {
    const { store, id } = await kept();
    store.change(id, (t) => ({ ...t, name: 'Dusk' }));
    await settle();
    expect(send.mock.calls.map(([url, init]) => [url, init?.method])).toEqual([
      [`/libraries/l/pictures/${id}`, 'PATCH'],
    ]);
    expect(send.mock.calls[0]?.[1]?.body).toMatch(/Dusk/);
  });

  it('are sent again when the server was not there', async () => {
    const { store, id } = await kept();
    send.mockRejectedValueOnce(new TypeError('offline'));
    store.change(id, (t) => ({ ...t, name: 'Dusk' }));
    for (let i = 0; i < 8; i++) await settle();
    expect(send).toHaveBeenCalledTimes(2);
    expect(store.snapshot().problem).toBeNull();
  });

  it('that the server refuses are said, and the picture is no longer called kept when it is not', async () => {
    const { store, id } = await kept();
    send.mockResolvedValueOnce(
      new Response('The picture is no longer kept with the library.', { status: 404 }),
    );
    store.change(id, (t) => ({ ...t, name: 'Dusk' }));
    await settle();
    expect(store.snapshot().problem).toMatch(
      /takes of a\.png could not be kept.*no longer kept with the library/,
    );
    expect(store.snapshot().pictures[0].keptIn).toBeNull();
  });
});

it('takes of earlier versions that hold inks hold what those show, since a picture has no press', async () => {
  send.mockResolvedValue(new Response(new Blob(['copy'])));
  const store = new PictureStore(new Shelf(), client, send, {
    condition: async () => coated,
  });
  const held = { name: 'Magenta', color: { space: 'cmyk' as const, components: [0, 1, 0, 0] } };
  const take = { ...newTake('t'), recipe: { ...newTake('t').recipe, held: [held] } };
  await store.openKept('l', { id: 'k', name: 'Kept', takes: [take] });
  const [shown] = store.snapshot().boards.k!.takes;
  expect(shown!.recipe.held).toEqual([{ name: 'Magenta', color: convert(held.color, 'rgb', coated) }]);
});
