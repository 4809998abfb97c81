import { useLibrary } from '~/state/workspace';
import { Threads } from './Threads';
import { shownTalk, useCommenting, useThreads } from './use-commenting';

/** The comments on something in the open library. */
export function Comments({ on, name }: { on: string; name: string }) {
  const { store } = useLibrary();
  const threads = useThreads(store);
  const commenting = useCommenting(store);
  return (
    <Threads
      on={on}
      name={name}
      threads={(threads.get(on) ?? []).map(shownTalk)}
      commenting={commenting(on)}
    />
  );
}
