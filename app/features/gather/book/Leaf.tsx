import { type KeyboardEvent, memo, type PointerEvent, useEffect, useRef } from 'react';
import { type Leaf, type Way, walk } from '#core/books/index';
import type { OpenBook } from '~/state/books';
import { usePart } from '~/state/store';
import { useStores } from '~/state/stores';
import { UnseenTable } from '~/ui/unseen-table';
import css from './Leaf.module.css';
import { onHex } from './on-hex';

/** All leaves side by side, each by a few of its colours; a hand or the arrow keys turn them. */
export const LeafStrip = memo(function LeafStrip({ book, at }: { book: OpenBook; at: number }) {
  const { books } = useStores();
  const { leaves } = book.leaves;
  const turn = (to: number) => {
    const leaf = leaves[Math.min(leaves.length - 1, Math.max(0, to))];
    if (!leaf || leaf === leaves[books.placeIn(book) < 0 ? -1 : book.leaves.leafOf[books.placeIn(book)]!])
      return;
    // the strongest of the leaf's middle is what it is known by
    books.choose(book, leaf.face[Math.floor(leaf.face.length / 2)]!);
  };
  const point = (event: PointerEvent<HTMLDivElement>) => {
    if (event.type === 'pointerdown') event.currentTarget.setPointerCapture(event.pointerId);
    else if (event.buttons === 0) return;
    const { left, width } = event.currentTarget.getBoundingClientRect();
    turn(Math.floor(((event.clientX - left) / width) * leaves.length));
  };
  const key = (event: KeyboardEvent) => {
    const to = { ArrowLeft: at - 1, ArrowRight: at + 1, Home: 0, End: leaves.length - 1 }[event.key];
    if (to === undefined) return;
    event.preventDefault();
    turn(to);
  };
  return (
    <div
      className={css.strip}
      data-many={leaves.length > 64}
      role="slider"
      aria-label="Leaf"
      tabIndex={0}
      aria-valuemin={1}
      aria-valuemax={leaves.length}
      aria-valuenow={at + 1}
      aria-valuetext={`Leaf ${at + 1} of ${leaves.length}, ${leaves[at]?.word}`}
      onPointerDown={point}
      onPointerMove={point}
      onKeyDown={key}
    >
      {leaves.map((leaf, i) => (
        <Face
          key={leaf.from}
          background={stacked(leaf.face.map((p) => book.swatches.hex[p]!))}
          at={i === at}
        />
      ))}
    </div>
  );
});

const Face = memo(function Face({ background, at }: { background: string; at: boolean }) {
  return <span className={css.leaf} data-at={at} style={{ background }} />;
});

/** Colours one below the other as one background. */
const stacked = (colors: string[]) =>
  `linear-gradient(${colors.map((c, i) => `${c} ${(100 * i) / colors.length}% ${(100 * (i + 1)) / colors.length}%`).join()})`;

const WAYS: Record<string, Way> = {
  ArrowLeft: 'left',
  ArrowRight: 'right',
  ArrowUp: 'up',
  ArrowDown: 'down',
};

/** One leaf: a row for each lightness, in it from near neutral to the most chromatic. */
export const LeafGrid = memo(function LeafGrid({
  book,
  leaf,
  place,
  onTake,
}: {
  book: OpenBook;
  leaf: Leaf;
  place: number;
  onTake(): void;
}) {
  const { books } = useStores();
  const marked = usePart(books, (s) => s.marked);
  const grid = useRef<HTMLFieldSetElement>(null);
  /** Whether the keyboard is in here: then it follows what is looked at. */
  const inside = useRef(false);
  useEffect(() => {
    const chip = grid.current?.querySelector<HTMLElement>(`[data-place="${place}"]`);
    if (inside.current) chip?.focus({ preventScroll: true });
    // once the leaf is laid out: to ask for it now would do so within this very task
    const frame = requestAnimationFrame(() => setTimeout(() => chip?.scrollIntoView({ block: 'nearest' })));
    return () => cancelAnimationFrame(frame);
  }, [place]);
  const key = (event: KeyboardEvent) => {
    const way = WAYS[event.key];
    if (way) books.choose(book, walk(book.leaves, place, way));
    else if (event.key === 'Enter') onTake();
    else if (event.key === ' ') books.mark(book.swatches.id[place]!);
    else if (event.key === 'Escape') books.unmark();
    else if (event.key === 'PageDown' || event.key === 'PageUp') {
      const leaves = book.leaves.leaves;
      const next = leaves[book.leaves.leafOf[place]! + (event.key === 'PageDown' ? 1 : -1)];
      if (next) books.choose(book, next.rows[0]!.places[0]!);
    } else return;
    event.preventDefault();
  };
  const { id, code, name, hex } = book.swatches;
  return (
    <fieldset
      ref={grid}
      className={css.grid}
      aria-label="Inks of this leaf"
      onKeyDown={key}
      onFocus={() => {
        inside.current = true;
      }}
      onBlur={(e) => {
        // a leaf that is turned takes its chips with it
        if (e.relatedTarget) inside.current = false;
      }}
    >
      <UnseenTable
        caption="Inks of this leaf by lightness, from grey to colourful"
        head={['L*', 'Inks']}
        rows={leaf.rows.map((row) => [
          Math.round(row.lightness),
          row.places.map((p) => `${code[p] || name[p]} ${hex[p]}`).join(', '),
        ])}
      />
      {leaf.rows.map((row) => (
        <div key={row.places[0]} className={css.row}>
          <span className={`caption ${css.light}`} title="L*">
            {Math.round(row.lightness)}
          </span>
          {row.places.map((p) => (
            <Chip
              key={p}
              book={book}
              place={p}
              current={p === place}
              marked={marked.includes(id[p]!)}
              onTake={onTake}
            />
          ))}
        </div>
      ))}
    </fieldset>
  );
});

/** One ink; redrawn only when it is reached, left or marked. */
const Chip = memo(function Chip({
  book,
  place,
  current,
  marked,
  onTake,
}: {
  book: OpenBook;
  place: number;
  current: boolean;
  marked: boolean;
  onTake(): void;
}) {
  const { books } = useStores();
  const { id, code, name, hex } = book.swatches;
  return (
    <button
      type="button"
      data-place={place}
      className={css.chip}
      tabIndex={current ? 0 : -1}
      aria-current={current || undefined}
      aria-pressed={marked}
      aria-label={name[place]}
      title={name[place]}
      style={{ background: hex[place], color: onHex(hex[place]!) }}
      onClick={(e) => {
        if (e.ctrlKey || e.metaKey || e.shiftKey) books.mark(id[place]!);
        books.choose(book, place);
      }}
      onDoubleClick={onTake}
    >
      {code[place] || name[place]}
    </button>
  );
});
