import { call } from '~/api/call';
import { chooseSurround } from '~/api/session';
import { surroundCookie } from '~/theme/cookie';
import { useSurround } from '~/theme/surround-context';
import type { Surround } from '~/theme/tokens';
import { SurroundSwitch } from './SurroundSwitch';

/** The surround of the application, kept for its next pages. */
export function SurroundChoice() {
  const { surround, setSurround } = useSurround();
  const choose = (next: Surround) => {
    setSurround(next);
    // kept at once, for a page that is loaded again before the server has answered; by the server for the browsers that
    // soon drop what a page keeps itself
    // biome-ignore lint/suspicious/noDocumentCookie: the Cookie Store API is not in every browser
    document.cookie = surroundCookie(next);
    void call(chooseSurround, { body: next });
  };
  return <SurroundSwitch surround={surround} onChoose={choose} />;
}
