import { createContext, useContext } from 'react';
import { type Condition, screenOnly } from '#core/color/index';

/** What the colours of a screen are printed under. */
export const ConditionContext = createContext<Condition>(screenOnly);

/** The condition under which the colours around are shown. */
export const useCondition = (): Condition => useContext(ConditionContext);
