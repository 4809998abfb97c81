import 'fake-indexeddb/auto';
import { describe, expect, it, vi } from 'vitest';
import { Shelf } from './shelf';

let n = 0;
const newShelf = () => new Shelf(`shelf-${n++}`);
const change = (id: string) => ({ id, by: 'me', label: 'a change', ops: [] });

describe('the shelf of this browser', () => {
  it('keeps things through a new page, each by itself', async () => {
    const sea = { id: 'p', name: 'sea.png', keptIn: null, copy: null, at: 1 };
    const shelf = newShelf();
    expect(await shelf.put('notes', { text: 'hull' }, 'codes')).toBe(true);
    expect(await shelf.put('pictures', sea)).toBe(true);
    const later = new Shelf(`shelf-${n - 1}`);
    expect(await later.get('notes', 'codes')).toEqual({ text: 'hull' });
    expect(await later.all('pictures')).toEqual([sea]);
    expect(await later.get('notes', 'nothing')).toBeUndefined();
  });

  it('numbers waiting changes in the order they came, and lets go of those that are done', async () => {
    const shelf = newShelf();
    const first = await shelf.queue({ library: 'l', seen: 0, change: change('a') });
    const second = await shelf.queue({ library: 'l', seen: 0, change: change('b') });
    expect(second!).toBeGreaterThan(first!);
    await shelf.drop('changes', first!);
    expect((await shelf.all('changes')).map((w) => w.change.id)).toEqual(['b']);
  });

  it('tells other pages what has been put there and taken away, but not changes, which are sent but once', async () => {
    // a shelf on the server, without a window, has nobody to tell
    vi.stubGlobal('window', {});
    const here = newShelf();
    const there = new Shelf(`shelf-${n - 1}`);
    vi.unstubAllGlobals();
    const heard: string[] = [];
    const end = there.listen(({ shelf, key, gone }) =>
      heard.push(`${shelf} ${key} ${gone ? 'gone' : 'there'}`),
    );
    await here.queue({ library: 'l', seen: 0, change: change('c') });
    await here.put('notes', 1, 'a');
    await here.drop('notes', 'a');
    await expect.poll(() => heard).toEqual(['notes a there', 'notes a gone']);
    end();
  });

  it('does without when the browser keeps nothing', async () => {
    const { open } = indexedDB;
    indexedDB.open = () => {
      throw new Error('not in a private window');
    };
    try {
      const shelf = newShelf();
      expect(await shelf.put('notes', 1, 'a')).toBe(false);
      expect(await shelf.queue({ library: 'l', seen: 0, change: change('a') })).toBeNull();
      expect(await shelf.all('notes')).toEqual([]);
    } finally {
      indexedDB.open = open;
    }
  });
});
