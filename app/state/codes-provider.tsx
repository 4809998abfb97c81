import { createContext, type ReactNode, useContext, useEffect, useState } from 'react';
import { CodesStore } from '~/state/codes-store';
import { useStore } from '~/state/store';
import { useStores } from '~/state/stores';

const CodesContext = createContext<CodesStore | null>(null);

/** The store of the typed and pasted codes; there is one for the whole application. */
export function useCodesStore(): CodesStore {
  const store = useContext(CodesContext);
  if (!store) throw new Error('Codes are used outside their provider.');
  return store;
}

/** The codes as they change. */
export function useCodes() {
  return useStore(useCodesStore());
}

export function CodesProvider({ children }: { children: ReactNode }) {
  const { shelf } = useStores();
  const [store] = useState(() => new CodesStore(shelf));
  useEffect(() => {
    void shelf.earlier.then((earlier) => store.restore(earlier?.codes));
    const leave = () => store.saveNow();
    window.addEventListener('pagehide', leave);
    return () => window.removeEventListener('pagehide', leave);
  }, [store, shelf]);
  return <CodesContext value={store}>{children}</CodesContext>;
}
