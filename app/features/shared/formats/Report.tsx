import { useCondition } from '~/ui/condition';
import { Notice } from '~/ui/notice';
import { Changes } from './Changes';
import css from './Report.module.css';
import type { useChanges } from './use-changes';

/** What changes, as far as it is known; grey while a new answer is on its way. */
export function Report({ found: changes, why }: { found: ReturnType<typeof useChanges>; why?: string }) {
  const condition = useCondition();
  const { found, current, problem } = changes;
  if (problem)
    return (
      <div className={css.problem}>
        <Notice>{problem}</Notice>
      </div>
    );
  return (
    found && (
      <div className={css.report} data-stale={!current}>
        <p className={`caption ${css.why}`}>
          {why} {/* where no ink comes or goes, no press has a say */}
          {found.head.inks && `Inks become other colours, and others inks, through ${condition.name}.`}
        </p>
        <Changes found={found} changes={changes} />
      </div>
    )
  );
}
