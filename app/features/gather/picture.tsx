import { createContext, type ReactNode, useContext, useEffect, useState, useSyncExternalStore } from 'react';
import { PictureStore } from './picture-store';

const PictureContext = createContext<PictureStore | null>(null);

/** The store of the open pictures; there is one for the whole application. */
export function usePictureStore(): PictureStore {
  const store = useContext(PictureContext);
  if (!store) throw new Error('Pictures are used outside their provider.');
  return store;
}

/** The open pictures and their takes, as they change. */
export function usePictures() {
  const store = usePictureStore();
  return useSyncExternalStore(store.subscribe, store.snapshot, store.snapshot);
}

export function PictureProvider({ children }: { children: ReactNode }) {
  const [store] = useState(() => new PictureStore());
  useEffect(() => {
    void store.restore();
    // what was changed in the last moment goes with the page otherwise
    const leave = () => store.saveNow(true);
    window.addEventListener('pagehide', leave);
    return () => window.removeEventListener('pagehide', leave);
  }, [store]);
  return <PictureContext value={store}>{children}</PictureContext>;
}
