import { useVirtualizer } from '@tanstack/react-virtual';
import { type KeyboardEvent, useEffect, useRef } from 'react';
import type { OpenBook } from '~/state/books';
import { usePart } from '~/state/store';
import { useStores } from '~/state/stores';
import css from './EntryList.module.css';

const LINE = 33;

/** A book in the order of its numbers. */
export function EntryList({ book, place, onTake }: { book: OpenBook; place: number; onTake(): void }) {
  const { books } = useStores();
  const marked = usePart(books, (s) => s.marked);
  const scroller = useRef<HTMLDivElement>(null);
  const { id, name, code, hex, kind, special } = book.swatches;
  const virtual = useVirtualizer({
    count: id.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => LINE,
    overscan: 8,
  });
  // biome-ignore lint/correctness/useExhaustiveDependencies: only where it goes matters
  useEffect(() => {
    if (place >= 0) virtual.scrollToIndex(place);
  }, [place]);
  const key = (event: KeyboardEvent) => {
    const by = { ArrowDown: 1, ArrowUp: -1, PageDown: 12, PageUp: -12, Home: -id.length, End: id.length }[
      event.key
    ];
    if (by !== undefined) books.choose(book, Math.min(id.length - 1, Math.max(0, place + by)));
    else if (event.key === 'Enter') onTake();
    else if (event.key === ' ') books.mark(id[place]!);
    else return;
    event.preventDefault();
  };
  return (
    <>
      <div className={`${css.line} ${css.head} caption`} aria-hidden>
        <span />
        <span>number</span>
        <span>name</span>
        <span>Lab D50</span>
        <span>hex</span>
        <span />
      </div>
      <div
        ref={scroller}
        className={css.list}
        role="listbox"
        aria-label="Inks of this book"
        aria-multiselectable
        aria-activedescendant={place >= 0 ? `entry-${place}` : undefined}
        tabIndex={0}
        onKeyDown={key}
      >
        <div className={css.lines} style={{ height: virtual.getTotalSize() }}>
          {virtual.getVirtualItems().map(({ index: i, start }) => (
            // biome-ignore lint/a11y/useKeyWithClickEvents: the list hears the keys
            // biome-ignore lint/a11y/useFocusableInteractive: the list has the focus
            <div
              key={id[i]}
              id={`entry-${i}`}
              role="option"
              aria-selected={i === place}
              className={`${css.line} ${css.entry}`}
              style={{ top: start, height: LINE }}
              onClick={() => books.choose(book, i)}
              onDoubleClick={onTake}
            >
              <i style={{ background: hex[i] }} />
              <span className="mono cut">{code[i]}</span>
              <span className="cut" dir="auto" title={name[i]}>
                {name[i]}
              </span>
              <span className="mono">{book.labs[i]!.map((v) => v.toFixed(1)).join('  ')}</span>
              <span className="mono">{hex[i]}</span>
              <span className="caption">
                {marked.includes(id[i]!)
                  ? 'marked'
                  : (special[i] ?? (kind[i] === 'technical' ? 'technical' : ''))}
              </span>
            </div>
          ))}
        </div>
      </div>
    </>
  );
}
