import { useCondition } from '~/ui/condition';
import { Notice } from '~/ui/notice';
import { Changes } from './Changes';
import css from './Report.module.css';
import type { useChanges } from './use-changes';

/** What changes, as far as it is known; grey while a new answer is on its way. */
export function Report({
  found: { report, current, problem },
  why,
}: {
  found: ReturnType<typeof useChanges>;
  why?: string;
}) {
  const condition = useCondition();
  // where no ink comes or goes, no press has a say
  const inks = report?.arrivals.some(
    ({ swatch, there }) => there && (swatch.color.space === 'cmyk') !== (there.color.space === 'cmyk'),
  );
  if (problem)
    return (
      <div className={css.problem}>
        <Notice>{problem}</Notice>
      </div>
    );
  return (
    report && (
      <div className={css.report} data-stale={!current}>
        <p className={`caption ${css.why}`}>
          {why} {inks && `Inks become other colours, and others inks, through ${condition.name}.`}
        </p>
        <Changes report={report} />
      </div>
    )
  );
}
