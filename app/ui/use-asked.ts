import { useEffect, useRef, useState } from 'react';

export interface Asked<T> {
  /** The last answer that came; null before the first, or while another is on its way where `fresh` is asked for. */
  value: T | null;
  /** Why there is no answer to what is asked now. */
  problem: string | null;
  /** The answer to what is asked now is here. */
  current: boolean;
}

interface How {
  /** So long nothing else may be asked before this is, ms: a hand that goes down a list passes much on its way. */
  wait?: number;
  /** An answer of before is not shown meanwhile. */
  fresh?: boolean;
}

/**
 * What comes of asking something: the newest counts, however late an older one comes. What was stopped on purpose is no problem.
 *
 * @param ask null where there is nothing to ask
 * @param about what it follows from; asked again when one of these is another
 */
export function useAsked<T>(
  ask: ((signal: AbortSignal) => Promise<T>) | null,
  about: readonly unknown[],
  { wait, fresh = false }: How = {},
): Asked<T> {
  const [asked, setAsked] = useState<Asked<T>>({ value: null, problem: null, current: false });
  const latest = useRef(ask);
  latest.current = ask;
  const asks = ask !== null;
  useEffect(() => {
    setAsked((was) => ({ value: asks && !fresh ? was.value : null, problem: null, current: false }));
    if (!asks) return;
    const stop = new AbortController();
    const go = () =>
      latest.current?.(stop.signal).then(
        (value) => {
          if (!stop.signal.aborted) setAsked({ value, problem: null, current: true });
        },
        (error: Error) => {
          if (stop.signal.aborted || error.name === 'StoppedError') return;
          setAsked((was) => ({ ...was, problem: error.message }));
        },
      );
    if (wait === undefined) void go();
    else setTimeout(() => !stop.signal.aborted && void go(), wait);
    return () => stop.abort();
  }, [asks, fresh, wait, ...about]);
  return asked;
}
