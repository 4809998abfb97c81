import { useMemo, useState } from 'react';
import { type Gradient, gradientsOf } from '#core/swatch/gradient';
import { useStore } from '~/state/store';
import { useLibrary } from '~/state/workspace';
import { PlainButton } from '~/ui/plain-button';
import { count } from '~/ui/swatch';
import { GradientDialog } from './GradientDialog';
import css from './GradientShelf.module.css';
import { GradientStrip } from './GradientStrip';

/** The gradients of the library, under its swatches; one is opened by a press. */
export function GradientShelf({
  opened,
  onOpen,
}: {
  opened: string | null;
  onOpen(id: string | null): void;
}) {
  const { store } = useLibrary();
  const { library } = useStore(store);
  const gradients = useMemo(() => gradientsOf(library), [library]);
  const [all, setAll] = useState(false);
  const open = gradients.find((g) => g.id === opened);
  if (gradients.length === 0) return null;
  return (
    <section className={css.shelf} aria-label="Gradients" data-all={all}>
      <div className={css.head}>
        <strong>{count(gradients.length, 'gradient')}</strong>
        {gradients.length > FEW && (
          <PlainButton look="link" onClick={() => setAll(!all)}>
            {all ? 'fewer' : 'all of them'}
          </PlainButton>
        )}
      </div>
      <div className={css.list}>
        {(all ? gradients : gradients.slice(0, FEW)).map((g) => (
          <Bar key={g.id} gradient={g} onOpen={() => onOpen(g.id)} />
        ))}
      </div>
      {open && <GradientDialog gradient={open} onClose={() => onOpen(null)} />}
    </section>
  );
}

const FEW = 6;

function Bar({ gradient, onOpen }: { gradient: Gradient; onOpen(): void }) {
  const { store } = useLibrary();
  return (
    <PlainButton className={css.bar} aria-label={`Gradient ${gradient.name}`} title="Open" onClick={onOpen}>
      <GradientStrip gradient={gradient} rows={store.rows} height={26} />
      <span className="caption cut" dir="auto">
        {gradient.name || 'Gradient without a name'}
      </span>
    </PlainButton>
  );
}
