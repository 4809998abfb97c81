import type { PaletteColor, Take } from '../core/picture/index.ts';
import { newTake } from '../core/picture/take.ts';
import {
  artworksOf,
  type Board,
  type BoardObject,
  colorwaysOf,
  emptyBoard,
  gradientsOf,
  type Library,
  type NewId,
  type ObjectKind,
} from '../core/swatch/index.ts';

/** What the picture of a board was taken with: its colours, by the names that the library gives them. */
export function sampleTake(library: Library, picture: string, colors: PaletteColor[], newId: NewId): Take {
  const own = library.groups.flatMap((g) => g.swatches).filter((s) => s.origin?.name === picture);
  const names = own.map(({ name, color }) => ({ name, color }));
  return { ...newTake(newId()), colors, names };
}

/** Two boards: the livery on one page, as a story of the picture it came from, and a sheet of all that the season uses. */
export function sampleBoards(library: Library, picture: string, newId: NewId): Board[] {
  const object = (of: ObjectKind, refs: string[], name: string, weight = 2): BoardObject => ({
    ...{ id: newId(), of, refs, name, weight },
  });
  const group = (name: string) => library.groups.find((g) => g.name === name);
  const livery = group('Hull livery')?.swatches ?? [];
  const [gradient] = gradientsOf(library);
  const [scarf] = artworksOf(library);
  const [way] = scarf ? colorwaysOf(library, scarf.id) : [];
  const weights = [6, 3, 2, 1];
  const story = emptyBoard(newId(), 'Livery on one page', [
    object('picture', [picture], picture),
    ...(gradient ? [object('gradient', [gradient.id], gradient.name)] : []),
    ...livery.map((s, i) => object('swatch', [s.id], s.name, weights[i] ?? 1)),
    ...(scarf && way ? [object('work', [scarf.id, way.id], `${scarf.name}, ${way.name}`, 4)] : []),
  ]);
  story.data = {
    ...story.data,
    layout: 'story',
    labels: ['name', 'code', 'hex', 'cmyk'],
    note: 'Hull in navy over red, everything that is touched in brass. Sky and water carry the timetables.',
    date: '2026-11-29',
  };
  const sheet = emptyBoard(
    newId(),
    'Season sheet',
    ['Sky and water', 'Brass and rope', 'Hull livery', 'Route roles'].flatMap((name) => {
      const own = group(name);
      return own ? [object('group', [own.id], name)] : [];
    }),
  );
  sheet.data = {
    ...sheet.data,
    layout: 'chips',
    page: { size: 'a3', landscape: false, margin: 18 },
    labels: ['name', 'code', 'hex', 'cmyk', 'lab', 'role'],
    note: 'What the timetables, signs and ships of the season are painted, printed and woven in.',
  };
  return [story, sheet];
}
