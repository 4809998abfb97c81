import { describe, expect, it } from 'vitest';
import { conditionIn, deltaE00, type Lab } from '#core/color/index';
import { NO_LIMITS } from '#core/match/index';
import { coated, engine } from '#core/testing';
import type { Columns } from '#server/books';
import { matchAnswers } from './match-answers';
import { StoppedError } from './worker-client';

const columns = (id: string, labs: Lab[], seq = 1): Columns => ({
  id,
  name: `Book ${id}`,
  book: true,
  facts: { substrate: 'coated' },
  seq,
  swatches: {
    id: labs.map((_, i) => `${id}-${i}`),
    name: labs.map((_, i) => `${id} ${i}`),
    code: labs.map((_, i) => String(i)),
    kind: labs.map(() => 'spot'),
    hex: labs.map(() => '#808080'),
    l: labs.map((v) => v[0]),
    a: labs.map((v) => v[1]),
    b: labs.map((v) => v[2]),
    special: labs.map(() => null),
  },
  sets: [],
});

/** A server that tells its books' states, and how often each was sent whole. */
function served(books: Record<string, Columns>) {
  const asked: string[] = [];
  const get: typeof fetch = async (path) => {
    const id = /libraries\/(.*)\/colors/.exec(String(path))![1]!;
    asked.push(id);
    const book = books[id];
    return book
      ? Response.json(book, { headers: { ETag: `"${book.seq}"` } })
      : new Response('This library does not exist.', { status: 404 });
  };
  return { get, asked };
}

const context = { stage: () => undefined, breathe: async () => undefined };
const where = { metric: 'de00' as const, limits: NO_LIMITS, setting: coated.setting, n: 2 };
const answersOf = (get: typeof fetch) =>
  matchAnswers({ condition: async (s) => conditionIn(engine, s) }, get);

describe('the match worker', () => {
  const a = columns('a', [
    [50, 60, 40],
    [50, 0, 0],
  ]);
  const b = columns('b', [[52, 61, 40]]);

  it('finds the nearest in several books, and not the swatch itself', async () => {
    const { get } = served({ a, b });
    const wanted = [
      { lab: [50, 60, 40] as Lab },
      { lab: [50, 60, 40] as Lab, not: ['a', 'a-0'] as [string, string] },
    ];
    const [all, others] = await answersOf(get).nearest({ ...where, sources: ['a', 'b'], wanted }, context);
    expect(all!.map((f) => [f.name, f.sourceName])).toEqual([
      ['a 0', 'Book a'],
      ['b 0', 'Book b'],
    ]);
    expect(others!.map((f) => f.name)).toEqual(['b 0', 'a 1']);
    expect(others![0]!.difference).toBeCloseTo(deltaE00([50, 60, 40], [52, 61, 40]), 12);
  });

  it('sees that a book has changed, and says which is not available', async () => {
    const books = { a };
    const { get } = served(books);
    const worker = answersOf(get);
    const ask = { ...where, sources: ['a'], wanted: [{ lab: [10, 0, 0] as Lab }], n: 1 };
    expect((await worker.nearest(ask, context))[0]![0]!.name).toBe('a 1');
    books.a = columns('a', [[10, 0, 0]], 2);
    expect((await worker.nearest(ask, context))[0]![0]!.name).toBe('a 0');
    await expect(worker.nearest({ ...ask, sources: ['gone'] }, context)).rejects.toThrow(
      /library does not exist/,
    );
  });

  it('pairs one to one, and can be stopped', async () => {
    const { get } = served({ a });
    const wanted = [{ lab: [50, 60, 40] as Lab }, { lab: [50, 50, 33] as Lab }, { lab: [50, 1, 0] as Lab }];
    const { chosen, nearest } = await answersOf(get).translate({ ...where, sources: ['a'], wanted }, context);
    // there are two, of which each is taken once; who is left over has none
    expect(chosen.map((c) => c?.name)).toEqual(['a 0', undefined, 'a 1']);
    expect(nearest[1]![0]!.name).toBe('a 0');
    const many = columns(
      'm',
      Array.from({ length: 2000 }, (_, i): Lab => [i / 30, i % 50, i % 40]),
    );
    const stop = { ...context, breathe: () => Promise.reject(new StoppedError()) };
    const long = Array.from({ length: 2000 }, (_, i) => ({ lab: [i / 30, (i * 7) % 50, 0] as Lab }));
    await expect(
      answersOf(served({ m: many }).get).translate({ ...where, sources: ['m'], wanted: long }, stop),
    ).rejects.toThrow(StoppedError);
    const far = Array.from({ length: 2001 }, () => ({ lab: [0, 0, 0] as Lab }));
    await expect(
      answersOf(get).translate({ ...where, sources: ['a'], wanted: far, n: 1 }, context),
    ).rejects.toThrow(/up to 2,000/);
  });
});
