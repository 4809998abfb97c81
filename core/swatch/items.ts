import { BOARD, boardAgain, isBoard } from './board.ts';
import { TALK_KINDS } from './choice.ts';
import { ARTWORK, COLORWAY, colorwayAgain, isArtwork, isColorway } from './colorway.ts';
import { isComment } from './comment.ts';
import { type Gradient, gradientAgain, isGradient } from './gradient.ts';
import type { Item, Library, NewId } from './model.ts';
import { READING } from './reading.ts';

/**
 * An item with its references led elsewhere: what each kind makes of such as lead nowhere. A gradient keeps their colors;
 * others lose them, and are gone when nothing is left that they referred to, but for a measured ink, which stands on its own. Artwork stays with its library: its bytes are no
 * part of it, and its colourways are nothing without it.
 */
export function itemAgain<T>(
  item: Item,
  to: (id: string) => T | undefined,
): (Omit<Item, 'refs'> & { refs?: T[] }) | null {
  if (isGradient(item)) return { ...item, ...gradientAgain(item as Gradient, to) };
  // a board shows what only its library has, and comments are of those who share it
  if ([ARTWORK, COLORWAY, BOARD, ...TALK_KINDS].includes(item.kind)) return null;
  const { refs, ...rest } = item;
  if (!refs) return rest;
  const kept = refs.flatMap((id) => to(id) ?? []);
  return refs.length > 0 && kept.length === 0 && item.kind !== READING ? null : { ...rest, refs: kept };
}

/** A copy of the library under new identifiers. */
export function withNewIds(library: Library, newId: NewId): Library {
  const ids = new Map<string, string>();
  const again = (id: string) => {
    const made = newId();
    ids.set(id, made);
    return made;
  };
  const copy = {
    ...library,
    id: again(library.id),
    groups: library.groups.map((g) => ({
      ...g,
      id: again(g.id),
      swatches: g.swatches.map((s) => ({ ...s, id: again(s.id) })),
    })),
  };
  // what refers to swatches goes on doing so; what refers only to such as are gone is gone with them
  if (library.items) {
    const { items } = library;
    const to = (id: string) => ids.get(id);
    for (const item of items) again(item.id);
    copy.items = items.flatMap((item): Item[] => {
      const stays = (id: string) => to(id) ?? id;
      const id = stays(item.id);
      if (isArtwork(item)) return [{ ...item, id, refs: item.refs.map(stays) }];
      if (isBoard(item)) {
        // pictures are not in here, and may come along by another way
        const board = boardAgain({ ...item, id }, stays);
        return board ? [board] : [];
      }
      if (isComment(item)) {
        const [on] = item.refs;
        const { thread } = item.data;
        return to(on)
          ? [{ ...item, id, refs: [to(on)!], data: { ...item.data, thread: thread && stays(thread) } }]
          : [];
      }
      if (isColorway(item)) {
        const artwork = to(item.data.artwork);
        if (!artwork) return [];
        const { refs, data } = colorwayAgain(item, to);
        return [{ ...item, id, refs, data: { ...data, artwork } }];
      }
      const made = itemAgain(item, to);
      return made ? [{ ...made, id }] : [];
    });
  }
  return copy;
}
