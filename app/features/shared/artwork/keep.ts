import { nanoid } from 'nanoid';
import { useCallback, useState } from 'react';
import { knownOf } from '#core/artwork/index';
import { isPdf } from '#core/pdf/sniff';
import { pictureType } from '#core/picture/sniff';
import { ARTWORK, type ArtworkItem, addArtworks } from '#core/swatch/index';
import type { ArtworkStore } from '~/state/artwork-store';
import type { LibraryStore } from '~/state/library-store';
import { useStores } from '~/state/stores';
import { useLibrary } from '~/state/workspace';
import { type Toast, useToast, wayBack } from '~/ui/toast';
import { StoppedError } from '~/workers/worker-client';

interface Given {
  file: File;
  path: string;
}

/** Whether a file is for Apply: a drawing, a PDF or a picture. */
export async function isArtworkFile(file: Blob): Promise<boolean> {
  const head = new Uint8Array(await file.slice(0, 4096).arrayBuffer());
  if (pictureType(head, file.size) || isPdf(head)) return true;
  return /<(?:\w+:)?svg[\s>]/i.test(new TextDecoder().decode(head).replaceAll('\0', ''));
}

/** Keeps files as artwork of a library and tells what there is to tell; the ids of what was made. */
export async function keepArtworks(
  files: readonly Given[],
  {
    artworks,
    store,
    toast,
    stage,
  }: {
    artworks: ArtworkStore;
    store: LibraryStore;
    toast(toast: Toast): void;
    stage(text: string): void;
  },
): Promise<string[]> {
  const items: ArtworkItem[] = [];
  for (const { file, path } of files) {
    const name = path.replace(/^.*\//, '');
    stage(name);
    try {
      const { hash, facts, warnings } = await artworks.keep(file);
      items.push({ id: nanoid(12), kind: ARTWORK, name, refs: [], data: knownOf(facts, hash) });
      if (warnings.length > 0) toast({ text: `${name}: ${warnings.join(' ')}`, stays: true });
    } catch (error) {
      if (error instanceof StoppedError) break;
      toast({ text: `${name}: ${(error as Error).message}`, stays: true });
    }
  }
  if (items.length === 0) return [];
  await store.whole();
  const added = store.edit(addArtworks(store.rows, items));
  if (!added) return [];
  if (items.length > 1) toast({ text: `${items.length} artworks added.`, ...wayBack([store, added]) });
  return items.map((i) => i.id);
}

/** Takes files as artwork of the open library; gives back those that are none. */
export function useKeepArtwork(onKept?: (id: string) => void) {
  const { artworks } = useStores();
  const { store } = useLibrary();
  const toast = useToast();
  const [stage, setStage] = useState<string | null>(null);
  const keep = useCallback(
    async (files: Given[]) => {
      const own: Given[] = [];
      const rest: Given[] = [];
      for (const given of files)
        ((await isArtworkFile(given.file).catch(() => false)) ? own : rest).push(given);
      const [first] = await keepArtworks(own, { artworks, store, toast, stage: setStage });
      setStage(null);
      if (first) onKept?.(first);
      return rest;
    },
    [artworks, store, toast, onKept],
  );
  return { keep, stage, stop: () => artworks.client.stopAll() };
}
