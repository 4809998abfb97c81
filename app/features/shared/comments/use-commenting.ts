import { nanoid } from 'nanoid';
import { useMemo } from 'react';
import {
  addComment,
  type Comment,
  type CommentMark,
  removeComment,
  type Thread,
  threadsOf,
} from '#core/swatch/index';
import type { LibraryStore } from '~/state/library-store';
import { usePart, useStore } from '~/state/store';
import { useStores } from '~/state/stores';
import type { Commenting, Shown, ShownTalk } from './Threads';

const shown = ({ id, data }: Comment): Shown => ({ id, ...data, mark: data.mark ?? null });

/** A thread as it is shown. */
export const shownTalk = ({ first, answers, isResolved }: Thread): ShownTalk => ({
  ...shown(first),
  answers: answers.map(shown),
  isResolved,
});

const NO_ITEMS: never[] = [];

/** The threads of a library by what they are on. */
export function useThreads(store: LibraryStore): Map<string, Thread[]> {
  const items = usePart(store, (s) => s.library.items ?? NO_ITEMS);
  return useMemo(() => threadsOf({ items }), [items]);
}

/** What can be done with the comments of a library, on what has an id. */
export function useCommenting(store: LibraryStore): (on: string) => Commenting {
  const { me: meStore } = useStores();
  const me = useStore(meStore);
  return (on) => {
    const put = (text: string, thread: string | null, mark?: CommentMark) => {
      const { id: by, name } = meStore.snapshot();
      const data = { by, author: name ?? '', at: Date.now(), text, thread, ...(mark ? { mark } : {}) };
      if (!store.edit(addComment(store.rows, nanoid(12), on, data)))
        throw new Error('The comment was not kept. Try again.');
    };
    return {
      me: me.name === null ? null : { by: me.id, name: me.name },
      mayDelete: true,
      rename: (name) => meStore.rename(name),
      write: async (text, thread) => put(text, thread),
      mark: async (thread, mark) => put('', thread, mark),
      remove: async (id) => void store.edit(removeComment(store.rows.library, id)),
    };
  };
}
