import { memo } from 'react';
import { toHex } from '#core/color/index';
import { familyOf, ruleOf } from '#core/harmony/index';
import type { FamilyTake } from '~/state/harmony';
import { useStore } from '~/state/store';
import { useStores } from '~/state/stores';
import { useOneStop } from '~/ui/one-stop';
import { TakeRow } from '~/ui/take-row';
import { useToast } from '~/ui/toast';
import css from './FamilyTakes.module.css';
import { areasOf, type Family } from './use-family';

const takeName = ({ name, asked }: FamilyTake): string =>
  name || `${ruleOf(asked).name}${asked.bases[0]?.name ? `, ${asked.bases[0].name}` : ''}`;

/** What was tried, one below the other, to be compared at a glance. */
export function FamilyTakes({ family: { gamut, condition } }: { family: Family }) {
  const { harmony } = useStores();
  const { takes, current } = useStore(harmony);
  const stop = useOneStop<HTMLElement>('[aria-pressed]');
  return (
    <section {...stop} aria-label="Takes" className={css.takes}>
      <strong>Takes</strong>
      {takes.map((take) => (
        <One key={take.id} take={take} current={take.id === current} gamut={gamut} condition={condition} />
      ))}
    </section>
  );
}

/** Redrawn only when it is another: there may be two hundred. */
const One = memo(function One({
  take,
  current,
  gamut,
  condition,
}: {
  take: FamilyTake;
  current: boolean;
} & Pick<Family, 'gamut' | 'condition'>) {
  const { harmony } = useStores();
  const toast = useToast();
  const members = familyOf(take.asked, gamut, condition);
  const drop = () => {
    const back = harmony.remove(take.id);
    toast({
      text: `The take “${takeName(take)}” was deleted.`,
      action: { label: 'Undo', run: back },
      matter: {
        subscribe: harmony.subscribe,
        stands: () => !harmony.snapshot().takes.some((t) => t.id === take.id),
      },
    });
  };
  return (
    <TakeRow
      name={takeName(take)}
      colors={members.map((m) => toHex(m.color, condition))}
      areas={areasOf(take, members)}
      current={current}
      onChoose={() => harmony.choose(take.id)}
      onRename={(name) => harmony.rename(take.id, name)}
      onDrop={drop}
    />
  );
});
