import {
  type Applied,
  applyOps,
  type Fields,
  fieldsAs,
  groupFields,
  itemFields,
  libraryFields,
  type Op,
  type Place,
  type RowKind,
  type RowReader,
  swatchFields,
  toSwatch,
  type Write,
} from './change.ts';
import type { Group, Item, Library, Swatch } from './model.ts';
import { byOrder, firstKeys, type Ordered, type OrderKey } from './order-keys.ts';

interface Placed extends Place {
  swatch: Swatch;
}

/**
 * A library's rows in memory, and the library they make. Applying a change costs what it changes: the parts of `library` that
 * it does not touch stay the very same objects.
 */
export class LibraryRows implements RowReader {
  private view: Library;
  private readonly groups = new Map<string, OrderKey>();
  private readonly swatches = new Map<string, Placed>();
  private readonly items = new Map<string, { item: Item; order: OrderKey }>();

  /** @param head the library without its groups and items */
  constructor({ groups: _, items: __, ...head }: Library) {
    this.view = { ...head, groups: [] };
  }

  /** A library in rows, each with a first key. */
  static of(library: Library): LibraryRows {
    const rows = new LibraryRows(library);
    rows.write(toWrites(library));
    return rows;
  }

  /** The library as it is now; another object after each change. */
  get library(): Library {
    return this.view;
  }

  /** A copy that can be changed by itself. */
  copy(): LibraryRows {
    const copy = new LibraryRows(this.view);
    copy.view = this.view;
    for (const [map, mine] of [
      [copy.groups, this.groups],
      [copy.swatches, this.swatches],
      [copy.items, this.items],
    ] as [Map<string, unknown>, Map<string, unknown>][])
      for (const [id, row] of mine) map.set(id, row);
    return copy;
  }

  // --- reading

  get(of: RowKind, id: string): Fields | null {
    if (of === 'swatch') {
      const row = this.swatches.get(id);
      return row ? swatchFields(row.swatch, row) : null;
    }
    if (of === 'group') {
      const order = this.groups.get(id);
      return order === undefined ? null : groupFields(this.group(id)!, order);
    }
    if (of === 'item') {
      const row = this.items.get(id);
      return row ? itemFields(row.item, row.order) : null;
    }
    return id === this.view.id ? libraryFields(this.view) : null;
  }

  membersOf(group: string): number {
    return this.group(group)?.swatches.length ?? 0;
  }

  firstGroup() {
    const [first] = this.view.groups;
    return first ? { id: first.id, name: first.name, order: this.groups.get(first.id)! } : null;
  }

  group(id: string): Group | undefined {
    return this.view.groups.find((g) => g.id === id);
  }

  /** A swatch with its place; undefined when it is not here. */
  find(id: string): Readonly<Placed> | undefined {
    return this.swatches.get(id);
  }

  /** Swatches with their places, in the library's order; those that are not here are left out. */
  inOrder(ids: Iterable<string>): Readonly<Placed>[] {
    const found = [...ids].flatMap((id) => this.swatches.get(id) ?? []);
    const groupAt = new Map(this.view.groups.map((g, i) => [g.id, i]));
    return found.sort(
      (a, b) => groupAt.get(a.group)! - groupAt.get(b.group)! || byOrder(placed(a), placed(b)),
    );
  }

  /** The place of a swatch in its group, counted from 0; -1 when it is not here. */
  indexOf(id: string): number {
    const row = this.swatches.get(id);
    return row ? this.placeOf(this.group(row.group)!.swatches, row) : -1;
  }

  /** The places of a group's swatches, in order. */
  placesIn(group: string): Ordered[] {
    return (this.group(group)?.swatches ?? []).map(({ id }) => ({ id, order: this.swatches.get(id)!.order }));
  }

  /** The places of the groups, in order. */
  groupPlaces(): Ordered[] {
    return this.view.groups.map(({ id }) => ({ id, order: this.groups.get(id)! }));
  }

  /** The places of the items, in order. */
  itemPlaces(): Ordered[] {
    return (this.view.items ?? []).map(({ id }) => ({ id, order: this.items.get(id)!.order }));
  }

  // --- changing

  /** Applies the steps of a change. */
  apply(ops: readonly Op[]): Applied {
    const applied = applyOps(ops, this);
    this.write(applied.writes);
    return applied;
  }

  /** Writes rows as they are to be. */
  write(writes: readonly Write[]): void {
    let { groups } = this.view;
    /** By group: the swatches that leave it and those that arrive. */
    const leaving = new Map<string, Set<string>>();
    const arriving = new Map<string, Placed[]>();
    const replaced = new Map<string, Placed[]>();
    const push = <T>(map: Map<string, T[]>, key: string, value: T) => {
      const list = map.get(key);
      if (list) list.push(value);
      else map.set(key, [value]);
    };
    const leave = (id: string, { group }: Place) => {
      const ids = leaving.get(group);
      if (ids) ids.add(id);
      else leaving.set(group, new Set([id]));
    };
    const named = new Map<string, string>();
    let [reordered, retold] = [false, false];
    for (const { of, id, after } of writes) {
      if (of === 'swatch') {
        const was = this.swatches.get(id);
        if (!after) {
          if (was) leave(id, was);
          this.swatches.delete(id);
          continue;
        }
        const row = toSwatch(id, after);
        if (was?.group === row.group && was.order === row.order) push(replaced, row.group, row);
        else {
          if (was) leave(id, was);
          push(arriving, row.group, row);
        }
        this.swatches.set(id, row);
      } else if (of === 'group') {
        reordered = true;
        if (after) {
          this.groups.set(id, after.order as string);
          named.set(id, after.name as string);
        } else {
          this.groups.delete(id);
          groups = groups.filter((g) => g.id !== id);
        }
      } else if (of === 'item') {
        retold = true;
        if (!after) this.items.delete(id);
        else {
          const { order, ...item } = fieldsAs<Omit<Item, 'id'> & { order: string }>(after);
          this.items.set(id, { item: { id, ...item }, order });
        }
      } else if (after) {
        const { id, groups, items } = this.view;
        this.view = { id, ...fieldsAs<{ name: string }>(after), groups, ...(items ? { items } : {}) };
      }
    }
    if (reordered) {
      const there = new Set(groups.map((g) => g.id));
      groups = groups.map((g) => {
        const name = named.get(g.id);
        return name === undefined || name === g.name ? g : { ...g, name };
      });
      for (const [id, name] of named) if (!there.has(id)) groups.push({ id, name, swatches: [] });
      const place = (id: string) => ({ id, order: this.groups.get(id)! });
      groups = [...groups].sort((a, b) => byOrder(place(a.id), place(b.id)));
    }
    if (leaving.size + arriving.size + replaced.size > 0)
      groups = groups.map((group) => {
        const [gone, come, others] = [leaving, arriving, replaced].map((m) => m.get(group.id)) as [
          Set<string>?,
          Placed[]?,
          Placed[]?,
        ];
        if (!gone && !come && !others) return group;
        return { ...group, swatches: this.members(group.swatches, gone, come, others) };
      });
    const items = retold
      ? [...this.items.values()].sort((a, b) => byOrder(at(a), at(b))).map((row) => row.item)
      : this.view.items;
    const { items: _, ...view } = this.view;
    this.view = { ...view, groups, ...(items && items.length > 0 ? { items } : {}) };
  }

  private members(old: Swatch[], gone?: Set<string>, come?: Placed[], others?: Placed[]): Swatch[] {
    const stay = gone ? old.filter((s) => !gone.has(s.id)) : [...old];
    // few are looked for by halving, many in one pass
    if (others && others.length > 32) {
      const byId = new Map(others.map((row) => [row.swatch.id, row.swatch]));
      for (let i = 0; i < stay.length; i++) stay[i] = byId.get(stay[i]!.id) ?? stay[i]!;
    } else for (const row of others ?? []) stay[this.placeOf(stay, row)] = row.swatch;
    if (!come) return stay;
    const sorted = come.sort((a, b) => byOrder(placed(a), placed(b)));
    const first = this.placeOf(stay, sorted[0]!);
    const merged = stay.slice(0, first);
    let i = first;
    for (const row of sorted) {
      while (i < stay.length && byOrder(this.orderOf(stay[i]!), placed(row)) < 0) merged.push(stay[i++]!);
      merged.push(row.swatch);
    }
    return merged.concat(stay.slice(i));
  }

  /** The first place in a sorted list that is not before the row's. */
  private placeOf(list: Swatch[], row: Placed): number {
    let [low, high] = [0, list.length];
    while (low < high) {
      const middle = (low + high) >> 1;
      if (byOrder(this.orderOf(list[middle]!), placed(row)) < 0) low = middle + 1;
      else high = middle;
    }
    return low;
  }

  private orderOf(swatch: Swatch): Ordered {
    return { id: swatch.id, order: this.swatches.get(swatch.id)!.order };
  }
}

const placed = ({ swatch, order }: Placed): Ordered => ({ id: swatch.id, order });
const at = ({ item, order }: { item: Item; order: OrderKey }): Ordered => ({ id: item.id, order });

/** A library as rows that are all new, with first keys. */
export function toWrites(library: Library): Write[] {
  const made = (of: RowKind, id: string, after: Fields): Write => ({ of, id, before: null, after });
  const groupKeys = firstKeys(library.groups.length);
  const itemKeys = firstKeys(library.items?.length ?? 0);
  return [
    made('library', library.id, libraryFields(library)),
    ...library.groups.flatMap((group, g) => {
      const keys = firstKeys(group.swatches.length);
      return [
        made('group', group.id, groupFields(group, groupKeys[g]!)),
        ...group.swatches.map((swatch, i) =>
          made('swatch', swatch.id, swatchFields(swatch, { group: group.id, order: keys[i]! })),
        ),
      ];
    }),
    ...(library.items ?? []).map((item, i) => made('item', item.id, itemFields(item, itemKeys[i]!))),
  ];
}
