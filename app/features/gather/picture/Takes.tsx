import { Plus } from 'lucide-react';
import { memo } from 'react';
import { screenOnly, toHex } from '#core/color/index';
import type { Take } from '#core/picture/index';
import type { Board, PictureStore } from '~/state/picture-store';
import { useOneStop } from '~/ui/one-stop';
import { PlainButton } from '~/ui/plain-button';
import { count } from '~/ui/swatch';
import { TakeRow } from '~/ui/take-row';
import { useToast } from '~/ui/toast';
import css from './Takes.module.css';
import type { TakeState } from './use-take';

/** What a take is called before the user gives it a name. */
export function takeName({ name, recipe, colors }: Take): string {
  if (name) return name;
  const n = count(colors.length, 'colour');
  if (recipe.method === 'exact') return `Exact, ${n}`;
  if (recipe.method === 'chart') return `Chart, ${n}`;
  if (recipe.method === 'point') return count(colors.length, 'point');
  return n;
}

/** All takes of a picture, one below the other, so that they can be compared at a glance. */
export const Takes = memo(function Takes({
  store,
  source,
  board,
  state,
}: {
  store: PictureStore;
  source: string;
  board: Board;
  /** What the take that is worked on shows at this moment. */
  state: TakeState | null;
}) {
  const toast = useToast();
  const stop = useOneStop<HTMLElement>('[aria-pressed]');
  const drop = (take: Take) => {
    const back = store.removeTake(source, take.id);
    toast({
      text: `The take “${takeName(take)}” was deleted.`,
      action: { label: 'Undo', run: back },
      matter: {
        subscribe: store.subscribe,
        // past when it is back, or its picture closed
        stands: () => {
          const takes = store.snapshot().boards[source]?.takes;
          return !!takes && !takes.some((t) => t.id === take.id);
        },
      },
    });
  };
  return (
    <section {...stop} aria-label="Takes" className={css.takes}>
      {board.takes.map((kept) => {
        const live = kept.id === state?.take.id && state.board === source;
        const take = live ? { ...kept, colors: state.colors, mean: state.fit?.mean ?? kept.mean } : kept;
        return (
          <TakeRow
            key={take.id}
            name={takeName(take)}
            colors={take.colors.map((c) => toHex(c.color, screenOnly))}
            says={take.mean === null ? '' : `ΔE00 ${take.mean.toFixed(1)}`}
            current={take.id === board.current}
            onChoose={() => store.chooseTake(source, take.id)}
            onRename={(name) => store.renameTake(source, take.id, name)}
            onDrop={board.takes.length > 1 ? () => drop(take) : undefined}
          />
        );
      })}
      <PlainButton look="tab" className={css.add} onClick={() => store.addTake(source)}>
        <Plus size={13} aria-hidden /> New take
      </PlainButton>
    </section>
  );
});
