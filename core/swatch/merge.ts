import { type Condition, deltaE00, toHex, toLab } from '../color/index.ts';
import { boardAgain, boardsOf } from './board.ts';
import { type Draft, type Op, same, swatchFields } from './change.ts';
import { addGroups, addSwatches, rowOps } from './edits.ts';
import { itemOps } from './item-ops.ts';
import { itemAgain } from './items.ts';
import { type Group, type Item, isLoose, type Library, type NewId, type Swatch } from './model.ts';
import type { LibraryRows } from './rows.ts';

/** Colours closer than this, as CIEDE2000, count as the same: no one tells them apart side by side. */
const SAME = 0.5;

export const MEETINGS = ['same', 'name', 'color'] as const;
/** How a swatch of one library meets one of another: alike in both, only in name, or only in colour. */
export type MeetingKind = (typeof MEETINGS)[number];

export interface Meeting {
  kind: MeetingKind;
  mine: Swatch;
  theirs: Swatch;
}

/** What to do where two swatches meet. */
export type Keep = 'both' | 'mine' | 'theirs';

export interface Comparison {
  meetings: Meeting[];
  /** Those of theirs that meet none of mine. */
  fresh: Swatch[];
}

/** Pairs the swatches of two libraries, each at most once: first those alike, then by name, then by colour. */
export function compareForMerge(mine: Library, theirs: Library, condition: Condition): Comparison {
  const free = new Map<Swatch, { hex: string; place: number }>();
  const byName = new Map<string, Swatch[]>();
  const byHex = new Map<string, Swatch[]>();
  let place = 0;
  for (const group of mine.groups)
    for (const swatch of group.swatches) {
      const hex = toHex(swatch.color, condition);
      free.set(swatch, { hex, place: place++ });
      if (swatch.name !== '') add(byName, swatch.name, swatch);
      add(byHex, hex, swatch);
    }
  const pairs = new Map<Swatch, { kind: MeetingKind; mine: Swatch }>();
  const all = theirs.groups.flatMap((g) => g.swatches);
  const pass = (kind: MeetingKind, candidates: (theirs: Swatch) => Swatch | undefined) => {
    for (const swatch of all) {
      if (pairs.has(swatch)) continue;
      const found = candidates(swatch);
      if (!found) continue;
      free.delete(found);
      pairs.set(swatch, { kind, mine: found });
    }
  };
  const near = (a: Swatch, b: Swatch) =>
    deltaE00(toLab(a.color, condition), toLab(b.color, condition)) < SAME;
  const firstFree = (list: Swatch[] | undefined, fits: (s: Swatch) => boolean = () => true) =>
    list?.find((s) => free.has(s) && fits(s));
  pass('same', (s) =>
    s.name === ''
      ? firstFree(byHex.get(toHex(s.color, condition)), (m) => m.name === '' && near(m, s))
      : firstFree(byName.get(s.name), (m) => near(m, s)),
  );
  pass('name', (s) => firstFree(byName.get(s.name)));
  pass('color', (s) => firstFree(byHex.get(toHex(s.color, condition)), (m) => near(m, s)));
  return {
    meetings: all.flatMap((s) => {
      const pair = pairs.get(s);
      return pair ? [{ ...pair, theirs: s }] : [];
    }),
    fresh: all.filter((s) => !pairs.has(s)),
  };
}

function add<K>(map: Map<K, Swatch[]>, key: K, swatch: Swatch): void {
  const list = map.get(key);
  if (list) list.push(swatch);
  else map.set(key, [swatch]);
}

/**
 * What brings one library into another. Swatches that meet are treated as chosen; the rest are added to the groups of the
 * same name, or come in their groups. Null when there is nothing to do.
 */
export function mergeLibrary(
  rows: LibraryRows,
  theirs: Library,
  { meetings }: Comparison,
  keep: Record<MeetingKind, Keep>,
  newId: NewId,
): Draft | null {
  const mine = rows.library;
  const byTheirs = new Map(meetings.map((m) => [m.theirs, m]));
  const ops: Op[] = [];
  for (const { kind, mine, theirs } of meetings) {
    if (keep[kind] !== 'theirs') continue;
    const { group, order } = rows.find(mine.id)!;
    const to = swatchFields(theirs, { group, order });
    ops.push(...rowOps('swatch', mine.id, rows.get('swatch', mine.id), to));
  }
  const fresh: Group[] = [];
  const homes = new Map<string, Swatch[]>();
  /** Where each of theirs is afterwards, groups and items among them. */
  const here = new Map(meetings.map((m) => [m.theirs.id, m.mine.id]));
  for (const group of theirs.groups) {
    const arriving = group.swatches
      .filter((s) => {
        const meeting = byTheirs.get(s);
        return !meeting || keep[meeting.kind] === 'both';
      })
      .map((s) => {
        const id = newId();
        here.set(s.id, id);
        return { ...s, id };
      });
    const home = homeOf(mine, theirs, group);
    if (home) here.set(group.id, home.id);
    if (arriving.length === 0) continue;
    if (home) homes.set(home.id, [...(homes.get(home.id) ?? []), ...arriving]);
    else {
      const name = isLoose(theirs, group) ? theirs.name : group.name;
      const id = newId();
      here.set(group.id, id);
      fresh.push({ id, name, swatches: arriving });
    }
  }
  for (const [id, arriving] of homes) ops.push(...addSwatches(rows, id, arriving).ops);
  if (fresh.length > 0) ops.push(...addGroups(rows, fresh).ops);
  // what refers to swatches comes along, unless the very same is here
  const to = (id: string) => here.get(id);
  const arrived = (again: Item | null, theirId: string): Item[] => {
    if (!again) return [];
    const { id: _, ...come } = again;
    const known = mine.items?.find(({ id: __, ...own }) => same(own, come));
    const id = known?.id ?? newId();
    here.set(theirId, id);
    return known ? [] : [{ ...come, id }];
  };
  const items = (theirs.items ?? []).flatMap((item) => arrived(itemAgain(item, to), item.id));
  // boards show items, too, and come after them
  for (const board of boardsOf(theirs)) items.push(...arrived(boardAgain(board, to), board.id));
  ops.push(...itemOps(rows, items));
  return ops.length === 0
    ? null
    : {
        label: `merge “${theirs.name}” with ${ops.filter((o) => o.of === 'swatch').length} swatches`,
        ops,
      };
}

/** The group of mine that theirs goes into: the one of the same name; swatches in no group stay so. */
const homeOf = (mine: Library, theirs: Library, group: Group) =>
  isLoose(theirs, group)
    ? mine.groups.find((g) => isLoose(mine, g) && g.swatches.length > 0)
    : mine.groups.find((g) => !isLoose(mine, g) && g.name === group.name);
