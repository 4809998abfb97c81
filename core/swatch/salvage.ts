import { type Change, type Fields, type RowReader, toSwatch } from './change.ts';
import type { Group, NewId } from './model.ts';

/** What changes hold that can be kept without the library they were made for. */
export interface Salvaged {
  /** Swatches that were added or changed, as they were to be, in their groups, under new ids. */
  groups: Group[];
  /** Rows that were changed, of which the changes alone say too little: names without a colour, items, the library itself. */
  left: number;
}

/**
 * Gathers the swatches out of changes whose library is not there.
 *
 * @param known the library's rows as they were last known; where there are none, a swatch is made of what the changes say
 * @param name of the group for swatches whose own is not known
 */
export function salvage(
  changes: readonly Change[],
  known: Pick<RowReader, 'get'> | null,
  name: string,
  newId: NewId,
): Salvaged {
  const rows = new Map<string, Fields | null>();
  const lost = new Set<string>();
  const undone = new Map(changes.flatMap((c) => (c.undoes ? [[c.undoes, c.id] as const] : [])));
  // what was taken back, and not done again, is as if it had never been
  const stands = (id: string): boolean => {
    const by = undone.get(id);
    return by === undefined || !stands(by);
  };
  const before = (key: string, of: Parameters<RowReader['get']>[0], id: string) =>
    rows.has(key) ? rows.get(key)! : (known?.get(of, id) ?? null);
  for (const change of changes) {
    // of one that was done before these, it is not known what it did
    if (change.undoes && !changes.some((c) => c.id === change.undoes)) lost.add(change.id);
    if (change.undoes || !stands(change.id)) continue;
    for (const step of change.ops) {
      const key = `${step.of} ${step.id}`;
      if (step.of === 'item' || step.of === 'library') lost.add(key);
      else if (step.op === 'drop') rows.set(key, null);
      else {
        const fields: Record<string, unknown> = { ...before(key, step.of, step.id), ...step.fields };
        for (const field in fields) if (fields[field] === null) delete fields[field];
        rows.set(key, fields);
      }
    }
  }
  const groups = new Map<string, Group>();
  for (const [key, fields] of rows) {
    if (!fields || !key.startsWith('swatch ')) continue;
    if (!fields.color) {
      lost.add(key);
      continue;
    }
    const { swatch, group } = toSwatch(newId(), { name: '', kind: 'process', ...fields });
    const named = before(`group ${group}`, 'group', group)?.name;
    const title = typeof named === 'string' && named !== '' ? named : name;
    const there = groups.get(title) ?? { id: newId(), name: title, swatches: [] };
    groups.set(title, { ...there, swatches: [...there.swatches, swatch] });
  }
  return { groups: [...groups.values()], left: lost.size };
}
