import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import type { ReportRow } from '#core/formats/changes';
import type { FileChoice } from '#core/formats/plan';
import type { Library } from '#core/swatch/index';
import { type FoundChanges, ROWS_AT_ONCE } from '~/messages/files-messages';
import { openFilesClient } from '~/workers/clients';
import { LibrarySender } from '~/workers/held';
import { useClient } from '~/workers/use-client';
import { StoppedError } from '~/workers/worker-client';

/** A report with what it answers. */
export interface ShownChanges extends FoundChanges {
  library: Library;
  key: string;
}

/** What changes, found in a worker that holds the library; the last answer stays in sight until the next is there. */
export function useChanges(
  library: Library | null,
  choice: FileChoice,
  profiles?: Uint8Array<ArrayBuffer>[],
) {
  const files = useClient(openFilesClient);
  const sender = useMemo(
    () =>
      new LibrarySender(
        (piece) => files.ask('hold', piece),
        (piece) => files.ask('release', piece),
      ),
    [files],
  );
  const [round, setRound] = useState(0);
  const [found, setFound] = useState<ShownChanges | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const key = JSON.stringify(choice);
  // biome-ignore lint/correctness/useExhaustiveDependencies: each round asks again
  useEffect(() => {
    if (!library) {
      setFound(null);
      return;
    }
    let live = true;
    setProblem(null);
    const ask = async () => {
      if (!(await sender.send(library, null, () => live))) return;
      const report = await files.ask('changes', { choice: JSON.parse(key), profiles });
      if (live) setFound({ ...report, key, library });
    };
    // a hand that goes down a list passes many formats on its way
    const wait = setTimeout(() => {
      ask().catch((error: Error) => live && !(error instanceof StoppedError) && setProblem(error.message));
    }, 30);
    return () => {
      live = false;
      clearTimeout(wait);
    };
  }, [library, key, files, sender, profiles, round]);
  const again = useCallback(() => setRound((n) => n + 1), []);
  return { found, ask: files.ask, again, current: found?.key === key, problem };
}

/** The rows of a report, fetched a page at a time as they come into sight. */
export function useRows(
  { report, rows }: FoundChanges,
  { ask, again }: Pick<ReturnType<typeof useChanges>, 'ask' | 'again'>,
) {
  const [fetched, setFetched] = useState<{ report: string; pages: ReadonlyMap<number, ReportRow[]> }>({
    report,
    pages: new Map(),
  });
  const wanted = useRef({ report, pages: new Set<number>() });
  if (wanted.current.report !== report) wanted.current = { report, pages: new Set() };
  const see = useCallback(
    (first: number, last: number) => {
      const { pages } = wanted.current;
      for (let page = Math.floor(first / ROWS_AT_ONCE); page * ROWS_AT_ONCE <= last; page++) {
        if (page === 0 || pages.has(page)) continue;
        pages.add(page);
        ask('rows', { report, from: page * ROWS_AT_ONCE }).then(
          (more) => {
            // the worker was replaced: the report is made again
            if (!more) again();
            else
              setFetched((was) => ({
                report,
                pages: new Map(was.report === report ? was.pages : []).set(page, more),
              }));
          },
          // it is asked for again when it is looked at again
          () => pages.delete(page),
        );
      }
    },
    [ask, again, report],
  );
  const rowAt = (i: number): ReportRow | undefined => {
    const page = Math.floor(i / ROWS_AT_ONCE);
    if (page === 0) return rows[i];
    return fetched.report === report ? fetched.pages.get(page)?.[i % ROWS_AT_ONCE] : undefined;
  };
  return { rowAt, see };
}
