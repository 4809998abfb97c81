import { call } from '~/api/call';
import { chooseSurround } from '~/api/session';
import { surroundCookie } from '~/theme/cookie';
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
    // kept at once, for a page that is loaded again before the server has answered; by the server for the browsers that
    // soon drop what a page keeps itself
    // biome-ignore lint/suspicious/noDocumentCookie: the Cookie Store API is not in every browser
    document.cookie = surroundCookie(next);
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
