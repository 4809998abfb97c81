import Button from '@mui/material/Button';
import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { Link, useSearchParams } from 'react-router';
import { GREYS, SPECIALS_LEAF, STEPS_BOOK } from '#core/books/index';
import { screenOnly } from '#core/color/condition';
import { useStore } from '~/state/store';
import { useStores } from '~/state/stores';
import { useCondition } from '~/ui/condition';
import { Empty } from '~/ui/empty';
import { SelectField } from '~/ui/field';
import { Notice } from '~/ui/notice';
import { PlainButton } from '~/ui/plain-button';
import { Choices } from '~/ui/setting';
import { count } from '~/ui/swatch';
import { useToast } from '~/ui/toast';
import css from './BookSource.module.css';
import { EntryField } from './EntryField';
import { EntryList } from './EntryList';
import { LeafGrid, LeafStrip } from './Leaf';
import { Sets } from './Sets';
import { siblings, useOpenBook } from './use-book';
import { useTake } from './use-take';

const VIEWS = [
  ['leaf', 'Leaf'],
  ['list', 'List'],
  ['greys', 'Greys'],
  ['specials', 'Specials'],
  ['sets', 'Sets'],
] as const;

/** Gather › Book: a book of inks, browsed by number, by name and by leaf. */
export function BookSource() {
  const { books } = useStores();
  const { list, problem, book: id, view, marked } = useStore(books);
  const [search] = useSearchParams();
  const [ready, setReady] = useState(false);
  const [wanted, called, wantedInk] = [search.get('book'), search.get('called'), search.get('ink')];
  // a file from elsewhere knows a book by the id it has there: here it goes by its name
  const wantedBook =
    list?.some((b) => b.id === wanted) || !called
      ? wanted
      : (list?.find((b) => b.name === called)?.id ?? wanted);
  useEffect(() => {
    let live = true;
    void books.load().then(() => live && setReady(true));
    return () => {
      live = false;
    };
  }, [books]);
  // a link may say where to open it
  useEffect(() => {
    if (ready && wantedBook) void books.look(wantedBook, wantedInk ?? undefined);
  }, [ready, wantedBook, wantedInk, books]);
  const book = useOpenBook(id);
  const take = useTake();
  const latest = useRef(take);
  latest.current = take;
  const onTake = useCallback(() => {
    if (book) void latest.current(book);
  }, [book]);
  if (useCondition() === screenOnly) return null;
  if (problem && !book)
    return (
      <div className={css.book}>
        {/* another book may be at hand */}
        <div className={css.bar}>
          <BookChoice />
        </div>
        <div className={css.alone}>
          <Notice>{problem}</Notice>
          <Button onClick={() => void books.again()}>Try again</Button>
        </div>
      </div>
    );
  if (!list || (id && !book))
    return (
      <p role="status" className={`second ${css.alone}`}>
        Opening the book…
      </p>
    );
  if (!book) return <NoBook />;
  const place = books.placeIn(book);
  const { leaves, greys, specials, leafOf } = book.leaves;
  const apart = {
    greys: greys.size > 0,
    specials: specials.size > 0,
    sets: book.sets.length > 0,
  };
  const views = VIEWS.filter(([v]) => v === 'leaf' || v === 'list' || apart[v]);
  const shown = views.some(([v]) => v === view) ? view : 'leaf';
  const at = leafOf[place] ?? 0;
  const leaf = shown === 'greys' ? greys : shown === 'specials' ? specials : leaves[Math.max(0, at)];
  const go = (v: (typeof VIEWS)[number][0]) => {
    const first = (rows: typeof greys.rows) => rows[0]?.places[0];
    if (v === 'leaf' && at < 0 && leaves[0]) books.choose(book, first(leaves[0].rows)!);
    if (v === 'greys' && at !== GREYS) books.choose(book, first(greys.rows)!);
    if (v === 'specials' && at !== SPECIALS_LEAF) books.choose(book, first(specials.rows)!);
    books.show(v);
  };
  return (
    <div className={css.book}>
      <div className={css.bar}>
        <BookChoice />
        <EntryField book={book} />
        <Choices className={css.views} aria-label="How it is shown">
          {views.map(([v, label]) => (
            <PlainButton look="tab" key={v} aria-pressed={shown === v} onClick={() => go(v)}>
              {label}
            </PlainButton>
          ))}
        </Choices>
      </div>
      {shown === 'list' ? (
        <EntryList book={book} place={place} onTake={onTake} />
      ) : shown === 'sets' ? (
        <Sets book={book} />
      ) : leaf ? (
        <>
          {shown === 'leaf' && leaves.length > 1 && <LeafStrip book={book} at={Math.max(0, at)} />}
          <p className={`caption ${css.said}`}>
            <span>
              {shown === 'leaf'
                ? `Leaf ${Math.max(0, at) + 1} of ${leaves.length} · ${leaf.word} · hue ${Math.round(leaf.from)}° to ${Math.round(leaf.to)}°`
                : shown === 'greys'
                  ? `${count(greys.size, 'grey')}, the lightest first`
                  : 'They glitter or glow: neither a press nor a screen shows them as they are'}
            </span>
            <span>
              {marked.length > 0 ? (
                <>
                  {count(marked.length, 'ink')} marked · Enter takes them ·{' '}
                  <PlainButton look="link" onClick={() => books.unmark()}>
                    unmark
                  </PlainButton>
                </>
              ) : (
                'arrow keys walk, and on into the next leaf · Enter takes · space marks several'
              )}
            </span>
          </p>
          <LeafGrid book={book} leaf={leaf} place={place} onTake={onTake} />
          <p className={`caption ${css.ends}`} aria-hidden>
            <span>near neutral</span>
            <span>chroma →</span>
            <span>most chromatic this paper can show</span>
          </p>
        </>
      ) : (
        <p className="second">This book is empty.</p>
      )}
    </div>
  );
}

/** Which book, and on which paper. */
function BookChoice() {
  const { books } = useStores();
  const { list, book: id } = useStore(books);
  // one for each family, and for each book that is alone; two may have one name
  const choices = useMemo(() => {
    const seen = new Set<string>();
    return (list ?? []).flatMap((b) => {
      const { family } = b.facts;
      if (family && seen.has(family)) return [];
      if (family) seen.add(family);
      return [{ id: b.id, family, name: family || b.name || 'Book without a name' }];
    });
  }, [list]);
  const open = list?.find((b) => b.id === id);
  if (!list || !open) return null;
  const { family } = open.facts;
  const chosen = family ? choices.find((c) => c.family === family) : choices.find((c) => c.id === id);
  const papers = siblings(list, open);
  // the same number on the other paper is what one goes on looking at
  const turn = (to: string) => {
    const here = books.snapshot().books[open.id];
    const code = here?.swatches.code[books.placeIn(here)];
    void books.look(to, code ?? undefined);
  };
  return (
    <>
      <SelectField
        className={css.choice}
        aria-label="Book"
        value={chosen?.id}
        onChange={(e) => void books.look(e.target.value)}
      >
        {choices.map((c) => (
          <option key={c.id} value={c.id}>
            {c.name}
          </option>
        ))}
      </SelectField>
      {papers.length > 1 && (
        <fieldset className={css.papers} aria-label="Paper">
          {papers.map((b) => (
            <PlainButton key={b.id} aria-pressed={b.id === id} onClick={() => turn(b.id)}>
              {b.facts.substrate || b.name}
            </PlainButton>
          ))}
        </fieldset>
      )}
    </>
  );
}

function NoBook() {
  const { books } = useStores();
  const toast = useToast();
  const [busy, setBusy] = useState(false);
  const add = async () => {
    setBusy(true);
    try {
      await books.addSamples();
    } catch (error) {
      toast({ text: (error as Error).message, stays: true });
    }
    setBusy(false);
  };
  return (
    <Empty
      level="h2"
      title="No books yet"
      text="A book holds numbered inks with what they measure on a paper. Open a file with one (ACB, ASE, CxF, CGATS, ICC, CSV) and keep it as a book, or begin with two invented ones."
    >
      <Button variant="contained" disabled={busy} onClick={() => void add()}>
        Add the Kestrelmere Inks
      </Button>
      <Button onClick={() => void books.look(STEPS_BOOK)}>Processing steps</Button>
      <Button component={Link} to="/books">
        Books…
      </Button>
    </Empty>
  );
}
