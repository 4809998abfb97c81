import { type Surround, surrounds } from '~/theme/tokens';
import { useOneStop } from '~/ui/one-stop';
import { PlainButton } from '~/ui/plain-button';
import css from './SurroundChoice.module.css';

/** Light, mid or dark: the neutral that colours are judged against. */
export function SurroundSwitch({
  surround,
  onChoose,
}: {
  surround: Surround;
  onChoose(next: Surround): void;
}) {
  const stop = useOneStop<HTMLFieldSetElement>();
  return (
    <fieldset {...stop} className={css.choice} aria-label="Surround">
      {(Object.keys(surrounds) as Surround[]).map((id) => (
        <PlainButton
          key={id}
          look="icon"
          title={surrounds[id].label}
          aria-label={surrounds[id].label}
          aria-pressed={id === surround}
          onClick={() => onChoose(id)}
        >
          <i style={{ background: surrounds[id].surround }} />
        </PlainButton>
      ))}
    </fieldset>
  );
}
