import 'fake-indexeddb/auto';
import { describe, expect, it } from 'vitest';
import type { Columns, ListedBook } from '#server/books';
import { BooksStore } from './books-store';
import { Shelf } from './shelf';

const book: Columns = {
  id: 'b',
  name: 'Inks on coated',
  book: true,
  facts: { substrate: 'coated' },
  seq: 1,
  swatches: {
    id: ['x', 'y', 'grey', 'glow'],
    name: ['KW 1', 'KW 2', 'KW 3', 'KW 4'],
    code: ['1', '2', '3', '4'],
    kind: ['spot', 'spot', 'spot', 'spot'],
    hex: ['#aa0000', '#00aa00', '#888888', '#ff00ff'],
    l: [40, 60, 55, 60],
    a: [60, -60, 0, 90],
    b: [40, 50, 0, -60],
    special: [null, null, null, 'fluorescent'],
  },
  sets: [],
};
const listed = (id: string, shipped = false): ListedBook => ({
  id,
  name: id,
  facts: {},
  swatchCount: 4,
  seq: 1,
  shipped,
});

function made(answers: Record<string, unknown>, shelf = new Shelf(`books-${Math.random()}`)) {
  const asked: string[] = [];
  const get: typeof fetch = async (input) => {
    const path = String(input);
    asked.push(path);
    const found = Object.entries(answers).find(([begin]) => path.startsWith(begin));
    return found ? Response.json(found[1]) : new Response('It is away.', { status: 503 });
  };
  return { store: new BooksStore(shelf, get), asked, shelf };
}

describe('the books store', () => {
  it('finds a number of another book, to go to what is closest to it', async () => {
    const { store } = made({
      '/books/kept': [listed('b'), listed('other')],
      '/libraries/b/colors': book,
      '/libraries/other/colors': {
        ...book,
        id: 'other',
        swatches: { ...book.swatches, code: ['9', '8', '7', '6'] },
      },
    });
    await store.load();
    expect(await store.findElsewhere(' 8 ', 'b')).toEqual({ name: '8', book: 'other', lab: [60, -60, 50] });
    expect(await store.findElsewhere('8', 'other')).toBeNull();
    expect(await store.findElsewhere('no such', 'b')).toBeNull();
  });

  it('opens a book of the user’s first, once, and walks to where a number lies', async () => {
    const { store, asked } = made({
      '/books/kept': [listed('steps', true), listed('b')],
      '/libraries/b/colors': book,
    });
    await store.load();
    expect(store.snapshot().book).toBe('b');
    const [one, two] = await Promise.all([store.open('b'), store.open('b')]);
    expect(one).toBe(two);
    expect(asked.filter((a) => a.includes('colors'))).toHaveLength(1);
    await store.look('b', '3');
    expect([store.placeIn(one!), store.snapshot().view]).toEqual([2, 'greys']);
    await store.look('b', 'KW 4');
    expect([store.placeIn(one!), store.snapshot().view]).toEqual([3, 'specials']);
    await store.look('b', 'no such');
    expect(store.placeIn(one!)).toBe(3);
  });

  it('fetches whole swatches together, and again what did not come', async () => {
    const answers: Record<string, unknown> = {};
    const { store, asked } = made(answers);
    const first = Promise.allSettled([store.entry('b', 'x'), store.entry('b', 'y')]);
    expect((await first).map((r) => r.status)).toEqual(['rejected', 'rejected']);
    expect(asked).toEqual(['/libraries/b/entries?ids=x,y']);
    answers['/libraries/b/entries'] = [{ id: 'x', name: 'KW 1' }];
    expect(await store.entry('b', 'x')).toMatchObject({ name: 'KW 1' });
    expect(await store.entry('b', 'y')).toBeNull();
  });

  it('says why a book is not available, and forgets it when it is', async () => {
    const answers: Record<string, unknown> = { '/books/kept': [listed('b')] };
    const { store } = made(answers);
    await store.load();
    expect(await store.open('b')).toBeNull();
    expect(store.snapshot().problem).toBe('It is away.');
    await store.look('b', '2');
    answers['/libraries/b/colors'] = book;
    await store.again();
    const open = store.snapshot().books.b!;
    expect(open.name).toBe('Inks on coated');
    expect(store.snapshot().problem).toBeNull();
    // where one wanted to go is where one comes
    expect(store.placeIn(open)).toBe(1);
  });

  it('comes back to where one was after a reload', async () => {
    const answers = { '/books/kept': [listed('b'), listed('c')], '/libraries/b/colors': book };
    const { store, shelf } = made(answers);
    await store.load();
    const open = (await store.open('b'))!;
    await store.look('b');
    store.choose(open, 1);
    store.show('list');
    store.saveNow();
    await new Promise((done) => setTimeout(done, 20));
    const { store: later } = made(answers, shelf);
    await later.restore();
    await later.load();
    const again = (await later.open('b'))!;
    expect([later.snapshot().book, later.placeIn(again), later.snapshot().view]).toEqual(['b', 1, 'list']);
  });

  it('marks and unmarks', () => {
    const { store } = made({});
    store.mark('x');
    store.mark('y');
    store.mark('x');
    expect(store.snapshot().marked).toEqual(['y']);
    store.unmark();
    expect(store.snapshot().marked).toEqual([]);
  });
});
