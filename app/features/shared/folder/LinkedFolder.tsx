import type { LibraryStore } from '~/state/library-store';
import { useFolderUpdates } from './use-folder';

/** Nothing to be seen: it keeps the linked folder of the open library up to date. */
export function LinkedFolder({ store }: { store: LibraryStore }) {
  useFolderUpdates(store);
  return null;
}
