import { useEffect, useMemo, useRef } from 'react';
import type { Queries, WorkerClient } from './worker-client';

/** A worker for one part of a screen: started when it is first needed, ended with the part. */
export function useClient<Q extends Queries>(
  open: () => WorkerClient<Q>,
): { ask: WorkerClient<Q>['ask']; stop(): void } {
  const client = useRef<WorkerClient<Q> | null>(null);
  const calls = useMemo(() => {
    const ask: WorkerClient<Q>['ask'] = (name, ask, stage) => {
      client.current ??= open();
      return client.current.ask(name, ask, stage);
    };
    const close = () => {
      client.current?.close();
      client.current = null;
    };
    return { ask, stop: () => client.current?.stopAll(), close };
  }, [open]);
  useEffect(() => calls.close, [calls]);
  return calls;
}
