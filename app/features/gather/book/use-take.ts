import { nanoid } from 'nanoid';
import { takenFrom } from '#core/books/index';
import type { Swatch } from '#core/swatch/index';
import { useToTray } from '~/features/shared/use-to-tray';
import type { OpenBook } from '~/state/books';
import { useStores } from '~/state/stores';
import { useToast } from '~/ui/toast';

/** Inks by their ids, and the set they are taken with. */
export interface TakenSet {
  name?: string;
  ids: readonly string[];
}

/** Puts inks of a book in the tray: those of sets, else those that are marked, else the one that is looked at. */
export function useTake() {
  const { books } = useStores();
  const toTray = useToTray();
  const toast = useToast();
  return async (book: OpenBook, sets?: readonly TakenSet[]) => {
    const { marked } = books.snapshot();
    const looked = book.swatches.id[books.placeIn(book)];
    const ids = marked.length > 0 ? marked : looked === undefined ? [] : [looked];
    const wanted: { id: string; set?: string | undefined }[] = sets
      ? sets.flatMap((s) => s.ids.map((id) => ({ id, set: s.name })))
      : ids.map((id) => ({ id }));
    try {
      const taken = await Promise.all(
        wanted.map(async ({ id, set }) => {
          const entry = await books.entry(book.id, id);
          return entry && takenFrom(book, entry, nanoid(12), set);
        }),
      );
      const found = taken.filter((s): s is Swatch => s !== null);
      if (found.length === 0) return;
      await toTray(found);
      if (!sets) books.unmark();
    } catch (error) {
      toast({ text: `Nothing was taken. ${(error as Error).message}`, stays: true });
    }
  };
}
