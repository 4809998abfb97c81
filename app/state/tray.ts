import { createContext, useContext } from 'react';
import type { LibraryStore } from './library-store';

export const TrayContext = createContext<LibraryStore | null>(null);

/** The tray's store; there is one for the whole application. */
export function useTray(): LibraryStore {
  const tray = useContext(TrayContext);
  if (!tray) throw new Error('The tray is used outside its provider.');
  return tray;
}
