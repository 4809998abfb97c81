import { createContext, useContext } from 'react';
import type { LibraryStore } from './library-store';
import { usePart } from './store';

/** What the screens of one library share. */
export interface Workspace {
  store: LibraryStore;
  /** It is a book, which is looked at and not edited. */
  book: boolean;
  /** Chosen swatches, in no order. */
  selection: ReadonlySet<string>;
  select(ids: Iterable<string>): void;
  /** The group the outline points at; gathered colours go there by default. */
  groupId: string | null;
  setGroupId(id: string | null): void;
  /** The last kit that was handed over. */
  kit: { revision: number; at: Date } | null;
  setKit(kit: { revision: number; at: Date }): void;
}

export const WorkspaceContext = createContext<Workspace | null>(null);

/** The open library, or null on screens without one. */
export const useWorkspace = () => useContext(WorkspaceContext);

/** The open library, on screens that are never without one. */
export function useLibrary(): Workspace {
  const workspace = useContext(WorkspaceContext);
  if (!workspace) throw new Error('A library screen is used outside its library.');
  return workspace;
}

/** Whether the library has changed since its last kit. */
export function useKitIsStale(): boolean {
  const { store, kit } = useLibrary();
  return usePart(store, ({ revision, talk, waiting, whole }) =>
    kit ? (whole && revision - talk > kit.revision) || (waiting > 0 && !store.onlyTalks) : false,
  );
}
