import { useEffect, useRef, useState } from 'react';

export interface Asked<T> {
  /** The last answer; null before the first one, and while the next one is pending if `fresh`. */
  value: T | null;
  /** Why the current question has no answer. */
  problem: string | null;
  /** The value answers the current question. */
  current: boolean;
}

interface How {
  /** Debounce, ms: keys held down in a list pass many entries. */
  wait?: number;
  /** Clears the previous answer as soon as the question changes. */
  fresh?: boolean;
}

/**
 * The answer to an asynchronous question; the newest question counts, however late an older answer arrives. Jobs that were
 * stopped report no problem.
 *
 * @param ask null to ask nothing
 * @param about dependencies; the question is asked again when one of them changes
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
