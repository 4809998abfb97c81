import { generateKeyBetween, generateNKeysBetween } from 'fractional-indexing';

/** A row's place among its neighbours: rows stand in the order of these strings, and those alike in that of their ids. */
export type OrderKey = string;

/** Something that has a place. */
export interface Ordered {
  id: string;
  order: OrderKey;
}

/** Keys grow where much is put into one place; from this length on the neighbours get new, short ones. */
const LONG = 24;
/** How many neighbours are first taken into that, and how fast that grows until their keys are short. */
const NEIGHBOURS = 32;

export const byOrder = (a: Ordered, b: Ordered): number =>
  a.order < b.order ? -1 : a.order > b.order ? 1 : a.id < b.id ? -1 : a.id > b.id ? 1 : 0;

/**
 * What a string from outside must be for others to be put before and after it (fractional-indexing): a letter that says how many
 * digits of a whole number follow, these, and a fraction that does not end in 0; the least of all numbers has nothing before it.
 */
export const ORDER_KEY = `^(?!A0{26}$)(?:${Array.from(
  { length: 26 },
  (_, i) => `[${String.fromCharCode(97 + i)}${String.fromCharCode(90 - i)}][0-9A-Za-z]{${i + 1}}`,
).join('|')})(?:[0-9A-Za-z]*[1-9A-Za-z])?$`;

/** Keys for this many rows, the first ones of their kind. */
export const firstKeys = (n: number): OrderKey[] => generateNKeysBetween(null, null, n);

/** A key before all others. */
export const keyBefore = (first: OrderKey | null): OrderKey => generateKeyBetween(null, first);

/** Keys between two that are there; null for an open end. */
export const keysBetween = (a: OrderKey | null, b: OrderKey | null, n: number): OrderKey[] =>
  generateNKeysBetween(a, b, n);

export interface Keys {
  /** For the rows that arrive. */
  keys: OrderKey[];
  /** New keys for rows that are there, where two had the same or keys had grown long. */
  rekeyed: Ordered[];
}

/**
 * Keys for `n` rows that arrive before a place of a list, counted from 0; beyond its end, at its end.
 *
 * @param list the rows that are there, by {@link byOrder}
 */
export function keysAt(list: readonly Ordered[], place: number, n: number): Keys {
  if (n === 0) return { keys: [], rekeyed: [] };
  const index = Math.min(Math.max(0, place), list.length);
  let [from, to] = [index, index];
  for (let reach = 0; ; reach = reach === 0 ? NEIGHBOURS : reach * 4) {
    from = Math.max(0, index - reach);
    to = Math.min(list.length, index + reach);
    // what has the same key as its neighbour outside leaves no room between them
    while (from > 0 && to < list.length && list[from - 1]!.order >= list[to]!.order) to++;
    const keys = generateNKeysBetween(list[from - 1]?.order ?? null, list[to]?.order ?? null, n + to - from);
    const whole = from === 0 && to === list.length;
    if (!whole && keys.some((key) => key.length > LONG)) continue;
    const before = index - from;
    const rekeyed = [
      ...list.slice(from, index).map(({ id }, i) => ({ id, order: keys[i]! })),
      ...list.slice(index, to).map(({ id }, i) => ({ id, order: keys[before + n + i]! })),
    ];
    return { keys: keys.slice(before, before + n), rekeyed };
  }
}

/** The list without two of one key: itself where there are none, else all with new keys. */
export function withDistinctKeys(list: readonly Ordered[]): readonly Ordered[] {
  if (list.every((row, i) => i === 0 || list[i - 1]!.order < row.order)) return list;
  const keys = firstKeys(list.length);
  return list.map(({ id }, i) => ({ id, order: keys[i]! }));
}
