import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import type { ReportRow } from '#core/formats/changes';
import type { FileChoice } from '#core/formats/plan';
import type { Library } from '#core/swatch/index';
import { type FoundChanges, ROWS_AT_ONCE } from '~/messages/files-messages';
import { openFilesClient } from '~/workers/clients';
import { Bringer } from '~/workers/held';
import { useClient } from '~/workers/use-client';
import { StoppedError } from '~/workers/worker-client';

/** What changes, found in a worker that holds the library; the last answer stays in sight until the next is there. */
export function useChanges(
  library: Library | null,
  choice: FileChoice,
  profiles?: Uint8Array<ArrayBuffer>[],
) {
  const files = useClient(openFilesClient);
  const bringer = useMemo(() => new Bringer(files.ask as never), [files]);
  const [found, setFound] = useState<(FoundChanges & { key: string }) | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const key = JSON.stringify(choice);
  useEffect(() => {
    if (!library) {
      setFound(null);
      return;
    }
    let live = true;
    setProblem(null);
    const ask = async () => {
      if (!(await bringer.bring(library, null, () => live))) return;
      const report = await files.ask('changes', { choice: JSON.parse(key), profiles });
      if (live) setFound({ ...report, key });
    };
    // a hand that goes down a list passes many formats on its way
    const wait = setTimeout(() => {
      ask().catch((error: Error) => live && !(error instanceof StoppedError) && setProblem(error.message));
    }, 30);
    return () => {
      live = false;
      clearTimeout(wait);
    };
  }, [library, key, files, bringer, profiles]);
  return { found, ask: files.ask, current: found?.key === key, problem };
}

/** The rows of a report, fetched a page at a time as they come into sight. */
export function useRows(found: FoundChanges, ask: ReturnType<typeof useChanges>['ask']) {
  const [pages, setPages] = useState<ReadonlyMap<number, ReportRow[]>>(new Map());
  const wanted = useRef(new Set<number>());
  const { report, rows } = found;
  // biome-ignore lint/correctness/useExhaustiveDependencies: another report has other rows
  useEffect(() => {
    wanted.current = new Set();
    setPages(new Map());
  }, [report]);
  const see = useCallback(
    (first: number, last: number) => {
      for (let page = Math.floor(first / ROWS_AT_ONCE); page * ROWS_AT_ONCE <= last; page++) {
        if (page === 0 || wanted.current.has(page)) continue;
        wanted.current.add(page);
        ask('rows', { report, from: page * ROWS_AT_ONCE }).then(
          (more) => setPages((was) => new Map(was).set(page, more)),
          // it is asked for again when it is looked at again
          () => wanted.current.delete(page),
        );
      }
    },
    [ask, report],
  );
  const rowAt = (i: number): ReportRow | undefined =>
    i < ROWS_AT_ONCE ? rows[i] : pages.get(Math.floor(i / ROWS_AT_ONCE))?.[i % ROWS_AT_ONCE];
  return { rowAt, see };
}
