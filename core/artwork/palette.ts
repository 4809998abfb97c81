import { screenOnly, suggestNames } from '../color/index.ts';
import type { Library, NewId, Swatch } from '../swatch/model.ts';
import { type Artwork, type ColorOrder, colorsOf, type PaintedColor } from './parts.ts';

/**
 * Colours of an artwork as swatches: under what their parts are called, else under a name for how they look.
 * @param work what it is called
 */
export function paletteOf(
  colors: readonly Pick<PaintedColor, 'color' | 'names'>[],
  newId: NewId,
  work?: string,
): Swatch[] {
  const looks = suggestNames(
    colors.map((c) => c.color),
    screenOnly,
    colors.flatMap((c) => c.names[0] ?? []),
  );
  return colors.map(({ color, names }, i) => ({
    id: newId(),
    name: names[0] ?? looks[i]!,
    kind: 'process' as const,
    color,
    ...(work === undefined ? {} : { origin: { from: 'artwork' as const, name: work } }),
  }));
}

/**
 * The colours of a drawing as a library, each once.
 * @param name of the library
 */
export const artworkPalette = (
  artwork: Artwork,
  name: string,
  newId: NewId,
  order: ColorOrder = 'area',
): Library => ({
  id: newId(),
  name,
  groups: [{ id: newId(), name: '', swatches: paletteOf(colorsOf(artwork, order), newId) }],
});
