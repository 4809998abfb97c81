import { itemFields, type Op } from './change.ts';
import type { Item } from './model.ts';
import { keysAt } from './order-keys.ts';
import type { LibraryRows } from './rows.ts';

/** Items as new rows behind those there are. */
export function itemOps(rows: Pick<LibraryRows, 'itemPlaces'>, items: readonly Item[]): Op[] {
  const places = rows.itemPlaces();
  const { keys } = keysAt(places, places.length, items.length);
  return items.map((item, i) => ({
    op: 'put',
    of: 'item',
    id: item.id,
    fields: itemFields(item, keys[i]!),
  }));
}
