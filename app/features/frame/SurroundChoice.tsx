import { postJson } from '~/state/post';
import { useSurround } from '~/theme/surround-context';
import { type Surround, surrounds } from '~/theme/surrounds';

/** Light, mid or dark: the neutral that colours are judged against. */
export function SurroundChoice() {
  const { surround, setSurround } = useSurround();
  const choose = (next: Surround) => {
    setSurround(next);
    void postJson('/surround', next);
  };
  return (
    <fieldset
      className="surround-choice"
      style={{ border: 0, padding: 0, margin: '0 4px' }}
      aria-label="Surround"
    >
      {(Object.keys(surrounds) as Surround[]).map((id) => (
        <button
          key={id}
          type="button"
          title={surrounds[id].label}
          aria-label={surrounds[id].label}
          aria-pressed={id === surround}
          style={{ background: surrounds[id].surround }}
          onClick={() => choose(id)}
        />
      ))}
    </fieldset>
  );
}
