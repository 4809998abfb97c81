import 'fake-indexeddb/auto';
import { describe, expect, it, vi } from 'vitest';
import { fleet } from '#core/testing';
import { Shelf } from './shelf';
import { Store } from './store';
import { Stores } from './stores';

let n = 0;
/** Stores before a server that answers so, one answer after the other. */
function answering(...answers: (Response | Error)[]) {
  const asked: string[] = [];
  const fetch = vi.fn(async (input: RequestInfo | URL) => {
    asked.push(String(input));
    const answer = answers[Math.min(asked.length, answers.length) - 1]!;
    if (answer instanceof Error) throw answer;
    return answer.clone();
  });
  return {
    asked,
    stores: new Stores({ fetch: fetch as typeof globalThis.fetch, by: 'me', shelf: new Shelf(`s${n++}`) }),
  };
}

describe('a new library', () => {
  it('is kept once, under the id it is sent with again when no reply comes', async () => {
    const { asked, stores } = answering(new TypeError('gone'), new Response('ok', { status: 200 }));
    const id = await stores.createLibrary(fleet);
    expect(asked).toEqual([`/libraries?id=${id}`, `/libraries?id=${id}`]);
  });

  it('that is refused says why', async () => {
    const { stores } = answering(new Response('The name is too long.', { status: 400 }));
    await expect(stores.createLibrary(fleet)).rejects.toThrow(/The name is too long/);
  });

  it('while the server is away says so after a few tries', async () => {
    const { asked, stores } = answering(new TypeError('gone'));
    await expect(stores.createLibrary(fleet)).rejects.toThrow();
    expect(asked.length).toBe(3);
  });
});

describe('the stores of a page', () => {
  it('have one store for each library, and the tray apart from them', () => {
    const { stores } = answering(new Response('{}'));
    const [a, b] = [stores.library('a', 'A'), stores.library('b')];
    expect(stores.library('a')).toBe(a);
    expect(a).not.toBe(b);
    expect(a.snapshot().library.name).toBe('A');
    expect(stores.tray).toBe(stores.tray);
    // those that nobody looks at are let go of in time; the tray never is
    const { tray } = stores;
    for (let i = 0; i < 10; i++) stores.library(`other-${i}`);
    expect(stores.library('a')).not.toBe(a);
    expect(stores.tray).toBe(tray);
  });

  it('list the libraries, or nothing when the server does not answer', async () => {
    const list = [{ id: 'a', name: 'A', swatchCount: 3 }];
    expect(await answering(Response.json(list)).stores.listLibraries()).toEqual(list);
    expect(await answering(new TypeError('gone')).stores.listLibraries()).toBeNull();
    expect(await answering(new Response('', { status: 503 })).stores.listLibraries()).toBeNull();
  });
});

describe('any store', () => {
  class Counter extends Store<{ n: number; word: string }> {
    constructor() {
      super({ n: 0, word: '' });
    }
    add() {
      this.set({ n: this.snapshot().n + 1 });
    }
  }

  it('replaces its state and tells those who listen, until they stop', () => {
    const store = new Counter();
    const first = store.snapshot();
    const heard: number[] = [];
    const stop = store.subscribe(() => heard.push(store.snapshot().n));
    store.add();
    stop();
    store.add();
    expect(heard).toEqual([1]);
    expect(first).toEqual({ n: 0, word: '' });
    expect(store.snapshot()).toEqual({ n: 2, word: '' });
  });
});
