import { boardAgain, boardsOf } from './board.ts';
import { itemAgain } from './items.ts';
import { type Group, type Item, isLoose, type Library, type NewId } from './model.ts';

/** The groups of several libraries under new ids, those in no group under their library's name, and what refers to their swatches. */
export function broughtTogether(libraries: Library[], newId: NewId): { groups: Group[]; items: Item[] } {
  const ids = new Map<string, string>();
  const items: Item[] = [];
  const named = (id: string) => {
    const made = newId();
    ids.set(id, made);
    return made;
  };
  const groups = libraries.flatMap((library) => {
    ids.clear();
    const made = library.groups
      .filter((g) => !isLoose(library, g) || g.swatches.length > 0)
      .map((g) => ({
        id: named(g.id),
        name: isLoose(library, g) ? library.name : g.name,
        swatches: g.swatches.map((s) => ({ ...s, id: named(s.id) })),
      }));
    const to = (id: string) => ids.get(id);
    for (const item of library.items ?? []) {
      const again = itemAgain(item, to);
      if (again) items.push({ ...again, id: named(item.id) });
    }
    // boards show items, too
    for (const board of boardsOf(library)) {
      const again = boardAgain(board, to);
      if (again) items.push({ ...again, id: named(board.id) });
    }
    return made;
  });
  return { groups, items };
}

/** Several libraries as one; a single one stays as it is. */
export function asOne(libraries: Library[], name: string, newId: NewId): Library {
  const [only] = libraries;
  if (only && libraries.length === 1) return only;
  const { groups, items } = broughtTogether(libraries, newId);
  return {
    id: newId(),
    name,
    groups: [{ id: newId(), name: '', swatches: [] }, ...groups],
    ...(items.length > 0 ? { items } : {}),
  };
}
