import { createContext, type ReactNode, useContext, useEffect, useState, useSyncExternalStore } from 'react';
import { CodesStore } from './codes-store';

const CodesContext = createContext<CodesStore | null>(null);

/** The store of the typed and pasted codes; there is one for the whole application. */
export function useCodesStore(): CodesStore {
  const store = useContext(CodesContext);
  if (!store) throw new Error('Codes are used outside their provider.');
  return store;
}

/** The codes as they change. */
export function useCodes() {
  const store = useCodesStore();
  return useSyncExternalStore(store.subscribe, store.snapshot, store.snapshot);
}

export function CodesProvider({ children }: { children: ReactNode }) {
  const [store] = useState(() => new CodesStore());
  useEffect(() => {
    void store.restore();
    const leave = () => store.saveNow();
    window.addEventListener('pagehide', leave);
    return () => window.removeEventListener('pagehide', leave);
  }, [store]);
  return <CodesContext value={store}>{children}</CodesContext>;
}
