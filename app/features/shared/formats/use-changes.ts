import { useEffect, useState } from 'react';
import type { ChangeReport } from '#core/formats/changes';
import type { FileChoice } from '#core/formats/plan';
import type { Library } from '#core/swatch/index';
import { openFilesClient } from '~/workers/clients';
import { useClient } from '~/workers/use-client';
import { StoppedError } from '~/workers/worker-client';

/** What changes, found in a worker; the last answer stays in sight until the next is there. */
export function useChanges(
  library: Library | null,
  choice: FileChoice,
  profiles?: Uint8Array<ArrayBuffer>[],
) {
  const files = useClient(openFilesClient);
  const [found, setFound] = useState<{ report: ChangeReport; key: string } | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const key = JSON.stringify(choice);
  useEffect(() => {
    if (!library) {
      setFound(null);
      return;
    }
    let live = true;
    setProblem(null);
    // a hand that goes down a list passes many formats on its way
    const wait = setTimeout(() => {
      files
        .ask('changes', { library, choice: JSON.parse(key), profiles })
        .then((report) => live && setFound({ report, key }))
        .catch((error: Error) => live && !(error instanceof StoppedError) && setProblem(error.message));
    }, 30);
    return () => {
      live = false;
      clearTimeout(wait);
    };
  }, [library, key, files, profiles]);
  return { report: found?.report ?? null, current: found?.key === key, problem };
}
