import { createContext, type ReactNode, useContext, useEffect, useState } from 'react';
import { PictureStore } from '~/state/picture-store';
import { useStore } from '~/state/store';
import { useStores } from '~/state/stores';

const PictureContext = createContext<PictureStore | null>(null);

/** The store of the open pictures; there is one for the whole application. */
export function usePictureStore(): PictureStore {
  const store = useContext(PictureContext);
  if (!store) throw new Error('Pictures are used outside their provider.');
  return store;
}

/** The open pictures and their takes, as they change. */
export function usePictures() {
  return useStore(usePictureStore());
}

export function PictureProvider({ children }: { children: ReactNode }) {
  const { shelf } = useStores();
  const [store] = useState(() => new PictureStore(shelf));
  useEffect(() => {
    void shelf.earlier.then((earlier) => store.restore(earlier?.pictures));
    // what was changed in the last moment goes with the page otherwise
    const leave = () => store.saveNow(true);
    window.addEventListener('pagehide', leave);
    return () => window.removeEventListener('pagehide', leave);
  }, [store, shelf]);
  return <PictureContext value={store}>{children}</PictureContext>;
}
