import { nanoid } from 'nanoid';
import { takenFrom } from '#core/books/index';
import type { Swatch } from '#core/swatch/index';
import { useToTray } from '~/features/shared/use-to-tray';
import type { OpenBook } from '~/state/books';
import { useStores } from '~/state/stores';
import { useToast } from '~/ui/toast';

/** Puts inks of a book in the tray: those named, else those that are marked, else the one that is looked at. */
export function useTake() {
  const { books } = useStores();
  const toTray = useToTray();
  const toast = useToast();
  return async (book: OpenBook, ids?: readonly string[]) => {
    const { marked } = books.snapshot();
    const looked = book.swatches.id[books.placeIn(book)];
    const wanted = ids ?? (marked.length > 0 ? marked : looked === undefined ? [] : [looked]);
    try {
      const entries = await Promise.all(wanted.map((id) => books.entry(book.id, id)));
      const found = entries.filter((e): e is Swatch => e !== null);
      if (found.length === 0) return;
      await toTray(found.map((entry) => takenFrom(book, entry, nanoid(12))));
      if (!ids) books.unmark();
    } catch (error) {
      toast({ text: `Nothing was taken. ${(error as Error).message}`, stays: true });
    }
  };
}
