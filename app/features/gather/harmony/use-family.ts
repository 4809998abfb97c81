import { useMemo } from 'react';
import { type Condition, screenOnly, usualInkLimit } from '#core/color/index';
import {
  CIRCLES,
  type CircleId,
  DISPLAY_P3,
  familyOf,
  type Gamut,
  type Member,
  SRGB,
  usualAreas,
} from '#core/harmony/index';
import { usePressGamut } from '~/features/shared/use-press-gamut';
import type { FamilyTake, Inside } from '~/state/harmony';
import { useStore } from '~/state/store';
import { useStores } from '~/state/stores';
import { useCondition } from '~/ui/condition';
import { useAsked } from '~/ui/use-asked';

/** What stands for the library's own press in a take. */
export const OWN_PRESS: Inside = 'press';

/** The condition of a profile that is not the library's own. */
function useOther(profile: string | null): Condition | null {
  const { colors } = useStores();
  const ask = profile
    ? () => colors.condition({ profile, intent: 'relative', inkLimit: usualInkLimit(profile) })
    : null;
  return useAsked(ask, [colors, profile], { fresh: true }).value;
}

export interface Family {
  take: FamilyTake;
  members: Member[];
  /** The same in every arrangement of hues. */
  beside: { circle: CircleId; members: Member[] }[];
  /** Of each member, parts of 1 that add up to it. */
  areas: number[];
  /** What members are kept inside; sRGB until a press is ready. */
  gamut: Gamut;
  /** The press that is drawn as a line. */
  press: Gamut | null;
  /** The gamut that is asked for is not ready yet. */
  waiting: boolean;
  condition: Condition;
}

/** The take that is worked on with its members as they are now; null where there is none. */
export function useFamily(): Family | null {
  const { harmony } = useStores();
  const { takes, current } = useStore(harmony);
  const take = takes.find((t) => t.id === current) ?? null;
  const condition = useCondition();
  const inside = take?.inside ?? 'rgb';
  const own = usePressGamut(condition);
  const profile = ['rgb', 'p3', OWN_PRESS].includes(inside) ? null : inside;
  const other = usePressGamut(useOther(profile));
  const wanted = inside === 'rgb' ? SRGB : inside === 'p3' ? DISPLAY_P3 : inside === OWN_PRESS ? own : other;
  const gamut = wanted ?? SRGB;
  const asked = take?.asked;
  const beside = useMemo(
    () =>
      asked && condition !== screenOnly
        ? CIRCLES.map((circle) => ({ circle, members: familyOf({ ...asked, circle }, gamut, condition) }))
        : null,
    [asked, gamut, condition],
  );
  if (!take || !beside) return null;
  const { members } = beside.find((b) => b.circle === take.asked.circle)!;
  const press = profile ? other : own;
  return { take, members, beside, areas: areasOf(take, members), gamut, press, waiting: !wanted, condition };
}

/** How large members lie side by side: what was set, and the usual of the others. */
export function areasOf({ areas }: FamilyTake, members: readonly Member[]): number[] {
  const usual = usualAreas(members.length);
  const rough = members.map((m, i) => areas[m.key] ?? usual[i]!);
  const sum = rough.reduce((a, b) => a + b, 0) || 1;
  return rough.map((v) => v / sum);
}

/** What a member is called in a sentence. */
export const memberName = (member: Member, take: FamilyTake): string => {
  const base = take.asked.bases[member.base];
  return member.isBase && base?.name ? base.name : member.role;
};
