import { useEffect } from 'react';
import type { Swatch } from '#core/swatch/index';
import type { ListedBook } from '#server/books';
import type { OpenBook } from '~/state/books';
import { usePart } from '~/state/store';
import { useStores } from '~/state/stores';
import { useAsked } from '~/ui/use-asked';

/** A book, fetched when it is first looked at; null until it is here. */
export function useOpenBook(id: string | null): OpenBook | null {
  const { books } = useStores();
  const book = usePart(books, (s) => (id ? (s.books[id] ?? null) : null));
  const missing = id !== null && !book;
  useEffect(() => {
    if (id && missing) void books.open(id);
  }, [books, id, missing]);
  return book;
}

/** The books of the same inks, on several papers. */
export const siblings = (list: readonly ListedBook[], open: ListedBook): ListedBook[] =>
  open.facts.family ? list.filter((b) => b.facts.family === open.facts.family) : [open];

/** A hand that walks with the arrow keys is faster than this, ms. */
const WAIT_MS = 70;

/** A whole swatch with its curve and recipe, a moment after one stays on it; the one before until then. */
export function useEntry(library: string | null, id: string | undefined): Swatch | null {
  const { books } = useStores();
  const ask = library && id !== undefined ? () => books.entry(library, id) : null;
  const { value: found } = useAsked(ask, [books, library, id], { wait: WAIT_MS });
  return found && found.id === id ? found : null;
}
