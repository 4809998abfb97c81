import { type Condition, screenOnly, suggestNames } from '../color/index.ts';
import type { Library, NewId, Swatch } from '../swatch/model.ts';
import type { PaintedColor } from './parts.ts';

/**
 * Colours of an artwork as swatches: under what their parts are called, else under a name for how they look; inks as spot colours.
 *
 * @param work what it is called
 * @param condition under which inks look as they do
 */
export function paletteOf(
  colors: readonly Pick<PaintedColor, 'color' | 'names' | 'ink'>[],
  newId: NewId,
  work?: string,
  condition: Condition = screenOnly,
): Swatch[] {
  const looks = suggestNames(
    colors.map((c) => c.color),
    condition,
    colors.flatMap((c) => c.names[0] ?? []),
  );
  return colors.map(({ color, names, ink }, i) => ({
    id: newId(),
    name: names[0] ?? looks[i]!,
    kind: ink?.kind ?? 'process',
    color,
    ...(ink && ink.percent < 100 ? { tint: { of: ink.name, percent: ink.percent } } : {}),
    ...(work === undefined ? {} : { origin: { from: 'artwork' as const, name: work } }),
  }));
}

/** The colours of a work as a library, each once. @param name of the library */
export const artworkPalette = (
  colors: readonly PaintedColor[],
  name: string,
  newId: NewId,
  condition?: Condition,
): Library => ({
  id: newId(),
  name,
  groups: [{ id: newId(), name: '', swatches: paletteOf(colors, newId, undefined, condition) }],
});
