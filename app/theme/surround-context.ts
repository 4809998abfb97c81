import { createContext, useContext } from 'react';
import type { Surround } from './tokens';

export const SurroundContext = createContext<{ surround: Surround; setSurround(next: Surround): void }>({
  surround: 'light',
  setSurround: () => undefined,
});

export const useSurround = () => useContext(SurroundContext);
