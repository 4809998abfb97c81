import { call } from '~/api/call';
import { chooseSurround } from '~/api/session';
import { useSurround } from '~/theme/surround-context';
import { type Surround, surrounds } from '~/theme/tokens';
import { useOneStop } from '~/ui/one-stop';
import { PlainButton } from '~/ui/plain-button';
import css from './SurroundChoice.module.css';

/** Light, mid or dark: the neutral that colours are judged against. */
export function SurroundChoice() {
  const { surround, setSurround } = useSurround();
  const stop = useOneStop<HTMLFieldSetElement>();
  const choose = (next: Surround) => {
    setSurround(next);
    void call(chooseSurround, { body: next });
  };
  return (
    <fieldset {...stop} className={css.choice} aria-label="Surround">
      {(Object.keys(surrounds) as Surround[]).map((id) => (
        <PlainButton
          key={id}
          look="icon"
          title={surrounds[id].label}
          aria-label={surrounds[id].label}
          aria-pressed={id === surround}
          onClick={() => choose(id)}
        >
          <i style={{ background: surrounds[id].surround }} />
        </PlainButton>
      ))}
    </fieldset>
  );
}
