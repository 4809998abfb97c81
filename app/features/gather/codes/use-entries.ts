import { useMemo } from 'react';
import { codeEntries, type CodeEntry as Entry } from '#core/color/index';
import type { CodesState, Line } from '~/state/codes';

export type CodeEntry = Entry<Line>;

/** What the lines of Gather › Codes give together. */
export const useEntries = ({ lines, answers, suggest, once }: CodesState) =>
  useMemo(() => codeEntries(lines, { answers, suggest, once }), [lines, answers, suggest, once]);
