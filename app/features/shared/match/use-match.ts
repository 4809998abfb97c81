import { useEffect, useMemo, useRef } from 'react';
import { type MatchClient, openMatchClient } from '~/workers/match-client';

/** A match worker for one part of a screen: started when it is first needed, ended with the part. */
export function useMatch(): { ask: MatchClient['ask']; stop(): void } {
  const client = useRef<MatchClient | null>(null);
  const match = useMemo(() => {
    const ask: MatchClient['ask'] = (name, ask, stage) => {
      client.current ??= openMatchClient();
      return client.current.ask(name, ask, stage);
    };
    const close = () => {
      client.current?.close();
      client.current = null;
    };
    return { ask, stop: () => client.current?.stopAll(), close };
  }, []);
  useEffect(() => match.close, [match]);
  return match;
}
