import { useEffect, useState } from 'react';
import { type Chosen, checks } from '#core/check/index';
import { countSwatches, type Library } from '#core/swatch/index';
import { isTunable, type Tuned } from '#core/tune/index';
import { useChecks } from '~/features/shared/use-checks';

/** So long the hand has to rest before the checks look again, ms. */
const REST_MS = 400;
/** To give a worker more would hold the hand up. */
const MAX_CHECKED = 20_000;
const AS_USUAL: Chosen = {};

/** The library as it would be. */
const withTuned = (library: Library, tunedOf: (id: string) => Tuned | undefined): Library => ({
  ...library,
  groups: library.groups.map((group) =>
    group.swatches.some((s) => isTunable(s) && tunedOf(s.id))
      ? {
          ...group,
          swatches: group.swatches.map((s) => {
            const color = tunedOf(s.id)?.color;
            return color ? { ...s, color } : s;
          }),
        }
      : group,
  ),
});

/** What the checks would find more or less of, once the hand rests: “Look-alikes 2 → 0”. */
export function useCheckChanges(
  library: Library,
  tuned: readonly Tuned[],
  tunedOf: (id: string) => Tuned | undefined,
  isChanged: boolean,
): string[] {
  const [next, setNext] = useState<{ of: readonly Tuned[]; library: Library } | null>(null);
  // biome-ignore lint/correctness/useExhaustiveDependencies: what they would be changes with what is tuned
  useEffect(() => {
    if (!isChanged || countSwatches(library) > MAX_CHECKED) return;
    const wait = setTimeout(() => setNext({ of: tuned, library: withTuned(library, tunedOf) }), REST_MS);
    return () => clearTimeout(wait);
  }, [library, tuned, isChanged]);
  const wanted = isChanged && next !== null;
  const before = useChecks(wanted ? library : null, null, AS_USUAL).found;
  const { found: after, stage } = useChecks(wanted ? next.library : null, null, AS_USUAL);
  // figures of an earlier moment would say something else
  if (!wanted || next.of !== tuned || stage !== null) return [];
  return checks.flatMap(({ id, title, needs }) => {
    const [was, is] = [before[id]?.total, after[id]?.total];
    return needs || was === undefined || is === undefined || was === is ? [] : `${title} ${was} → ${is}`;
  });
}
