// How a library was kept before it was kept in rows.
import { fieldsAs } from './change.ts';
import type { SwatchFields } from './edits.ts';
import type { Group, Library, Swatch } from './model.ts';

/** A swatch and the place it takes in the result of the edit. */
interface SwatchPlacement {
  swatch: Swatch;
  group: string;
  index: number;
}

/**
 * An edit of a library as databases kept it while a library was one document. Only what brings such a database up to date
 * reads these.
 *
 * Indexes are places in the result, counted from 0.
 */
export type Edit =
  | { type: 'add'; placements: SwatchPlacement[] }
  | { type: 'remove'; ids: string[] }
  | { type: 'move'; positions: { id: string; group: string; index: number }[] }
  | { type: 'change'; changes: { id: string; set: SwatchFields }[] }
  | { type: 'addGroup'; group: Group; index: number }
  | { type: 'removeGroup'; id: string }
  | { type: 'renameGroup'; id: string; name: string }
  | { type: 'moveGroup'; id: string; index: number }
  | { type: 'renameLibrary'; name: string }
  | { type: 'sequence'; edits: Edit[] };

/** An edit that does not fit the library it was meant for, for instance because a swatch is gone. */
export class EditError extends Error {
  override name = 'EditError';
}

export interface Applied {
  library: Library;
  /** The edit that takes this one back. */
  inverse: Edit;
}

/**
 * Applies an edit; the given library is never changed.
 * @throws EditError when the edit names something the library does not hold, or a place outside it.
 */
export function applyEdit(library: Library, edit: Edit): Applied {
  switch (edit.type) {
    case 'add':
      return add(library, edit.placements);
    case 'remove':
      return remove(library, edit.ids);
    case 'move':
      return move(library, edit.positions);
    case 'change':
      return change(library, edit.changes);
    case 'addGroup': {
      if (library.groups.some((g) => g.id === edit.group.id))
        throw new EditError(`A group with the id ${edit.group.id} is already there.`);
      refuseDuplicates(library, edit.group.swatches);
      return {
        library: { ...library, groups: inserted(library.groups, edit.index, edit.group) },
        inverse: { type: 'removeGroup', id: edit.group.id },
      };
    }
    case 'removeGroup': {
      const index = groupIndex(library, edit.id);
      const group = library.groups[index]!;
      return {
        library: { ...library, groups: library.groups.filter((g) => g !== group) },
        inverse: { type: 'addGroup', group, index },
      };
    }
    case 'renameGroup': {
      const index = groupIndex(library, edit.id);
      const was = library.groups[index]!;
      const groups = library.groups.with(index, { ...was, name: edit.name });
      return {
        library: { ...library, groups },
        inverse: { type: 'renameGroup', id: edit.id, name: was!.name },
      };
    }
    case 'moveGroup': {
      const index = groupIndex(library, edit.id);
      const rest = library.groups.filter((_, i) => i !== index);
      return {
        library: { ...library, groups: inserted(rest, edit.index, library.groups[index]!) },
        inverse: { type: 'moveGroup', id: edit.id, index },
      };
    }
    case 'renameLibrary':
      return {
        library: { ...library, name: edit.name },
        inverse: { type: 'renameLibrary', name: library.name },
      };
    case 'sequence': {
      const inverses: Edit[] = [];
      let current = library;
      for (const step of edit.edits) {
        const applied = applyEdit(current, step);
        current = applied.library;
        inverses.unshift(applied.inverse);
      }
      return { library: current, inverse: { type: 'sequence', edits: inverses } };
    }
  }
}

function add(library: Library, placements: SwatchPlacement[]): Applied {
  refuseDuplicates(
    library,
    placements.map((p) => p.swatch),
  );
  return {
    library: { ...library, groups: placed(library.groups, placements) },
    inverse: { type: 'remove', ids: placements.map((p) => p.swatch.id) },
  };
}

function remove(library: Library, ids: string[]): Applied {
  const { groups, taken } = takenOut(library, ids);
  return { library: { ...library, groups }, inverse: { type: 'add', placements: taken } };
}

function move(library: Library, positions: { id: string; group: string; index: number }[]): Applied {
  const { groups, taken } = takenOut(
    library,
    positions.map((p) => p.id),
  );
  const byId = new Map(taken.map((t) => [t.swatch.id, t.swatch]));
  const placements = positions.map(({ id, group, index }) => ({ swatch: byId.get(id)!, group, index }));
  return {
    library: { ...library, groups: placed(groups, placements) },
    inverse: {
      type: 'move',
      positions: taken.map(({ swatch, group, index }) => ({ id: swatch.id, group, index })),
    },
  };
}

function change(library: Library, changes: { id: string; set: SwatchFields }[]): Applied {
  const wanted = new Map(changes.map((c) => [c.id, c.set]));
  const inverse: { id: string; set: SwatchFields }[] = [];
  const groups = library.groups.map((group) => {
    if (!group.swatches.some((s) => wanted.has(s.id))) return group;
    const swatches = group.swatches.map((swatch) => {
      const set = wanted.get(swatch.id);
      if (!set) return swatch;
      wanted.delete(swatch.id);
      const before: Record<string, unknown> = {};
      const next: Record<string, unknown> = { ...swatch };
      for (const [field, value] of Object.entries(set)) {
        before[field] = swatch[field as keyof SwatchFields] ?? null;
        if (value === null) delete next[field];
        else next[field] = value;
      }
      inverse.push({ id: swatch.id, set: before as SwatchFields });
      return fieldsAs<Swatch>(next);
    });
    return { ...group, swatches };
  });
  if (wanted.size > 0) throw gone([...wanted.keys()]);
  return { library: { ...library, groups }, inverse: { type: 'change', changes: inverse } };
}

/** The groups without the named swatches, and those with the places they had, in library order. */
function takenOut(library: Library, ids: string[]): { groups: Group[]; taken: SwatchPlacement[] } {
  const wanted = new Set(ids);
  if (wanted.size < ids.length) throw new EditError('The edit names the same swatch twice.');
  const taken: SwatchPlacement[] = [];
  const groups = library.groups.map((group) => {
    const rest = group.swatches.filter((swatch, index) => {
      if (!wanted.delete(swatch.id)) return true;
      taken.push({ swatch, group: group.id, index });
      return false;
    });
    return rest.length === group.swatches.length ? group : { ...group, swatches: rest };
  });
  if (wanted.size > 0) throw gone([...wanted]);
  return { groups, taken };
}

/** The groups with each swatch at its place in the result, in one pass over each group. */
function placed(groups: Group[], placements: SwatchPlacement[]): Group[] {
  const byGroup = new Map<string, SwatchPlacement[]>();
  for (const p of placements) {
    const list = byGroup.get(p.group);
    if (list) list.push(p);
    else byGroup.set(p.group, [p]);
  }
  const next = groups.map((group) => {
    const arriving = byGroup.get(group.id);
    if (!arriving) return group;
    byGroup.delete(group.id);
    arriving.sort((a, b) => a.index - b.index);
    const swatches: Swatch[] = [];
    let old = 0;
    for (const { swatch, index } of arriving) {
      while (swatches.length < index && old < group.swatches.length) swatches.push(group.swatches[old++]!);
      if (swatches.length !== index)
        throw new EditError(`The group “${group.name}” has no position ${index}.`);
      swatches.push(swatch);
    }
    return { ...group, swatches: swatches.concat(group.swatches.slice(old)) };
  });
  if (byGroup.size > 0)
    throw new EditError('The group the swatches were meant for is no longer in the library.');
  return next;
}

function refuseDuplicates(library: Library, arriving: Swatch[]): void {
  const ids = new Set(arriving.map((s) => s.id));
  if (ids.size < arriving.length || library.groups.some((g) => g.swatches.some((s) => ids.has(s.id))))
    throw new EditError('A swatch with the same id is already in the library.');
}

function groupIndex(library: Library, id: string): number {
  const index = library.groups.findIndex((g) => g.id === id);
  if (index < 0) throw new EditError('That group is no longer in the library.');
  return index;
}

function inserted<T>(list: T[], index: number, item: T): T[] {
  if (index < 0 || index > list.length) throw new EditError(`No position ${index} for the group.`);
  return [...list.slice(0, index), item, ...list.slice(index)];
}

const gone = (ids: string[]) =>
  new EditError(
    ids.length === 1
      ? 'The swatch is no longer in the library.'
      : `${ids.length} of the swatches are no longer in the library.`,
  );

/** What an edit does, in a few words for undo and history. */
export function describeEdit(edit: Edit): string {
  const n = (count: number, one = 'swatch', many = 'swatches') =>
    count === 1 ? `1 ${one}` : `${count} ${many}`;
  switch (edit.type) {
    case 'add':
      return `add ${n(edit.placements.length)}`;
    case 'remove':
      return `delete ${n(edit.ids.length)}`;
    case 'move':
      return `move ${n(edit.positions.length)}`;
    case 'change': {
      const fields = new Set(edit.changes.flatMap((c) => Object.keys(c.set)));
      const verb =
        fields.size > 1
          ? 'change'
          : fields.has('name')
            ? 'rename'
            : fields.has('color')
              ? 'recolour'
              : fields.has('role')
                ? 'set the role of'
                : 'change';
      return `${verb} ${n(edit.changes.length)}`;
    }
    case 'addGroup':
      return `add the group “${edit.group.name}”`;
    case 'removeGroup':
      return 'delete a group';
    case 'renameGroup':
      return 'rename a group';
    case 'moveGroup':
      return 'move a group';
    case 'renameLibrary':
      return 'rename the library';
    case 'sequence':
      return edit.edits.length === 1 ? describeEdit(edit.edits[0]!) : edit.edits.map(describeEdit).join(', ');
  }
}
