import type { Lab } from '../color/index.ts';
import type { Library, Swatch } from '../swatch/index.ts';

/** A swatch for a library, taken from a book: it keeps what the ink is, and finds its book again. */
export function takenFrom(book: Pick<Library, 'id' | 'name'>, entry: Swatch, id: string): Swatch {
  return { ...entry, id, origin: originIn(book, entry) };
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
  // curve, recipe and values in other spaces are those of the solid
  const { spectrum: _, recipe: __, alternates: ___, ...ink } = entry;
  return {
    ...ink,
    id,
    name: `${entry.name} ${percent} %`,
    color: { space: 'lab', components: lab.map((v) => Math.round(v * 100) / 100) },
    tint: { of: entry.name, percent },
    origin: originIn(book, entry),
  };
}
