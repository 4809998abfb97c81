import Button from '@mui/material/Button';
import { useState } from 'react';
import type { OpenBook } from '~/state/books';
import { useStores } from '~/state/stores';
import { PlainButton } from '~/ui/plain-button';
import { Choices } from '~/ui/setting';
import { count } from '~/ui/swatch';
import { Tick } from '~/ui/tick';
import { onHex } from './on-hex';
import css from './Sets.module.css';
import { useTake } from './use-take';

/** Small sets that belong together, as wide bands to be compared; several are taken in one step. */
export function Sets({ book }: { book: OpenBook }) {
  const { books } = useStores();
  const take = useTake();
  const [by, setBy] = useState('');
  const [chosen, setChosen] = useState<readonly string[]>([]);
  const kinds = [...new Set(book.sets.map((s) => s.by).filter(Boolean))];
  const shown = book.sets.filter((s) => by === '' || s.by === by);
  const wanted = book.sets.filter((s) => chosen.includes(s.id));
  const { hex, code, name } = book.swatches;
  return (
    <>
      <div className={css.head}>
        <Choices aria-label="Sets by">
          {['', ...kinds].map((k) => (
            <PlainButton look="tab" key={k} aria-pressed={by === k} onClick={() => setBy(k)}>
              {k === '' ? 'all' : `by ${k}`}
            </PlainButton>
          ))}
        </Choices>
        <Button
          variant="contained"
          disabled={wanted.length === 0}
          onClick={() => {
            // a number in two sets is in both
            void take(
              book,
              wanted.map((s) => ({ name: s.name, ids: s.refs })),
            );
            setChosen([]);
          }}
        >
          {chosen.length > 0 ? `Take ${count(chosen.length, 'set')}` : 'Take sets'}
        </Button>
      </div>
      <div className={css.sets}>
        {shown.map((set) => {
          const places = set.refs.flatMap((ref) => book.placeOf.get(ref) ?? []);
          const on = chosen.includes(set.id);
          return (
            <section key={set.id} className={css.set} aria-label={set.name} data-chosen={on}>
              <div className={css.words}>
                <Tick
                  checked={on}
                  onChange={(yes) =>
                    setChosen(yes ? [...chosen, set.id] : chosen.filter((c) => c !== set.id))
                  }
                  label={set.name}
                />
                <p className="caption">{set.says}</p>
              </div>
              <div className={css.band}>
                {places.map((place) => (
                  <PlainButton
                    key={place}
                    style={{ background: hex[place], color: onHex(hex[place]!) }}
                    title={`${name[place]} · open its leaf`}
                    aria-label={`${name[place]}, open its leaf`}
                    onClick={() => {
                      books.show('leaf');
                      books.choose(book, place);
                    }}
                  >
                    {code[place] || name[place]}
                  </PlainButton>
                ))}
              </div>
            </section>
          );
        })}
      </div>
    </>
  );
}
