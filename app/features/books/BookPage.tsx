import Button from '@mui/material/Button';
import { nanoid } from 'nanoid';
import { useId } from 'react';
import { Link, useNavigate, useRevalidator } from 'react-router';
import type { BookEdit, ListedBook, Use } from '#server/books';
import { editBook } from '~/api/books';
import { call } from '~/api/call';
import { useStores } from '~/state/stores';
import { CommitField } from '~/ui/commit-field';
import { Stage } from '~/ui/Frame';
import { Notice } from '~/ui/notice';
import { count, sideBySide } from '~/ui/swatch';
import { useToast } from '~/ui/toast';
import css from './BookPage.module.css';

interface Props {
  book: ListedBook;
  band: string[];
  kinds: [string, number][];
  specials: number;
  uses: Use[];
  names: { id: string; name: string; code: string; hex: string }[];
}

const FACTS = [
  ['family', 'Family', 'what books of the same inks on several papers have in common'],
  ['edition', 'Edition', ''],
  ['substrate', 'Substrate', 'coated, uncoated, film, board…'],
  ['measurement', 'Measured', 'geometry, light, backing'],
  ['prefix', 'Prefix', ''],
  ['suffix', 'Suffix', ''],
] as const;

/** A book: what it says of itself, what is in it, where it is used. */
export function BookPage({ book, band, kinds, specials, uses, names }: Props) {
  const { books } = useStores();
  const toast = useToast();
  const navigate = useNavigate();
  const { revalidate } = useRevalidator();
  const { facts } = book;
  const own = !book.shipped;

  const set = async (edit: BookEdit) => {
    const came = await call(editBook, { params: { id: book.id }, body: edit });
    if (!came.ok) toast({ text: `Not saved. ${came.why}`, stays: true });
    await books.load();
    await revalidate();
  };
  const makeLibrary = async () => {
    try {
      const [id] = await books.make({ intent: 'library', book: book.id, id: nanoid(12) });
      await navigate(`/libraries/${id}/arrange`);
    } catch (error) {
      toast({ text: (error as Error).message, stays: true });
    }
  };
  const remove = async () => {
    try {
      await books.make({ intent: 'delete', book: book.id });
      await navigate('/books');
      toast({
        text: `“${book.name}” was removed. What was taken from it stays in its libraries.`,
        action: {
          label: 'Undo',
          run: () =>
            void books
              .make({ intent: 'restore', book: book.id })
              .then(revalidate, (error: Error) => toast({ text: error.message, stays: true })),
        },
      });
    } catch (error) {
      toast({ text: (error as Error).message, stays: true });
    }
  };

  return (
    <Stage wide>
      <div className={css.page}>
        <p className="caption">
          <Link to="/books">All books</Link>
        </p>
        <div className={css.head}>
          <h1 className="title" dir="auto">
            {book.name || 'Book without a name'}
          </h1>
          <Button variant="contained" component={Link} to={`/gather?from=book&book=${book.id}`}>
            Browse
          </Button>
          <Button component={Link} to={`/libraries/${book.id}/check`}>
            Translate…
          </Button>
          <Button component={Link} to={`/libraries/${book.id}/hand-over`}>
            Hand over…
          </Button>
          <Button onClick={() => void makeLibrary()}>Make a library of it</Button>
          {own && (
            <Button variant="text" onClick={() => void remove()}>
              Remove
            </Button>
          )}
        </div>
        <div className={css.band} style={{ background: sideBySide(band) }} aria-hidden />
        <div className={css.columns}>
          <section aria-label="About">
            {own ? (
              <>
                <Fact label="Name" value={book.name} onSet={(name) => void set({ name })} />
                {FACTS.map(([field, label, hint]) => (
                  <Fact
                    key={field}
                    label={label}
                    hint={hint}
                    value={facts[field] ?? ''}
                    onSet={(value) => {
                      const { paper: _, ownNames: __, ...rest } = facts;
                      void set({ facts: { ...rest, [field]: value } });
                    }}
                  />
                ))}
              </>
            ) : (
              <p className="second">
                After ISO 19593-1. Every Papillon has it. Set each name to what your machine looks for: it is
                written to the letter, blanks, capitals and all.
              </p>
            )}
          </section>
          <section aria-label="What is in it">
            <dl className={css.facts}>
              {kinds.map(([kind, n]) => (
                <div key={kind}>
                  <dt className="second">{kind}</dt>
                  <dd className="mono">{n.toLocaleString('en-GB')}</dd>
                </div>
              ))}
              {specials > 0 && (
                <div>
                  <dt className="second">not to be reproduced</dt>
                  <dd className="mono">{specials}</dd>
                </div>
              )}
            </dl>
            <h2 className={css.used}>Where it is used</h2>
            {uses.length === 0 ? (
              <p className="second">In no library yet.</p>
            ) : (
              uses.map((u) => (
                <p key={u.library} className={css.use}>
                  <Link to={`/libraries/${u.library}/arrange`} dir="auto">
                    {u.name}
                  </Link>
                  <span className="caption">
                    {[
                      u.taken > 0 && `${count(u.taken, 'swatch', 'swatches')} taken`,
                      u.paired > 0 && count(u.paired, 'equivalent'),
                    ]
                      .filter(Boolean)
                      .join(', ')}
                    {': '}
                    {u.swatches.join(', ')}
                  </span>
                </p>
              ))
            )}
          </section>
        </div>
        {names.length > 0 && <Names names={names} onSet={(list) => void set({ names: list })} />}
      </div>
    </Stage>
  );
}

function Fact({
  label,
  value,
  hint = '',
  onSet,
}: {
  label: string;
  value: string;
  hint?: string;
  onSet(value: string): void;
}) {
  const id = useId();
  return (
    <div className={css.fact}>
      <label htmlFor={id} className="second">
        {label}
      </label>
      <CommitField id={id} value={value} placeholder={hint} onCommit={onSet} />
    </div>
  );
}

/** The names that machines look for, each to be set; those that differ by capitals alone are reported. */
function Names({
  names,
  onSet,
}: {
  names: Props['names'];
  onSet(names: { id: string; name: string }[]): void;
}) {
  const byLower = new Map<string, string[]>();
  for (const { name } of names) {
    const key = name.trim().toLocaleLowerCase('en');
    byLower.set(key, [...(byLower.get(key) ?? []), name]);
  }
  const alike = [...byLower.values()].filter((list) => list.length > 1);
  return (
    <section aria-label="Names">
      <h2 className={css.used}>Names</h2>
      {alike.map((list) => (
        <Notice key={list.join()}>
          {new Set(list).size === 1
            ? `Two steps are called “${list[0]}”: a machine cannot tell them apart.`
            : `${list.map((n) => `“${n}”`).join(' and ')} differ by capitals or blanks alone: a machine may take one for the other.`}
        </Notice>
      ))}
      <div className={css.names}>
        {names.map(({ id, name, code, hex }) => (
          <div key={id} className={css.name}>
            <i style={{ background: hex }} />
            <Fact
              label={code}
              value={name}
              hint={code}
              onSet={(next) => onSet([{ id, name: next || code }])}
            />
          </div>
        ))}
      </div>
    </section>
  );
}
