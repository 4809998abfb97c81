import Button from '@mui/material/Button';
import { useState } from 'react';
import { Link, useRevalidator } from 'react-router';
import type { ListedBook } from '#server/books';
import type { Band } from '#server/schema';
import { useOpenFiles } from '~/features/shared/open/OpenFiles';
import { useStores } from '~/state/stores';
import line from '~/ui/band-row.module.css';
import { Stage } from '~/ui/Frame';
import { count, sideBySide } from '~/ui/swatch';
import { useToast } from '~/ui/toast';
import css from './Books.module.css';

/** Every book there is, and the ways to more. */
export function Books({ books: list, away }: { books: (ListedBook & { band: Band })[]; away: ListedBook[] }) {
  const { books } = useStores();
  const openFiles = useOpenFiles();
  const toast = useToast();
  const { revalidate } = useRevalidator();
  const [busy, setBusy] = useState(false);
  const restore = async (book: string) => {
    try {
      await books.make({ intent: 'restore', book });
      await revalidate();
    } catch (error) {
      toast({ text: (error as Error).message, stays: true });
    }
  };
  const samples = list.some((b) => b.id.startsWith('kestrelmere-'));
  const add = async () => {
    setBusy(true);
    try {
      await books.addSamples();
      await revalidate();
    } catch (error) {
      toast({ text: (error as Error).message, stays: true });
    }
    setBusy(false);
  };
  return (
    <Stage wide>
      <div className={line.head}>
        <h1 className="title">Books</h1>
        <span className="caption">
          {count(list.length, 'book')} ·{' '}
          {count(
            list.reduce((n, b) => n + b.swatchCount, 0),
            'ink',
          )}
        </span>
        <span className={css.acts}>
          {!samples && (
            <Button disabled={busy} onClick={() => void add()}>
              Add the Kestrelmere Inks
            </Button>
          )}
          <Button variant="contained" onClick={openFiles}>
            Open a file…
          </Button>
        </span>
      </div>
      <div className={line.list}>
        <ul className={css.lines}>
          {list.map((b) => (
            <li key={b.id} className={line.row}>
              <div className={line.words}>
                <Link to={`/books/${b.id}`} className={`cut ${line.name}`} dir="auto" title={b.name}>
                  {b.name || 'Book without a name'}
                </Link>
                <span className={`caption cut ${line.facts}`}>
                  {[
                    count(b.swatchCount, b.facts.ownNames ? 'step' : 'ink'),
                    b.facts.edition && `edition ${b.facts.edition}`,
                    b.facts.substrate && `on ${b.facts.substrate}`,
                    b.shipped && 'part of Papillon',
                  ]
                    .filter(Boolean)
                    .join(' · ')}
                </span>
              </div>
              <Link to={`/books/${b.id}`} tabIndex={-1} aria-hidden className={line.band}>
                {b.band.map((group, g) => (
                  <span key={g} style={{ flexGrow: group.length, background: sideBySide(group) }} />
                ))}
              </Link>
              <div className={line.end}>
                <Link className={css.browse} to={`/gather?from=book&book=${b.id}`}>
                  Browse
                </Link>
              </div>
            </li>
          ))}
        </ul>
        <p className={`caption ${line.hint}`}>
          A book is a library that is not edited: numbered inks with what they measure on one paper. Every
          library can take from it, and what is taken finds its book again. Open a file with one (ACB, ASE,
          ACO, CxF, CGATS, ICC, CSV) and keep it as a book, or make one of a library, in the list of
          libraries.
        </p>
        {away.length > 0 && (
          <section aria-label="Removed" className={css.away}>
            <h2 className="caption">Removed</h2>
            {away.map((b) => (
              <p key={b.id}>
                <span className="cut" dir="auto">
                  {b.name}
                </span>
                <Button variant="text" onClick={() => void restore(b.id)}>
                  Restore
                </Button>
              </p>
            ))}
          </section>
        )}
      </div>
    </Stage>
  );
}
