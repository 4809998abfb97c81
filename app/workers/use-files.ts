import { useEffect, useMemo, useRef } from 'react';
import { type FilesClient, openFilesClient } from './files-client';

/** A files worker for one part of a screen: started when it is first needed, ended with the part. */
export function useFiles(): { ask: FilesClient['ask']; stop(): void } {
  const client = useRef<FilesClient | null>(null);
  const files = useMemo(() => {
    const ask: FilesClient['ask'] = (name, ask, stage) => {
      client.current ??= openFilesClient();
      return client.current.ask(name, ask, stage);
    };
    const stop = () => client.current?.stopAll();
    const close = () => {
      client.current?.close();
      client.current = null;
    };
    return { ask, stop, close };
  }, []);
  useEffect(() => files.close, [files]);
  return files;
}
