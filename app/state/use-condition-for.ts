import { useEffect, useState } from 'react';
import { type Condition, type ConditionSetting, conditionOf } from '#core/color/index';
import { useStores } from './stores';

/** A condition at work for a screen without a library of its own; null until it is fetched, and why it is not available. */
export function useConditionFor(setting: ConditionSetting = conditionOf({})): {
  condition: Condition | null;
  problem: string | null;
} {
  const { colors } = useStores();
  const [condition, setCondition] = useState<Condition | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const { profile, intent, inkLimit } = setting;
  useEffect(() => {
    let wanted = true;
    colors.condition({ profile, intent, inkLimit }).then(
      (found) => wanted && setCondition(found),
      (error) => wanted && setProblem((error as Error).message),
    );
    return () => {
      wanted = false;
    };
  }, [colors, profile, intent, inkLimit]);
  return { condition, problem };
}
