import { screenOnly, suggestNames } from '../color/index.ts';
import type { Library, NewId } from '../swatch/model.ts';
import { type Artwork, type ColorOrder, colorsOf } from './parts.ts';

/**
 * The colours of a drawing as a library: each once, under what its parts are called, else under a name for how it looks.
 * @param name of the library
 */
export function artworkPalette(
  artwork: Artwork,
  name: string,
  newId: NewId,
  order: ColorOrder = 'area',
): Library {
  const colors = colorsOf(artwork, order);
  const looks = suggestNames(
    colors.map((c) => c.color),
    screenOnly,
    colors.flatMap((c) => c.names[0] ?? []),
  );
  return {
    id: newId(),
    name,
    groups: [
      {
        id: newId(),
        name: '',
        swatches: colors.map(({ color, names }, i) => ({
          id: newId(),
          name: names[0] ?? looks[i]!,
          kind: 'process' as const,
          color,
        })),
      },
    ],
  };
}
