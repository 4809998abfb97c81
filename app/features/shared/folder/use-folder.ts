import { unzipSync } from 'fflate';
import { useEffect } from 'react';
import type { KitChoices } from '#core/formats/plan';
import type { LibraryStore } from '~/state/library-store';
import { usePart, useStore } from '~/state/store';
import type { Stores } from '~/state/stores';
import { useStores } from '~/state/stores';
import { openFilesClient } from '~/workers/clients';
import { FolderStore } from './folder-store';

/** The hand has rested for so long before the files are made again, ms. */
const REST_MS = 1500;

const folders = new Map<string, FolderStore>();

/** The linked folder of a library; there is one for each in a page. */
export function folderOf(stores: Stores, store: LibraryStore): FolderStore {
  const known = folders.get(store.id);
  if (known) return known;
  const folder = new FolderStore(store.id, stores.shelf, (choices) => filesOf(store, choices));
  folders.set(store.id, folder);
  void folder.restore();
  return folder;
}

async function filesOf(store: LibraryStore, choices: KitChoices) {
  await store.whole();
  await store.saved();
  const { library, revision, talk } = store.snapshot();
  const worker = openFilesClient();
  try {
    const about = { revision, takenAt: new Date().toISOString() };
    const kit = await worker.ask('kit', { library, choices, ...about }, () => undefined);
    const files = new Map(
      Object.entries(unzipSync(kit.bytes)).filter(([path]) => !path.endsWith('/')) as [
        string,
        Uint8Array<ArrayBuffer>,
      ][],
    );
    return { files, revision: revision - talk };
  } finally {
    worker.close();
  }
}

/** Keeps the linked folder of a library up to date while the library is open, on whichever of its screens. */
export function useFolderUpdates(store: LibraryStore): void {
  const stores = useStores();
  const folder = folderOf(stores, store);
  const { standing, revision: has } = useStore(folder);
  const is = usePart(store, (s) => (s.whole && s.waiting === 0 ? s.revision - s.talk : -1));
  useEffect(() => {
    if (standing !== 'ready' || is < 0 || is === has) return;
    const timer = setTimeout(() => void folder.update(), REST_MS);
    return () => clearTimeout(timer);
  }, [folder, standing, is, has]);
}
