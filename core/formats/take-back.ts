import type { Color } from '../color/index.ts';
import type { Draft, Op } from '../swatch/change.ts';
import { addGroups, addSwatches, removeSwatches } from '../swatch/edits.ts';
import type { NewId, Swatch } from '../swatch/model.ts';
import type { LibraryRows } from '../swatch/rows.ts';

/** What was edited of a swatch, each from how the file had it to how it came back. */
export interface Edited {
  /** Of the library's swatch. */
  id: string;
  name?: { from: string; to: string };
  color?: { from: Color; to: Color };
}

export interface RoundTrip {
  edited: Edited[];
  /** Swatches that were put into the file, with the names of their groups. */
  added: { swatch: Swatch; group: string }[];
  /** Swatches that were taken out of it. */
  removed: string[];
}

/** What of a round trip is taken: swatches by their ids, those that were added by their places. */
export interface Taken {
  edited: ReadonlySet<string>;
  added: ReadonlySet<number>;
  removed: ReadonlySet<string>;
}

/** Brings what was edited elsewhere into the library as it is now; swatches that the library no longer has are left out. */
export function takeBack(
  rows: LibraryRows,
  trip: RoundTrip,
  taken: Taken,
  newId: NewId,
  name: string,
): Draft {
  const ops: Op[] = [];
  for (const { id, name, color } of trip.edited)
    if (taken.edited.has(id) && rows.find(id))
      ops.push({
        op: 'set',
        of: 'swatch',
        id,
        fields: { ...(name ? { name: name.to } : {}), ...(color ? { color: color.to } : {}) },
      });
  const byGroup = new Map<string, Swatch[]>();
  trip.added.forEach(({ swatch, group }, i) => {
    if (taken.added.has(i)) byGroup.set(group, [...(byGroup.get(group) ?? []), { ...swatch, id: newId() }]);
  });
  for (const [group, swatches] of byGroup) {
    const there = rows.library.groups.find((g) => g.name === group);
    ops.push(
      ...(there
        ? addSwatches(rows, there.id, swatches)
        : addGroups(rows, [{ id: newId(), name: group, swatches }])
      ).ops,
    );
  }
  const gone = trip.removed.filter((id) => taken.removed.has(id) && rows.find(id));
  // gradients and colourways keep their colours
  if (gone.length > 0) ops.push(...removeSwatches(gone, rows).ops);
  return { label: `take back “${name}”`, ops };
}
