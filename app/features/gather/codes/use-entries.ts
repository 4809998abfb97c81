import { useMemo } from 'react';
import { codeEntries, type CodeEntry as Entry } from '#core/color/index';
import type { CodesState, Line } from '~/state/codes';
import { useCondition } from '~/ui/condition';

export type CodeEntry = Entry<Line>;

/** What the lines of Gather › Codes give together. */
export function useEntries({ lines, answers, suggest, once }: CodesState) {
  const condition = useCondition();
  return useMemo(
    () => codeEntries(lines, { answers, suggest, once }, condition),
    [lines, answers, suggest, once, condition],
  );
}
