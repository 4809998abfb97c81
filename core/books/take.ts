import type { Lab } from '../color/index.ts';
import type { Library, Swatch } from '../swatch/index.ts';

/**
 * A swatch for a library, taken from a book: it keeps what the ink is, and finds its book again.
 *
 * @param set the set it was taken with, if it was one
 */
export function takenFrom(
  book: Pick<Library, 'id' | 'name'>,
  entry: Swatch,
  id: string,
  set?: string,
): Swatch {
  return { ...entry, id, origin: { ...originIn(book, entry), ...(set ? { set } : {}) } };
}

/**
 * Swatches as the groups they are placed in: those taken with a set of a book under its name, all others under the name given, in
 * the order they come.
 */
export function groupsToPlace(
  swatches: readonly Swatch[],
  name: string,
): { name: string; swatches: Swatch[] }[] {
  const groups = new Map<string | undefined, { name: string; swatches: Swatch[] }>();
  for (const swatch of swatches) {
    const set = swatch.origin?.set;
    const group = groups.get(set) ?? { name: set ?? name, swatches: [] };
    group.swatches.push(swatch);
    groups.set(set, group);
  }
  return [...groups.values()];
}

export const originIn = (book: Pick<Library, 'id' | 'name'>, entry: Pick<Swatch, 'code' | 'name'>) => ({
  from: 'book' as const,
  name: book.name,
  book: book.id,
  code: entry.code ?? entry.name,
});

/**
 * A tint of an ink: it keeps the ink's exact name and the percentage, as it is not an ink of its own.
 *
 * @param percent of the plate, 0–100; 100 is the ink itself
 * @param lab what the tint measures
 */
export function tintFrom(
  book: Pick<Library, 'id' | 'name'>,
  entry: Swatch,
  percent: number,
  lab: Lab,
  id: string,
): Swatch {
  if (percent === 100) return takenFrom(book, entry, id);
  return { ...asTint(entry, percent, lab, id), origin: originIn(book, entry) };
}

/** A tint of an ink as a swatch beside it. @param lab what it measures, D50 */
export function asTint(ink: Swatch, percent: number, lab: Lab, id: string): Swatch {
  // curve, recipe and values in other spaces are those of the solid
  const { spectrum: _, recipe: __, alternates: ___, ...rest } = ink;
  return {
    ...rest,
    id,
    name: `${ink.name} ${percent} %`,
    color: { space: 'lab', components: lab.map((v) => Math.round(v * 100) / 100) },
    tint: { of: ink.name, percent },
  };
}
