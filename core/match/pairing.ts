import type { Draft, Item, Library, LibraryRows, NewId, Op } from '../swatch/index.ts';
import { itemOps } from '../swatch/item-ops.ts';

export const PAIRING = 'pairing';

/**
 * What a swatch of a library corresponds to elsewhere, most often in a book. When the swatch is deleted it stays, unseen, so
 * that undo brings back both; no copy and no file takes it along then.
 */
export interface Equivalent {
  /** The id and name of the book or library. */
  source: string;
  sourceName: string;
  /** What it is called there. */
  name: string;
  code?: string;
  /** What it measures, Lab D50. */
  lab: number[];
  /** How far the two are apart, by which metric. */
  difference: number;
  metric: string;
}

export type Pairing = Item & { kind: typeof PAIRING; refs: [string]; data: Equivalent };

export const isPairing = (item: Item): item is Pairing =>
  item.kind === PAIRING && item.refs?.length === 1 && typeof item.data === 'object' && item.data !== null;

/** What each swatch of a library is paired with, by its id. A swatch may have an equivalent in each of several books. */
export function pairingsOf(library: Pick<Library, 'items'>): Map<string, Pairing[]> {
  const found = new Map<string, Pairing[]>();
  for (const item of library.items ?? [])
    if (isPairing(item)) {
      const [swatch] = item.refs;
      const list = found.get(swatch);
      if (list) list.push(item);
      else found.set(swatch, [item]);
    }
  return found;
}

/** Keeps what swatches are paired with; in one book each has one equivalent, and a new one takes the place of the old. */
export function pairOps(
  rows: LibraryRows,
  pairs: readonly { swatch: string; with: Equivalent }[],
  newId: NewId,
): Op[] {
  const known = pairingsOf(rows.library);
  const fresh: { swatch: string; with: Equivalent }[] = [];
  const ops: Op[] = [];
  for (const pair of pairs) {
    const old = known.get(pair.swatch)?.find((p) => p.data.source === pair.with.source);
    if (old)
      ops.push({ op: 'set', of: 'item', id: old.id, fields: { name: pair.with.name, data: pair.with } });
    else fresh.push(pair);
  }
  const made = fresh.map(
    ({ swatch, with: data }): Item => ({ id: newId(), kind: PAIRING, name: data.name, refs: [swatch], data }),
  );
  return [...ops, ...itemOps(rows, made)];
}

/** Takes pairings away. */
export const unpair = (ids: readonly string[]): Draft => ({
  label: `forget ${ids.length === 1 ? 'an equivalent' : `${ids.length} equivalents`}`,
  ops: ids.map((id): Op => ({ op: 'drop', of: 'item', id })),
});
