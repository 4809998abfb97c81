import { IDBFactory } from 'fake-indexeddb';
import 'fake-indexeddb/auto';
import { beforeEach, expect, it, vi } from 'vitest';
import { CodesStore } from './codes-store';
import { Shelf } from './shelf';

let shelf: Shelf;
beforeEach(() => {
  vi.stubGlobal('indexedDB', new IDBFactory());
  shelf = new Shelf();
});

const texts = (store: CodesStore) => store.snapshot().lines.map((l) => l.text);
const read = (store: CodesStore) => store.snapshot().lines.map((l) => l.read?.codes.length ?? null);

it('adds the lines of a text at the end, and says how many there were', () => {
  const store = new CodesStore(shelf);
  expect(store.add('#8a1c24\n\n  Sea #14304a ')).toBe(2);
  expect(store.add('   \n')).toBe(0);
  store.add('brass: #d9a441');
  expect(texts(store)).toEqual(['#8a1c24', 'Sea #14304a', 'brass: #d9a441']);
  expect(read(store)).toEqual([1, 1, 1]);
});

it('reads a long paste in pieces, all of it in the end', async () => {
  const store = new CodesStore(shelf);
  store.add(Array.from({ length: 1000 }, (_, i) => `#${(i + 0x100000).toString(16)}`).join('\n'));
  expect(read(store).filter((n) => n === null).length).toBeGreaterThan(0);
  await vi.waitFor(() => expect(read(store).every((n) => n === 1)).toBe(true));
});

it('makes several lines of one when several are pasted into it, in its place', () => {
  const store = new CodesStore(shelf);
  store.add('#8a1c24\n#14304a');
  const [first] = store.snapshot().lines;
  store.change(first.id, '#111\n#222\n#333');
  expect(texts(store)).toEqual(['#111', '#222', '#333', '#14304a']);
  expect(store.snapshot().lines[0].id).toBe(first.id);
});

it('forgets the answers of a line that is typed again', () => {
  const store = new CodesStore(shelf);
  store.add('#80ff0000');
  const { id } = store.snapshot().lines[0];
  store.answer(id, 0, 'first');
  expect(store.snapshot().lines[0].own).toEqual({ 0: 'first' });
  store.change(id, '#80ff0001');
  expect(store.snapshot().lines[0].own).toEqual({});
});

it('brings back one line or all that were taken away', () => {
  const store = new CodesStore(shelf);
  store.add('#111\n#222\n#333');
  const { back, matter } = store.remove(store.snapshot().lines[1].id);
  expect(texts(store)).toEqual(['#111', '#333']);
  expect(matter.stands()).toBe(true);
  store.add('#444');
  back();
  expect(matter.stands()).toBe(false);
  expect(texts(store)).toEqual(['#111', '#222', '#333', '#444']);
  back();
  expect(texts(store)).toHaveLength(4);
  const all = store.remove();
  expect(texts(store)).toEqual([]);
  store.add('#555');
  all.back();
  expect(texts(store)).toEqual(['#111', '#222', '#333', '#444', '#555']);
});

it('keeps lines and answers through a reload, before what was added meanwhile', async () => {
  // a shelf of its own: what the stores before have still to write down is not to come in between
  const own = new Shelf('kept-lines');
  const before = new CodesStore(own);
  before.add('#80ff0000\nSails');
  before.answerAll('alpha', 'first');
  before.put({ once: true });
  before.saveNow();
  await own.all('notes');
  const after = new CodesStore(own);
  after.add('#14304a');
  await after.restore();
  expect(texts(after)).toEqual(['#80ff0000', 'Sails', '#14304a']);
  expect(after.snapshot()).toMatchObject({ answers: { alpha: 'first' }, once: true });
  expect(read(after)).toEqual([1, 0, 1]);
});

it('begins empty where what was kept is of another shape', async () => {
  const own = new Shelf('of-another-shape');
  await own.put('notes', { lines: 'none' }, 'codes');
  const store = new CodesStore(own);
  await store.restore();
  expect(texts(store)).toEqual([]);
});
