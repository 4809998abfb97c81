import type { ReactNode } from 'react';
import { useConditionFor } from '~/state/use-condition-for';
import { ConditionContext } from '~/ui/condition';
import { Notice } from '~/ui/notice';
import { useFilesWait } from '../open/OpenFiles';

/** Gives a screen without a library the usual print condition; nothing coloured is shown before it is here. */
export function UsualCondition({ children }: { children: ReactNode }) {
  const { condition, problem } = useConditionFor();
  useFilesWait(!condition && !problem);
  if (problem) return <Notice>{problem}</Notice>;
  return condition && <ConditionContext value={condition}>{children}</ConditionContext>;
}
