import { useEffect, useMemo, useRef, useState } from 'react';
import { type Chosen, checks, type Finding, type Found } from '#core/check/index';
import type { Library } from '#core/swatch/index';
import { type CheckClient, openCheckClient } from '~/workers/check-client';
import { StoppedError } from '~/workers/worker-client';

export interface Checked {
  found: Readonly<Record<string, Found>>;
  /** What is being done, while it takes its time; null when all is said. */
  stage: string | null;
  problem: string | null;
  /** Finds the mends of a finding. */
  complete(check: string, finding: Finding): Promise<Finding>;
  stop(): void;
}

/** A hand that mends one after the other is faster than this, ms. */
const WAIT_MS = 60;

/** What every check finds, asked again when the library changes, and one alone when only its options do. */
export function useChecks(library: Library | null, against: Library | null, chosen: Chosen): Checked {
  const client = useRef<CheckClient | null>(null);
  const [found, setFound] = useState<Record<string, Found>>({});
  const [stage, setStage] = useState<string | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const asked = useRef<{ library: Library | null; against: Library | null; keys: Record<string, string> }>({
    library: null,
    against: null,
    keys: {},
  });
  const key = JSON.stringify(chosen);
  const latest = useRef(chosen);
  latest.current = chosen;

  useEffect(
    () => () => {
      client.current?.close();
      client.current = null;
      asked.current = { library: null, against: null, keys: {} };
    },
    [],
  );

  // biome-ignore lint/correctness/useExhaustiveDependencies: the key stands for what is chosen
  useEffect(() => {
    if (!library) return;
    let live = true;
    let job: { stop(): void } | null = null;
    const wait = setTimeout(() => {
      client.current ??= openCheckClient();
      const { current } = client;
      const anew = asked.current.library !== library || asked.current.against !== against;
      if (anew) void current.ask('hold', { library, against }).catch(() => undefined);
      const keys = Object.fromEntries(checks.map((c) => [c.id, JSON.stringify(latest.current[c.id] ?? {})]));
      const ids = checks.map((c) => c.id).filter((id) => anew || asked.current.keys[id] !== keys[id]);
      if (ids.length === 0) return;
      const run = current.ask('run', { checks: ids, chosen: latest.current }, (s) => live && setStage(s));
      job = run;
      run.then(
        (list) => {
          if (!live) return;
          asked.current = { library, against, keys };
          setFound((was) => ({ ...was, ...Object.fromEntries(list) }));
          setProblem(null);
          setStage(null);
        },
        (error: Error) => {
          if (!live) return;
          setStage(null);
          if (!(error instanceof StoppedError)) setProblem(error.message);
        },
      );
    }, WAIT_MS);
    return () => {
      live = false;
      clearTimeout(wait);
      job?.stop();
    };
  }, [library, against, key]);

  const calls = useMemo(
    () => ({
      complete: async (check: string, finding: Finding) =>
        client.current?.ask('complete', { check, chosen: latest.current, finding }) ?? finding,
      stop: () => {
        client.current?.stopAll();
        setStage(null);
      },
    }),
    [],
  );
  return { found, stage, problem, ...calls };
}
