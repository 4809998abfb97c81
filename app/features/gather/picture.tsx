import { createStore, del, get, set } from 'idb-keyval';
import {
  createContext,
  type ReactNode,
  useCallback,
  useContext,
  useEffect,
  useMemo,
  useRef,
  useState,
} from 'react';
import { openPictureClient, type PictureClient } from '~/workers/picture-client';
import type { OpenedPicture } from '~/workers/picture-messages';

export interface PictureState {
  name: string;
  /** Set once the picture is decoded. */
  opened: OpenedPicture | null;
  /** What is being done, while it is. */
  stage: string | null;
  problem: string | null;
}

interface PictureContextValue {
  picture: PictureState | null;
  client: PictureClient | null;
  open(file: File): void;
  close(): void;
}

const PictureContext = createContext<PictureContextValue>({
  picture: null,
  client: null,
  open: () => undefined,
  close: () => undefined,
});

/** The picture colours are being gathered from. It stays on this machine. */
export const usePicture = () => useContext(PictureContext);

/** Where the browser keeps the picture between reloads. */
const kept = () => createStore('papillon', 'picture');
const KEY = 'open';

export function PictureProvider({ children }: { children: ReactNode }) {
  const [picture, setPicture] = useState<PictureState | null>(null);
  const [client, setClient] = useState<PictureClient | null>(null);
  const current = useRef<PictureClient | null>(null);

  const start = useCallback((file: Blob, name: string) => {
    current.current?.close();
    const next = openPictureClient();
    current.current = next;
    setClient(next);
    setPicture({ name, opened: null, stage: 'Opening', problem: null });
    const mine = () => current.current === next;
    next
      .ask('open', { file, name }, (stage) => mine() && setPicture((p) => p && { ...p, stage }))
      .then((opened) => mine() && setPicture({ name, opened, stage: null, problem: null }))
      .catch((error: Error) => {
        if (!mine()) return;
        void del(KEY, kept());
        setPicture({ name, opened: null, stage: null, problem: error.message });
      });
  }, []);

  const open = useCallback(
    (file: File) => {
      start(file, file.name);
      // a browser without the room for it works on without surviving a reload
      set(KEY, { file, name: file.name }, kept()).catch(() => undefined);
    },
    [start],
  );

  const close = useCallback(() => {
    current.current?.close();
    current.current = null;
    setClient(null);
    setPicture(null);
    del(KEY, kept()).catch(() => undefined);
  }, []);

  useEffect(() => {
    get<{ file: Blob; name: string }>(KEY, kept())
      .then((was) => {
        if (was && !current.current) start(was.file, was.name);
      })
      .catch(() => undefined);
    return () => {
      current.current?.close();
      current.current = null;
    };
  }, [start]);

  const value = useMemo(() => ({ picture, client, open, close }), [picture, client, open, close]);
  return <PictureContext value={value}>{children}</PictureContext>;
}
