import fc from 'fast-check';
import { generateKeyBetween } from 'fractional-indexing';
import { expect, it } from 'vitest';
import { byOrder, firstKeys, keysAt, ORDER_KEY, type Ordered, withDistinctKeys } from './order-keys.ts';

const list = (...orders: string[]): Ordered[] => orders.map((order, i) => ({ id: `r${i}`, order }));

/** Puts rows into a list as a holder would, with whatever new keys the neighbours get. */
function inserted(rows: Ordered[], index: number, ids: string[]): Ordered[] {
  const { keys, rekeyed } = keysAt(rows, index, ids.length);
  const renewed = new Map(rekeyed.map((r) => [r.id, r.order]));
  return [
    ...rows.map((r) => ({ id: r.id, order: renewed.get(r.id) ?? r.order })),
    ...ids.map((id, i) => ({ id, order: keys[i] })),
  ].sort(byOrder);
}

const isOrderKey = (key: string) => new RegExp(ORDER_KEY, 'u').test(key);

it('puts rows exactly where they belong, among equal keys too', () => {
  fc.assert(
    fc.property(
      fc.array(fc.constantFrom('a0', 'a1', 'a1V', 'a2', 'Zz', 'b00'), { maxLength: 12 }),
      fc.nat(),
      fc.integer({ min: 1, max: 5 }),
      (orders, at, n) => {
        const rows = list(...orders).sort(byOrder);
        const index = at % (rows.length + 1);
        const ids = Array.from({ length: n }, (_, i) => `n${i}`);
        const wanted = [...rows.slice(0, index), ...ids.map((id) => ({ id })), ...rows.slice(index)];
        expect(inserted(rows, index, ids).map((r) => r.id)).toEqual(wanted.map((r) => r.id));
      },
    ),
  );
});

it('leaves the neighbours alone where there is room', () => {
  expect(keysAt(list('a0', 'a1'), 1, 3).rekeyed).toEqual([]);
  expect(keysAt([], 0, 2)).toEqual({ keys: ['a0', 'a1'], rekeyed: [] });
});

it('keys stay short when ten thousand rows are put into one place, and few neighbours get new ones', () => {
  let rows = list('a0', 'a1');
  let others = 0;
  for (let i = 0; i < 10_000; i++) {
    const { keys, rekeyed } = keysAt(rows, 1, 1);
    others += rekeyed.length;
    const renewed = new Map(rekeyed.map((r) => [r.id, r.order]));
    rows = rows.map((r) => (renewed.has(r.id) ? { id: r.id, order: renewed.get(r.id)! } : r));
    rows.splice(1, 0, { id: `n${i}`, order: keys[0] });
  }
  expect(rows.every((r, i) => i === 0 || rows[i - 1].order < r.order)).toBe(true);
  expect(Math.max(...rows.map((r) => r.order.length))).toBeLessThanOrEqual(30);
  expect(others / 10_000).toBeLessThan(3);
});

it('a hundred thousand first keys are short, in order, and sort by their bytes', () => {
  const keys = firstKeys(100_000);
  expect(Math.max(...keys.map((k) => k.length))).toBeLessThanOrEqual(4);
  expect([...keys].sort((a, b) => Buffer.compare(Buffer.from(a), Buffer.from(b)))).toEqual(keys);
});

it('knows a key that nothing fits before or after', () => {
  expect(['a0', 'Zz', 'b00V'].map(isOrderKey)).toEqual([true, true, true]);
  expect(['', 'a', 'a00', '!', 'a0é', 'A00000000000000000000000000'].map(isOrderKey)).toEqual(
    Array(6).fill(false),
  );
  // fractional-indexing itself is the judge
  const usable = (key: string) => {
    try {
      generateKeyBetween(key, null);
      generateKeyBetween(null, key);
      return true;
    } catch {
      return false;
    }
  };
  const real = fc.integer({ min: 0, max: 5000 }).map((i) => firstKeys(i + 1)[i]);
  const digits = fc.string({ unit: fc.constantFrom(...'012abzAZ'), maxLength: 30 });
  fc.assert(
    fc.property(
      fc.oneof(
        digits,
        fc.tuple(real, digits).map((parts) => parts.join('')),
      ),
      (key) => {
        expect(isOrderKey(key)).toBe(/^[0-9A-Za-z]+$/.test(key) && usable(key));
      },
    ),
    { numRuns: 1000 },
  );
});

it('gives rows of one key new ones, in the same order', () => {
  expect(withDistinctKeys(list('a0', 'a1'))).toEqual(list('a0', 'a1'));
  expect(withDistinctKeys(list('a0', 'a0', 'a1')).map((r) => r.order)).toEqual(['a0', 'a1', 'a2']);
});
