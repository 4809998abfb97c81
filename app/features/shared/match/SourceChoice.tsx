import Popover from '@mui/material/Popover';
import { useEffect, useMemo, useState } from 'react';
import { STEPS_BOOK } from '#core/books/processing-steps';
import { useStore } from '~/state/store';
import { useStores } from '~/state/stores';
import { PlainButton } from '~/ui/plain-button';
import { count } from '~/ui/swatch';
import { Tick } from '~/ui/tick';
import css from './SourceChoice.module.css';

export interface SourceName {
  id: string;
  name: string;
  book: boolean;
  swatchCount: number;
  substrate: string;
}

/** Every book and library there is to look in, and which are chosen: all books of inks, until something else is. */
export function useSources(without?: string): {
  /** It is known which there are. */
  ready: boolean;
  /** Why it is not. */
  problem: string | null;
  again(): void;
  all: SourceName[];
  chosen: string[];
  choose(ids: string[]): void;
} {
  const stores = useStores();
  const { list, lookIn } = useStore(stores.books);
  const [libraries, setLibraries] = useState<{ id: string; name: string; swatchCount: number }[] | null>(
    null,
  );
  const [away, setAway] = useState(false);
  const [round, setRound] = useState(0);
  // biome-ignore lint/correctness/useExhaustiveDependencies: each round asks again
  useEffect(() => {
    let live = true;
    setAway(false);
    void Promise.all([stores.books.load(), stores.listLibraries()]).then(([, found]) => {
      if (!live) return;
      if (found) setLibraries(found);
      setAway(!found || !stores.books.snapshot().list);
    });
    return () => {
      live = false;
    };
  }, [stores, round]);
  return useMemo(() => {
    const all = [
      ...(list ?? []).map((b) => ({ ...b, book: true, substrate: b.facts.substrate ?? '' })),
      ...(libraries ?? []).map((l) => ({ ...l, book: false, substrate: '' })),
    ].filter((s) => s.id !== without);
    const usual = all.filter((s) => s.book && s.id !== STEPS_BOOK).map((s) => s.id);
    const chosen = lookIn?.filter((id) => all.some((s) => s.id === id)) ?? usual;
    const ready = list !== null && libraries !== null;
    return {
      ready,
      problem: away && !ready ? 'The server does not answer.' : null,
      again: () => setRound((n) => n + 1),
      all,
      chosen,
      choose: (ids: string[]) => stores.books.lookIn(ids),
    };
  }, [list, libraries, lookIn, stores, without, away]);
}

/** Says where is looked, and lets others be chosen. */
export function SourceChoice({
  sources: { all, chosen, choose },
}: {
  sources: ReturnType<typeof useSources>;
}) {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const names = all.filter((s) => chosen.includes(s.id)).map((s) => s.name);
  const said =
    names.length === 0
      ? 'nowhere yet'
      : names.length === 1
        ? names[0]!
        : `${names[0]} and ${names.length - 1} more`;
  return (
    <>
      <PlainButton
        className={css.said}
        aria-haspopup="dialog"
        aria-expanded={!!anchor}
        title={names.join(', ')}
        onClick={(e) => setAnchor(e.currentTarget)}
      >
        <span className="second">in</span> <span className="cut">{said}</span>
      </PlainButton>
      <Popover
        open={!!anchor}
        anchorEl={anchor}
        onClose={() => setAnchor(null)}
        anchorOrigin={{ vertical: 'bottom', horizontal: 'left' }}
      >
        <div className={css.list} role="dialog" aria-label="Where to look">
          {[true, false].map((book) => {
            const some = all.filter((s) => s.book === book);
            if (some.length === 0) return null;
            return (
              <section key={String(book)} aria-label={book ? 'Books' : 'Libraries'}>
                <h3 className="caption">{book ? 'Books' : 'Libraries'}</h3>
                {some.map((s) => (
                  <p key={s.id}>
                    <Tick
                      checked={chosen.includes(s.id)}
                      onChange={(on) => choose(on ? [...chosen, s.id] : chosen.filter((c) => c !== s.id))}
                      label={s.name}
                    />
                    <span className="caption">{count(s.swatchCount, 'swatch', 'swatches')}</span>
                  </p>
                ))}
              </section>
            );
          })}
        </div>
      </Popover>
    </>
  );
}
