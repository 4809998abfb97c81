import 'fake-indexeddb/auto';
import { describe, expect, it } from 'vitest';
import { Shelf } from './shelf';

let n = 0;
const newShelf = () => new Shelf(`shelf-${n++}`);
const change = (id: string) => ({ id, by: 'me', label: 'a change', ops: [] });

describe('the shelf of this browser', () => {
  it('keeps things through a new page, each by itself', async () => {
    const shelf = newShelf();
    expect(await shelf.put('notes', { text: 'hull' }, 'codes')).toBe(true);
    expect(await shelf.put('pictures', { id: 'p', name: 'sea.png' })).toBe(true);
    const later = new Shelf(`shelf-${n - 1}`);
    expect(await later.get('notes', 'codes')).toEqual({ text: 'hull' });
    expect(await later.all('pictures')).toEqual([{ id: 'p', name: 'sea.png' }]);
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
    const [here, there] = [newShelf(), new Shelf(`shelf-${n - 1}`)];
    const heard: string[] = [];
    const channel = new BroadcastChannel(`shelf-${n - 1}`);
    channel.onmessage = ({ data }) => heard.push(`${data.shelf} ${data.key} ${data.gone}`);
    await here.put('notes', 1, 'a');
    await here.queue({ library: 'l', seen: 0, change: change('c') });
    await there.drop('notes', 'a');
    // a page without a window has no channel of its own to speak on
    await new Promise((resolve) => setTimeout(resolve, 50));
    channel.close();
    expect(heard.filter((h) => h.startsWith('changes'))).toEqual([]);
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
