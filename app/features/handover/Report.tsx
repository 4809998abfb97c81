import { Notice } from '~/ui/notice';
import { Changes } from './Changes';
import css from './Report.module.css';
import type { useChanges } from './use-changes';

/** What changes on the way, as far as it is known; grey while a new answer is on its way. */
export function Report({
  found: { report, current, problem },
  why,
}: {
  found: ReturnType<typeof useChanges>;
  why?: string;
}) {
  if (problem)
    return (
      <div className={css.problem}>
        <Notice>{problem}</Notice>
      </div>
    );
  return (
    report && (
      <div className={css.report} data-stale={!current}>
        {why && <p className={`caption ${css.why}`}>{why}</p>}
        <Changes report={report} />
      </div>
    )
  );
}
