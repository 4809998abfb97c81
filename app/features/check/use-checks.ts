import { useEffect, useMemo, useRef, useState } from 'react';
import { type Chosen, checks, type Finding, type Found } from '#core/check/index';
import type { Library } from '#core/swatch/index';
import { piecesOf } from '~/messages/check-messages';
import { type CheckClient, openCheckClient } from '~/workers/clients';
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

interface Asked {
  library: Library | null;
  against: Library | null;
  keys: Record<string, string>;
  /** How many pieces it came in. */
  pieces: number;
}
const NOTHING: Asked = { library: null, against: null, keys: {}, pieces: 0 };

/** A hand that fixes one after the other is faster than this, ms. */
const WAIT_MS = 60;

/** What every check finds, asked again when the library changes, and one alone when only its options do. */
export function useChecks(library: Library | null, against: Library | null, chosen: Chosen): Checked {
  const client = useRef<CheckClient | null>(null);
  const [found, setFound] = useState<Record<string, Found>>({});
  const [stage, setStage] = useState<string | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const [stopped, setStopped] = useState(false);
  const [round, setRound] = useState(0);
  /** What the worker holds, and what it was asked with. */
  const asked = useRef(NOTHING);
  const key = JSON.stringify(chosen);
  const latest = useRef(chosen);
  latest.current = chosen;

  useEffect(
    () => () => {
      client.current?.close();
      client.current = null;
      asked.current = NOTHING;
    },
    [],
  );

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
      client.current ??= openCheckClient();
      const { current } = client;
      const changed = asked.current.library !== library || asked.current.against !== against;
      if (changed) {
        asked.current = { library: null, against: null, keys: {}, pieces: asked.current.pieces };
        let pieces = 0;
        for (const piece of piecesOf(library, against)) {
          await current.ask('hold', piece);
          pieces++;
          // what comes in only in part is known, too
          asked.current.pieces = Math.max(asked.current.pieces, pieces);
          if (!live) return;
        }
        for (let at = pieces; at < asked.current.pieces; at++) void current.ask('release', { at });
        asked.current.pieces = pieces;
      }
      const keys = Object.fromEntries(checks.map((c) => [c.id, JSON.stringify(latest.current[c.id] ?? {})]));
      const ids = checks.map((c) => c.id).filter((id) => changed || asked.current.keys[id] !== keys[id]);
      if (ids.length === 0) return;
      const run = current.ask('run', { checks: ids, chosen: latest.current }, (s) => live && setStage(s));
      job = run;
      const list = await run;
      if (!live) return;
      asked.current = { library, against, keys, pieces: asked.current.pieces };
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
      complete: async (check: string, finding: Finding) =>
        client.current?.ask('complete', { check, chosen: latest.current, finding }) ?? finding,
      stop: () => client.current?.stopAll(),
      again: () => setRound((n) => n + 1),
    }),
    [],
  );
  return { found, stage, problem, stopped, ...calls };
}
