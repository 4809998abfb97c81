import { createContext } from 'react';

/** What marks the scripts and style sheets of this page as its own; see server/http/headers.ts. */
export const NonceContext = createContext<string | undefined>(
  typeof document === 'undefined' ? undefined : document.querySelector<HTMLElement>('script[nonce]')?.nonce,
);
