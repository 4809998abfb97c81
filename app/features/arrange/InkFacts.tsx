import { X } from 'lucide-react';
import { Link } from 'react-router';
import { deltaE00, type Lab, toHex, toLab } from '#core/color/index';
import { pairingsOf, unpair } from '#core/match/pairing';
import { type Origin, recipeText, type Swatch, tintText } from '#core/swatch/index';
import type { Use } from '#server/books';
import type { LibraryStore } from '~/state/library-store';
import { useStores } from '~/state/stores';
import { useCondition } from '~/ui/condition';
import { PlainButton } from '~/ui/plain-button';
import { useAsked } from '~/ui/use-asked';
import { WingPair } from '~/ui/wing-pair';
import css from './InkFacts.module.css';

/** The place of an ink in its book, told by id and by name. */
const inBook = (library: string, book: string, called: string, ink: string) =>
  `/libraries/${library}/gather?${new URLSearchParams({ from: 'book', book, called, ink })}`;

/** What an ink is of, where it came from, and the way back there. */
export function InkFacts({
  swatch: { id, tint, recipe, special, origin },
  library,
}: {
  swatch: Swatch;
  library: string;
}) {
  const facts = [
    tint && `Tint: ${tintText(tint)}.`,
    recipe && `Recipe: ${recipeText(recipe)}.`,
    special && `${special === 'metallic' ? 'Metallic' : 'Fluorescent'}: not to be reproduced.`,
  ].filter(Boolean);
  return (
    <>
      {facts.map((fact) => (
        <p key={String(fact)} className={`caption ${css.origin}`}>
          {fact}
        </p>
      ))}
      {origin?.from === 'book' ? (
        <p className={`caption ${css.origin}`}>
          From{' '}
          <Link
            className={css.link}
            to={inBook(library, origin.book ?? '', origin.name ?? '', origin.code ?? '')}
          >
            {origin.name}, {origin.code}
          </Link>
          .
        </p>
      ) : origin?.from === 'harmony' ? (
        <p className={`caption ${css.origin}`}>
          Made by {origin.name}.{' '}
          {origin.family && (
            <Link
              className={css.link}
              to={`/libraries/${library}/gather?${new URLSearchParams({ from: 'harmony', swatch: id })}`}
            >
              Open its family
            </Link>
          )}
        </p>
      ) : origin?.from === 'reading' ? (
        <p className={`caption ${css.origin}`}>
          <Link className={css.link} to={`/libraries/${library}/gather?from=reading`}>
            {origin.name?.startsWith('estimated') ? 'Estimated' : 'Measured'}
          </Link>
          : {origin.name}.
        </p>
      ) : (
        origin && <p className={`caption ${css.origin}`}>{originText(origin)}</p>
      )}
    </>
  );
}

/** One goes from swatch to swatch faster than this, ms. */
const WAIT_MS = 250;

/** The libraries that have a swatch of this one for an equivalent of theirs. */
function useOthers(library: string, code: string): Use[] {
  const { books } = useStores();
  const { value } = useAsked(code ? () => books.uses(library, code) : null, [books, library, code], {
    wait: WAIT_MS,
    fresh: true,
  });
  return (value ?? []).filter((u) => u.paired > 0 && u.library !== library);
}

/** What the swatch is paired with in books and other libraries. */
export function Equivalents({ swatch, store }: { swatch: Swatch; store: LibraryStore }) {
  const condition = useCondition();
  const pairs = pairingsOf(store.rows.library).get(swatch.id) ?? [];
  const others = useOthers(store.id, swatch.code ?? swatch.name);
  if (pairs.length === 0 && others.length === 0) return null;
  return (
    <section className={css.equivalents} aria-label="Equivalents">
      {others.map(({ library, name, swatches }) => (
        <p key={library} className="caption">
          The equivalent of {swatches.join(', ')} in{' '}
          <Link className={css.link} to={`/libraries/${library}/arrange`}>
            {name}
          </Link>
          .
        </p>
      ))}
      {pairs.map(({ id, data }) => (
        <p key={id} className={css.equivalent}>
          <span className={css.small}>
            <WingPair
              left={toHex(swatch.color, condition)}
              right={toHex({ space: 'lab', components: data.lab }, condition)}
            />
          </span>
          <Link
            className={`cut ${css.link}`}
            title={`${data.name} in ${data.sourceName}`}
            to={inBook(store.id, data.source, data.sourceName, data.code ?? data.name)}
          >
            {data.name}
          </Link>
          <span className="mono caption">
            {deltaE00(toLab(swatch.color, condition), data.lab as Lab).toFixed(1)}
          </span>
          <PlainButton
            look="icon"
            aria-label={`Forget that ${data.name} is the equivalent`}
            title="Forget this equivalent"
            onClick={() => store.edit(unpair([id]))}
          >
            <X size={14} strokeWidth={1.7} />
          </PlainButton>
        </p>
      ))}
    </section>
  );
}

function originText(origin: Origin): string {
  if (origin.from === 'picture')
    return `Taken from ${origin.name}${origin.point ? `, first seen at ${origin.point.join(', ')}` : ''}.`;
  if (origin.from === 'file')
    return `Read from ${origin.name}${origin.format ? ` (${origin.format.toUpperCase()})` : ''}.`;
  if (origin.from === 'artwork') return `Taken from the artwork ${origin.name}.`;
  return 'Typed.';
}
