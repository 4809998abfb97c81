import type { Color, ConditionSetting } from '../color/model.ts';
import {
  type Draft,
  type Fields,
  groupFields,
  itemFields,
  libraryFields,
  type Op,
  type RowKind,
  same,
  swatchFields,
} from './change.ts';
import { keptInArtwork } from './colorway.ts';
import { TEXT_FIELDS, type TextField, type TextFieldId } from './fields.ts';
import { keptInGradients } from './gradient.ts';
import { itemOps } from './item-ops.ts';
import type { Group, Item, Kind, Library, NewId, Swatch } from './model.ts';
import {
  firstKeys,
  keysAt,
  keysBetween,
  type Ordered,
  type OrderKey,
  withDistinctKeys,
} from './order-keys.ts';
import type { LibraryRows } from './rows.ts';

/** What {@link setFields} may set on a swatch; `null` takes an optional field away. */
export interface SwatchFields extends Partial<Record<TextFieldId, string | null>> {
  name?: string;
  color?: Color;
  kind?: Kind;
}

const n = (count: number, one = 'swatch', many = 'swatches') =>
  count === 1 ? `1 ${one}` : `${count} ${many}`;

const put = (swatch: Swatch, group: string, order: OrderKey): Op => ({
  op: 'put',
  of: 'swatch',
  id: swatch.id,
  fields: swatchFields(swatch, { group, order }),
});
const set = (id: string, fields: Fields): Op => ({ op: 'set', of: 'swatch', id, fields });
const drop = (id: string): Op => ({ op: 'drop', of: 'swatch', id });
const moved = (rows: readonly Ordered[]): Op[] => rows.map(({ id, order }) => set(id, { order }));

/** Adds swatches before place `index` of a group; at its end when none is given. */
export function addSwatches(rows: LibraryRows, group: string, swatches: Swatch[], index?: number): Draft {
  const places = rows.placesIn(group);
  const { keys, rekeyed } = keysAt(places, index ?? places.length, swatches.length);
  return {
    label: `add ${n(swatches.length)}`,
    ops: [...swatches.map((s, i) => put(s, group, keys[i]!)), ...moved(rekeyed)],
  };
}

/** Deletes swatches; gradients and colourways of the library keep their colors. */
export const removeSwatches = (ids: Iterable<string>, rows?: LibraryRows): Draft => {
  const going = new Set(ids);
  return {
    label: `delete ${n(going.size)}`,
    ops: [...(rows ? keepColors(rows, going) : []), ...[...going].map(drop)],
  };
};

const keepColors = (rows: LibraryRows, going: ReadonlySet<string>): Op[] =>
  [keptInGradients, keptInArtwork].flatMap((kept) =>
    kept(rows.library, going, (id) => rows.find(id)?.swatch),
  );

/** Puts the swatches in place of everything the group holds. */
export function replaceSwatches(rows: LibraryRows, group: string, swatches: Swatch[]): Draft {
  const old = rows.group(group)?.swatches ?? [];
  const keys = firstKeys(swatches.length);
  return {
    label: `replace ${n(old.length)} by ${swatches.length}`,
    ops: [
      ...keepColors(rows, new Set(old.map((s) => s.id))),
      ...old.map((s) => drop(s.id)),
      ...swatches.map((s, i) => put(s, group, keys[i]!)),
    ],
  };
}

/** Copies of swatches, each behind its original. */
export function duplicateSwatches(
  rows: LibraryRows,
  ids: ReadonlySet<string>,
  newId: NewId,
): Draft & { made: string[] } {
  const ops: Op[] = [];
  const made: string[] = [];
  for (const group of rows.library.groups) {
    if (!group.swatches.some((s) => ids.has(s.id))) continue;
    const places = rows.placesIn(group.id);
    const copies = group.swatches.flatMap((swatch, i) => {
      if (!ids.has(swatch.id)) return [];
      const { keys, rekeyed } = keysAt(places, i + 1, 1);
      return [{ copy: { ...swatch, id: newId() }, i, order: keys[0], crowded: rekeyed.length > 0 }];
    });
    made.push(...copies.map((c) => c.copy.id));
    if (copies.some((c) => c.crowded)) {
      // no key left between two: all of the group get new keys
      const all = group.swatches.flatMap((s, i) => [
        s,
        ...copies.flatMap((c) => (c.i === i ? [c.copy] : [])),
      ]);
      const keys = firstKeys(all.length);
      all.forEach((s, k) => {
        ops.push(rows.find(s.id) ? set(s.id, { order: keys[k] }) : put(s, group.id, keys[k]!));
      });
    } else ops.push(...copies.map((c) => put(c.copy, group.id, c.order!)));
  }
  return { label: `duplicate ${n(made.length)}`, ops, made };
}

/**
 * Moves swatches, kept in library order, to stand together before place `index` of a group (`index` counted as the group
 * stands now).
 */
export function moveSwatches(rows: LibraryRows, ids: Iterable<string>, group: string, index: number): Draft {
  const wanted = new Set(ids);
  const places = rows.placesIn(group);
  const rest = places.filter((p) => !wanted.has(p.id));
  const start = index - places.slice(0, index).filter((p) => wanted.has(p.id)).length;
  const ordered = rows.inOrder(wanted).map((row) => row.swatch);
  const { keys, rekeyed } = keysAt(rest, start, ordered.length);
  const ops = ordered.map((s, i) => set(s.id, { group, order: keys[i] }));
  return { label: `move ${n(ordered.length)}`, ops: [...ops, ...moved(rekeyed)] };
}

/**
 * Moves swatches one place towards the beginning (−1) or the end (1), together and past the edge of their group; null when
 * the end is reached.
 */
export function stepSwatches(rows: LibraryRows, ids: ReadonlySet<string>, by: -1 | 1): Draft | null {
  const { groups } = rows.library;
  const at = groups.findIndex((g) => g.swatches.some((s) => ids.has(s.id)));
  const group = groups[at];
  if (!group) return null;
  const places = group.swatches.flatMap((s, i) => (ids.has(s.id) ? [i] : []));
  const [first, last] = [places[0]!, places.at(-1)!];
  if (by < 0 && first === 0) {
    const before = groups[at - 1];
    return before ? moveSwatches(rows, ids, before.id, before.swatches.length) : null;
  }
  if (by > 0 && last === group.swatches.length - 1) {
    const after = groups[at + 1];
    return after ? moveSwatches(rows, ids, after.id, 0) : null;
  }
  return moveSwatches(rows, ids, group.id, by < 0 ? first - 1 : last + 2);
}

/** Puts the chosen swatches of each group into the given order, on the places they hold between them. */
export function sortSwatches(
  rows: LibraryRows,
  ids: Iterable<string>,
  compare: (a: Swatch, b: Swatch) => number,
  by: string,
): Draft {
  const wanted = new Set(ids);
  const ops: Op[] = [];
  let sorted = 0;
  for (const group of rows.library.groups) {
    const chosen = group.swatches.flatMap((swatch, i) => (wanted.has(swatch.id) ? [{ swatch, i }] : []));
    sorted += chosen.length;
    const inOrder = chosen.map((c) => c.swatch).sort(compare);
    if (inOrder.every((s, i) => s === chosen[i]!.swatch)) continue;
    const old = rows.placesIn(group.id);
    const places = withDistinctKeys(old);
    const next = new Map(places.map((p) => [p.id, p.order]));
    inOrder.forEach((s, i) => {
      next.set(s.id, places[chosen[i]!.i]!.order);
    });
    for (const { id, order } of old) if (next.get(id) !== order) ops.push(set(id, { order: next.get(id) }));
  }
  return { label: `sort ${n(sorted)} by ${by}`, ops };
}

/** Sets the same fields of swatches. */
export function setFields(ids: Iterable<string>, fields: SwatchFields): Draft {
  const ops = [...ids].map((id) => set(id, { ...fields }));
  const names = Object.keys(fields);
  const only = names.length === 1 ? names[0]! : '';
  const verbs: Record<string, string> = { name: 'rename', color: 'recolour' };
  const declared = (TEXT_FIELDS as Record<string, TextField>)[only]?.verb;
  return { label: `${verbs[only] ?? declared ?? 'change'} ${n(ops.length)}`, ops };
}

/**
 * Adds groups with their swatches before place `index` of the groups; at the end when none is given.
 *
 * @param items what refers to their swatches, and comes along
 */
export function addGroups(
  rows: LibraryRows,
  groups: Group[],
  index?: number,
  items: readonly Item[] = [],
): Draft {
  const places = rows.groupPlaces();
  const { keys, rekeyed } = keysAt(places, index ?? places.length, groups.length);
  const swatches = groups.reduce((sum, g) => sum + g.swatches.length, 0);
  return {
    label: `${groups.length === 1 ? `add the group “${groups[0]!.name}”` : `add ${groups.length} groups`}${
      swatches > 0 ? ` with ${n(swatches)}` : ''
    }`,
    ops: [
      ...groups.flatMap((group, g) => groupOps(group, keys[g]!)),
      ...movedGroups(rekeyed),
      ...itemOps(rows, items),
    ],
  };
}

/** A group and its swatches as new rows. */
export function groupOps(group: Group, order: OrderKey): Op[] {
  const keys = firstKeys(group.swatches.length);
  return [
    { op: 'put', of: 'group', id: group.id, fields: groupFields(group, order) },
    ...group.swatches.map((s, i) => put(s, group.id, keys[i]!)),
  ];
}

const movedGroups = (rows: readonly Ordered[]): Op[] =>
  rows.map(({ id, order }) => ({ op: 'set', of: 'group', id, fields: { order } }));

/** Deletes a group with its swatches. */
export function removeGroup(rows: LibraryRows, id: string): Draft {
  const group = rows.group(id);
  const swatches = group?.swatches ?? [];
  return {
    label: `delete the group “${group?.name ?? ''}” with ${n(swatches.length)}`,
    ops: [
      ...keepColors(rows, new Set(swatches.map((s) => s.id))),
      ...swatches.map((s) => drop(s.id)),
      { op: 'drop', of: 'group', id },
    ],
  };
}

export const renameGroup = (id: string, name: string): Draft => ({
  label: 'rename a group',
  ops: [{ op: 'set', of: 'group', id, fields: { name } }],
});

/** Moves a group to place `index` among the groups, counted without it. */
export function moveGroup(rows: LibraryRows, id: string, index: number): Draft {
  const { keys, rekeyed } = keysAt(
    rows.groupPlaces().filter((p) => p.id !== id),
    index,
    1,
  );
  return { label: 'move a group', ops: movedGroups([{ id, order: keys[0]! }, ...rekeyed]) };
}

/** Sets what the library is printed under. */
export const setCondition = (id: string, condition: ConditionSetting, name: string): Draft => ({
  label: `print on ${name}, ${condition.intent}, ${condition.inkLimit} %`,
  ops: [{ op: 'set', of: 'library', id, fields: { condition } }],
});

export const renameLibrary = (id: string, name: string): Draft => ({
  label: 'rename the library',
  ops: [{ op: 'set', of: 'library', id, fields: { name } }],
});

/**
 * The steps that make the rows show another library: one of the same ids where it is the same, with other values, other
 * places, and rows that come or go. What is alike is not touched, and of what stands in another order as little as can be.
 *
 * @param now what the rows show; parts of it that are the very same objects in the target are not looked into
 */
export function changeTo(rows: LibraryRows, target: Library, now: Library = rows.library): Op[] {
  const ops: Op[] = [];
  ops.push(...rowOps('library', now.id, libraryFields(now), libraryFields(target)));
  const groupOrder = inPlace(rows.groupPlaces(), target.groups);
  for (const group of target.groups)
    ops.push(
      ...rowOps(
        'group',
        group.id,
        rows.get('group', group.id),
        groupFields(group, groupOrder.get(group.id)!),
      ),
    );
  const before = new Map(now.groups.map((g) => [g.id, g.swatches]));
  const after = new Map(target.groups.map((g) => [g.id, g.swatches]));
  const alike = (id: string) => before.get(id) === after.get(id);
  const changed = target.groups.filter((g) => !alike(g.id));
  const there = new Map(changed.flatMap((g) => g.swatches.map((s) => [s.id, g.id] as const)));
  // first what goes, so that a group is empty when its turn comes
  for (const group of now.groups)
    if (!alike(group.id)) for (const { id } of group.swatches) if (!there.has(id)) ops.push(drop(id));
  for (const { id: group, swatches } of changed) {
    const old = before.get(group) ?? [];
    const stay = old.length === swatches.length && old.every((s, i) => s.id === swatches[i]!.id);
    const order = stay
      ? null
      : inPlace(
          rows.placesIn(group).filter((p) => there.get(p.id) === group),
          swatches,
        );
    const was = stay ? null : new Map(old.map((s) => [s.id, s]));
    for (const [i, swatch] of swatches.entries()) {
      const place = rows.find(swatch.id);
      const to = order?.get(swatch.id) ?? place!.order;
      if ((was?.get(swatch.id) ?? old[i]) === swatch && place?.order === to) continue;
      const fields = swatchFields(swatch, { group, order: to });
      ops.push(...rowOps('swatch', swatch.id, rows.get('swatch', swatch.id), fields));
    }
  }
  for (const { id } of now.groups) if (!after.has(id)) ops.push({ op: 'drop', of: 'group', id });
  const items = target.items ?? [];
  const kept = new Set(items.map((i) => i.id));
  const itemOrder = inPlace(
    rows.itemPlaces().filter((p) => kept.has(p.id)),
    items,
  );
  for (const { id } of now.items ?? []) if (!kept.has(id)) ops.push({ op: 'drop', of: 'item', id });
  for (const item of items)
    ops.push(
      ...rowOps('item', item.id, rows.get('item', item.id), itemFields(item, itemOrder.get(item.id)!)),
    );
  return ops;
}

/** The step that makes a row of another, or of none; nothing when they are alike. */
export function rowOps(of: RowKind, id: string, from: Fields | null, to: Fields): Op[] {
  if (!from) return [{ op: 'put', of, id, fields: to }];
  const fields: Record<string, unknown> = {};
  for (const field of new Set([...Object.keys(from), ...Object.keys(to)]))
    if (!same(from[field], to[field])) fields[field] = to[field] ?? null;
  return Object.keys(fields).length > 0 ? [{ op: 'set', of, id, fields }] : [];
}

/** Keys that put rows into an order, leaving those that stand rightly among each other as they are. */
function inPlace(here: readonly Ordered[], wanted: readonly { id: string }[]): Map<string, OrderKey> {
  const keyOf = new Map(withDistinctKeys(here).map((p) => [p.id, p.order]));
  const stay = longestRising(wanted.flatMap(({ id }) => keyOf.get(id) ?? []));
  const result = new Map<string, OrderKey>();
  let before: OrderKey | null = null;
  let waiting: string[] = [];
  const settle = (end: OrderKey | null) => {
    const keys = keysBetween(before, end, waiting.length);
    waiting.forEach((id, i) => {
      result.set(id, keys[i]!);
    });
    waiting = [];
  };
  for (const { id } of wanted) {
    const order = keyOf.get(id);
    if (order === undefined || !stay.has(order)) {
      waiting.push(id);
      continue;
    }
    settle(order);
    result.set(id, order);
    before = order;
  }
  settle(null);
  return result;
}

/** The longest run of keys that rises, among those given, by patience sorting. */
function longestRising(keys: OrderKey[]): Set<OrderKey> {
  const tops: number[] = [];
  const from = new Array<number>(keys.length);
  keys.forEach((key, i) => {
    let [low, high] = [0, tops.length];
    while (low < high) {
      const middle = (low + high) >> 1;
      if (keys[tops[middle]!]! < key) low = middle + 1;
      else high = middle;
    }
    from[i] = low > 0 ? tops[low - 1]! : -1;
    tops[low] = i;
  });
  const found = new Set<OrderKey>();
  for (let i = tops.at(-1) ?? -1; i >= 0; i = from[i]!) found.add(keys[i]!);
  return found;
}
