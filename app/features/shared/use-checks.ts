import { useEffect, useMemo, useRef, useState } from 'react';
import { type Chosen, checks, type Finding, type Found } from '#core/check/index';
import type { Library } from '#core/swatch/index';
import { openCheckClient } from '~/workers/clients';
import { LibrarySender } from '~/workers/held';
import { useClient } from '~/workers/use-client';
import { StoppedError } from '~/workers/worker-client';

export interface Checked {
  found: Readonly<Record<string, Found>>;
  /** What is being done, while it takes its time; null when all is reported. */
  stage: string | null;
  problem: string | null;
  /** Finds the fixes of a finding. */
  complete(check: string, finding: Finding): Promise<Finding>;
  stop(): void;
  /** It was stopped before the end. */
  stopped: boolean;
  again(): void;
}

/** A hand that fixes one after the other is faster than this, ms. */
const WAIT_MS = 60;

/** What every check finds, asked again when the library changes, and one alone when only its options do. */
export function useChecks(library: Library | null, against: Library | null, chosen: Chosen): Checked {
  const client = useClient(openCheckClient);
  const sender = useMemo(
    () =>
      new LibrarySender(
        (piece) => client.ask('hold', piece),
        (piece) => client.ask('release', piece),
      ),
    [client],
  );
  const [found, setFound] = useState<Record<string, Found>>({});
  const [stage, setStage] = useState<string | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const [stopped, setStopped] = useState(false);
  const [round, setRound] = useState(0);
  /** With which options each check of what is held was asked. */
  const asked = useRef<Record<string, string>>({});
  const key = JSON.stringify(chosen);
  const latest = useRef(chosen);
  latest.current = chosen;

  // biome-ignore lint/correctness/useExhaustiveDependencies: the key stands for what is chosen
  useEffect(() => {
    if (!library) return;
    setStopped(false);
    let live = true;
    let job: { stop(): void } | null = null;
    const wait = setTimeout(() => {
      void ask(library).catch((error: Error) => {
        if (!live) return;
        setStage(null);
        if (error instanceof StoppedError) setStopped(true);
        else setProblem(error.message);
      });
    }, WAIT_MS);
    const ask = async (library: Library) => {
      const changed = !sender.has(library, against);
      if (changed) asked.current = {};
      if (!(await sender.send(library, against, () => live))) return;
      const keys = Object.fromEntries(checks.map((c) => [c.id, JSON.stringify(latest.current[c.id] ?? {})]));
      const ids = checks.map((c) => c.id).filter((id) => changed || asked.current[id] !== keys[id]);
      if (ids.length === 0) return;
      const run = client.ask('run', { checks: ids, chosen: latest.current }, (s) => live && setStage(s));
      job = run;
      const list = await run;
      if (!live) return;
      asked.current = keys;
      setFound((was) => ({ ...was, ...Object.fromEntries(list) }));
      setProblem(null);
      setStage(null);
    };
    return () => {
      live = false;
      clearTimeout(wait);
      job?.stop();
    };
  }, [library, against, key, round]);

  const calls = useMemo(
    () => ({
      complete: (check: string, finding: Finding) =>
        client.ask('complete', { check, chosen: latest.current, finding }),
      stop: () => client.stop(),
      again: () => setRound((n) => n + 1),
    }),
    [client],
  );
  return { found, stage, problem, stopped, ...calls };
}
