import type { Deleted, Summary } from '#server/libraries';

/** Which libraries the home shows: the usual ones, those of a shelf, of the archive, of the bin. */
export type Place = { in: 'all' } | { in: 'shelf'; name: string } | { in: 'archive' } | { in: 'bin' };

export const SORTS = [
  ['newest', 'newest change'],
  ['name', 'name'],
  ['size', 'swatches'],
] as const;
export type Sort = (typeof SORTS)[number][0];

/** The place and order that an address says. */
export function placeOf(search: URLSearchParams): { place: Place; sort: Sort } {
  const [shelf, inside] = [search.get('shelf'), search.get('in')];
  const sort = SORTS.find(([id]) => id === search.get('sort'))?.[0] ?? 'newest';
  if (shelf) return { place: { in: 'shelf', name: shelf }, sort };
  return { place: inside === 'archive' || inside === 'bin' ? { in: inside } : { in: 'all' }, sort };
}

/** The same address for another place. */
export function addressOf(place: Place, search: URLSearchParams): string {
  const next = new URLSearchParams(search);
  next.delete('shelf');
  next.delete('in');
  if (place.in === 'shelf') next.set('shelf', place.name);
  else if (place.in !== 'all') next.set('in', place.in);
  return next.size > 0 ? `/?${next}` : '/';
}

/** The shelves there are, by name, each with how many libraries of the usual list are on it. */
export function shelvesOf(
  libraries: readonly Pick<Summary, 'shelves' | 'archivedAt'>[],
): { name: string; count: number }[] {
  const counts = new Map<string, number>();
  for (const { shelves, archivedAt } of libraries)
    for (const name of shelves) counts.set(name, (counts.get(name) ?? 0) + (archivedAt ? 0 : 1));
  return [...counts]
    .map(([name, count]) => ({ name, count }))
    .sort((a, b) => a.name.localeCompare(b.name, 'en'));
}

const ORDERS: Record<Sort, (a: Summary, b: Summary) => number> = {
  newest: (a, b) => b.changedAt.getTime() - a.changedAt.getTime(),
  name: (a, b) => a.name.localeCompare(b.name, 'en', { numeric: true }),
  size: (a, b) => b.swatchCount - a.swatchCount,
};

/** The libraries of a place in their order. What is searched for is found in the archive, too. */
export function shownAt(
  libraries: readonly Summary[],
  place: Place,
  sort: Sort,
  isSearch: boolean,
): Summary[] {
  const isThere = (l: Summary) => {
    if (place.in === 'archive') return l.archivedAt !== null;
    if (place.in === 'shelf') return l.shelves.includes(place.name) && (isSearch || !l.archivedAt);
    return place.in === 'all' && (isSearch || !l.archivedAt);
  };
  return libraries.filter(isThere).sort(ORDERS[sort]);
}

const DAY_MS = 86_400_000;

/** How many days the bin still keeps a library; 0 on its last one. */
export const daysLeft = ({ deletedAt }: Pick<Deleted, 'deletedAt'>, keeps: number, now: Date): number =>
  Math.max(0, Math.ceil(keeps - (now.getTime() - deletedAt.getTime()) / DAY_MS));
