import { type Group, isLoose, type Library, type NewId } from './model.ts';

/** The groups of several libraries, with ids of their own; swatches in no group come as a group named after their library. */
export function groupsOf(libraries: Library[], newId: NewId): Group[] {
  return libraries.flatMap((library) =>
    library.groups
      .filter((g) => !isLoose(library, g) || g.swatches.length > 0)
      .map((g) => ({
        id: newId(),
        name: isLoose(library, g) ? library.name : g.name,
        swatches: g.swatches.map((s) => ({ ...s, id: newId() })),
      })),
  );
}

/** Several libraries as one; a single one stays as it is. */
export function asOne(libraries: Library[], name: string, newId: NewId): Library {
  const [only] = libraries;
  if (only && libraries.length === 1) return only;
  return {
    id: newId(),
    name,
    groups: [{ id: newId(), name: '', swatches: [] }, ...groupsOf(libraries, newId)],
  };
}
