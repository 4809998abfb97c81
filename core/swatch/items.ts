import { type Gradient, gradientAgain, isGradient } from './gradient.ts';
import type { Item, Library, NewId } from './model.ts';

/**
 * An item with its references led elsewhere: what each kind makes of such as lead nowhere. A gradient keeps their colors;
 * others lose them, and are gone when nothing is left that they referred to.
 */
export function itemAgain<T>(
  item: Item,
  to: (id: string) => T | undefined,
): (Omit<Item, 'refs'> & { refs?: T[] }) | null {
  if (isGradient(item)) return { ...item, ...gradientAgain(item as Gradient, to) };
  const { refs, ...rest } = item;
  if (!refs) return rest;
  const kept = refs.flatMap((id) => to(id) ?? []);
  return refs.length > 0 && kept.length === 0 ? null : { ...rest, refs: kept };
}

/** A copy of the library under new identifiers. */
export function withNewIds(library: Library, newId: NewId): Library {
  const ids = new Map<string, string>();
  const again = (id: string) => {
    const made = newId();
    ids.set(id, made);
    return made;
  };
  const copy = {
    ...library,
    id: again(library.id),
    groups: library.groups.map((g) => ({
      ...g,
      id: again(g.id),
      swatches: g.swatches.map((s) => ({ ...s, id: again(s.id) })),
    })),
  };
  // what refers to swatches goes on doing so; what refers only to such as are gone is gone with them
  if (library.items)
    copy.items = library.items.flatMap((item) => {
      const again = itemAgain(item, (id) => ids.get(id));
      return again ? [{ ...again, id: newId() }] : [];
    });
  return copy;
}
