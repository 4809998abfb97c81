import { X } from 'lucide-react';
import { memo, useState } from 'react';
import { toHex } from '#core/color/index';
import { familyOf, ruleOf } from '#core/harmony/index';
import type { FamilyTake } from '~/state/harmony';
import { useStore } from '~/state/store';
import { useStores } from '~/state/stores';
import { PlainButton } from '~/ui/plain-button';
import { RenameField } from '~/ui/rename-field';
import { sideBySide } from '~/ui/swatch';
import { useToast } from '~/ui/toast';
import css from './FamilyTakes.module.css';
import { areasOf, type Family } from './use-family';

const takeName = ({ name, asked }: FamilyTake): string =>
  name || `${ruleOf(asked).name}${asked.bases[0]?.name ? `, ${asked.bases[0].name}` : ''}`;

/** What was tried, one below the other, to be compared at a glance. */
export function FamilyTakes({ family }: { family: Family }) {
  const { harmony } = useStores();
  const { takes, current } = useStore(harmony);
  const toast = useToast();
  const [renaming, setRenaming] = useState<string | null>(null);
  const drop = (take: FamilyTake) => {
    const back = harmony.remove(take.id);
    toast({
      text: `The take “${takeName(take)}” is gone.`,
      action: { label: 'Undo', run: back },
      matter: {
        subscribe: harmony.subscribe,
        stands: () => !harmony.snapshot().takes.some((t) => t.id === take.id),
      },
    });
  };
  return (
    <section aria-label="Takes" className={css.takes}>
      <strong>Takes</strong>
      {takes.map((take) => (
        <div key={take.id} className={css.take} data-current={take.id === current}>
          <div className={css.head}>
            {renaming === take.id ? (
              <RenameField
                label="Name of the take"
                name={takeName(take)}
                onRename={(typed) => harmony.rename(take.id, typed.trim().slice(0, 200))}
                onDone={() => setRenaming(null)}
              />
            ) : (
              <PlainButton
                className={`${css.name} cut`}
                title="Double-click to rename"
                aria-pressed={take.id === current}
                onClick={() => harmony.choose(take.id)}
                onDoubleClick={() => setRenaming(take.id)}
                onKeyDown={(e) => {
                  if (e.key === 'F2') setRenaming(take.id);
                  if (e.key === 'Delete') drop(take);
                }}
              >
                {takeName(take)}
              </PlainButton>
            )}
            <PlainButton
              look="icon"
              className={css.drop}
              aria-label={`Delete the take ${takeName(take)}`}
              onClick={() => drop(take)}
            >
              <X size={13} />
            </PlainButton>
          </div>
          <TakeStrip take={take} family={family} onChoose={() => harmony.choose(take.id)} />
        </div>
      ))}
    </section>
  );
}

const TakeStrip = memo(
  function TakeStrip({
    take,
    family: { gamut, condition },
    onChoose,
  }: {
    take: FamilyTake;
    family: Family;
    onChoose(): void;
  }) {
    const members = familyOf(take.asked, gamut, condition);
    const areas = areasOf(take, members);
    return (
      <PlainButton className={css.strip} tabIndex={-1} aria-hidden onClick={onChoose}>
        <i
          style={{
            background: sideBySide(
              members.map((m) => toHex(m.color, condition)),
              areas,
            ),
          }}
        />
      </PlainButton>
    );
  },
  (a, b) =>
    a.take === b.take && a.family.gamut === b.family.gamut && a.family.condition === b.family.condition,
);
