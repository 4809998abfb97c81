import { nanoid } from 'nanoid';
import { type KeyboardEvent, useEffect, useId, useMemo, useRef, useState } from 'react';
import { findEntries, takenFrom } from '#core/books/index';
import { type Color, toHex, typedColor } from '#core/color/index';
import { allSwatches, type Library, type Swatch } from '#core/swatch/index';
import { useStore } from '~/state/store';
import { useStores } from '~/state/stores';
import { useCondition } from '~/ui/condition';
import { droppedSwatch } from '~/ui/drag-swatch';
import { Field } from '~/ui/field';
import { count, swatchLabel } from '~/ui/swatch';
import css from './PaintField.module.css';

/** What a typed text can mean. */
export type Meant =
  | { is: 'swatch'; swatch: Swatch }
  | { is: 'ink'; swatch: Swatch; book: string }
  | { is: 'color'; color: Color };

interface Hit {
  key: string;
  hex: string;
  name: string;
  says: string;
  take(): Promise<Meant | null>;
}

const MAX_HITS = 8;

/** A number, a name, a code or a colour: what is in the library, in the books, and what it is by itself. Enter takes the first. */
export function PaintField({
  library,
  label,
  onTake,
}: {
  library: Library;
  label: string;
  onTake(meant: Meant): void;
}) {
  const { books } = useStores();
  const { list, books: open } = useStore(books);
  const condition = useCondition();
  const [text, setText] = useState('');
  const [at, setAt] = useState(0);
  const [shown, setShown] = useState(false);
  const [refused, setRefused] = useState(false);
  const id = useId();
  const input = useRef<HTMLInputElement>(null);
  const asked = text.trim() !== '';
  // books are looked in as soon as something is typed
  useEffect(() => {
    if (asked) void books.load().then((all) => Promise.all(all.map((b) => books.open(b.id))));
  }, [asked, books]);

  const hits = useMemo((): Hit[] => {
    if (!asked) return [];
    const own = allSwatches(library);
    const named = own.map((s) => ({ code: (s.code ?? '').toLowerCase(), name: s.name.toLowerCase() }));
    const found: Hit[] = findEntries(named, text, MAX_HITS)
      .slice(0, MAX_HITS)
      .map((place) => {
        const swatch = own[place]!;
        return {
          key: swatch.id,
          hex: toHex(swatch.color, condition),
          name: swatchLabel(swatch, condition),
          says: swatch.code ?? 'in the library',
          take: async () => ({ is: 'swatch', swatch }),
        };
      });
    for (const listed of list ?? []) {
      const book = open[listed.id];
      if (!book) continue;
      const { id: ids, name, code, hex } = book.swatches;
      for (const place of findEntries(book.named, text, MAX_HITS).slice(0, MAX_HITS))
        found.push({
          key: `${listed.id} ${place}`,
          hex: hex[place]!,
          name: name[place]!,
          says: [code[place], listed.name].filter(Boolean).join(' · '),
          take: async () => {
            const entry = await books.entry(listed.id, ids[place]!);
            return entry && { is: 'ink', swatch: takenFrom(book, entry, nanoid(12)), book: listed.name };
          },
        });
    }
    const color = typedColor(text);
    const typed: Hit[] = color
      ? [
          {
            key: 'color',
            hex: toHex(color, condition),
            name: toHex(color, condition).toUpperCase(),
            says: 'as typed, no swatch',
            take: async () => ({ is: 'color', color }),
          },
        ]
      : [];
    // what is just so in the library comes first, then a colour, then the rest
    const exact = found.filter(({ name, says }) =>
      [name, says.split(' · ')[0]].some((t) => t?.toLowerCase() === text.trim().toLowerCase()),
    );
    return [...exact, ...typed, ...found.filter((h) => !exact.includes(h))].slice(0, 3 * MAX_HITS);
  }, [asked, text, library, list, open, books, condition]);

  const take = async (hit: Hit | undefined) => {
    if (!hit) {
      setRefused(asked);
      return;
    }
    const meant = await hit.take().catch(() => null);
    if (!meant) return;
    setText('');
    setShown(false);
    onTake(meant);
  };
  const key = (event: KeyboardEvent) => {
    if (event.key === 'ArrowDown' || event.key === 'ArrowUp') {
      if (hits.length === 0) return;
      setShown(true);
      setAt((was) => (was + (event.key === 'ArrowDown' ? 1 : -1) + hits.length) % hits.length);
    } else if (event.key === 'Enter') void take(hits[Math.min(at, hits.length - 1)]);
    else if (event.key === 'Escape' && (asked || shown)) {
      setText('');
      setShown(false);
    } else return;
    event.preventDefault();
    event.stopPropagation();
  };
  const openHits = shown && hits.length > 0;
  return (
    <div className={css.box}>
      <Field
        ref={input}
        className={css.field}
        role="combobox"
        aria-label={label}
        aria-expanded={openHits}
        aria-controls={`${id}-hits`}
        aria-activedescendant={openHits ? `${id}-${Math.min(at, hits.length - 1)}` : undefined}
        aria-autocomplete="list"
        placeholder="number, name, code or swatch"
        autoComplete="off"
        spellCheck={false}
        data-paint-field
        value={text}
        onChange={(e) => {
          setText(e.target.value);
          setAt(0);
          setShown(true);
          setRefused(false);
        }}
        onKeyDown={key}
        onBlur={() => setShown(false)}
        onFocus={() => setShown(true)}
        onDragOver={(e) => e.preventDefault()}
        onDrop={(e) => {
          const swatch = droppedSwatch(e);
          const own = swatch && allSwatches(library).find((s) => s.id === swatch.id);
          if (own) onTake({ is: 'swatch', swatch: own });
          else if (swatch) onTake({ is: 'color', color: swatch.color });
        }}
      />
      {openHits && (
        <div id={`${id}-hits`} role="listbox" aria-label="Found" className={css.hits}>
          {hits.map((hit, i) => (
            // biome-ignore lint/a11y/useKeyWithClickEvents: the field hears the keys
            <div
              key={hit.key}
              id={`${id}-${i}`}
              role="option"
              tabIndex={-1}
              aria-selected={i === Math.min(at, hits.length - 1)}
              className={css.hit}
              // the field keeps the keyboard
              onMouseDown={(e) => e.preventDefault()}
              onClick={() => void take(hit)}
            >
              <i style={{ background: hit.hex }} />
              <span className="cut" dir="auto">
                {hit.name}
              </span>
              <span className="caption cut">{hit.says}</span>
            </div>
          ))}
        </div>
      )}
      {asked && hits.length === 0 && (
        <p className="caption" role={refused ? 'alert' : 'status'}>
          {list?.some((b) => !open[b.id])
            ? 'Looking in the books…'
            : `Nothing of that name or number in the library or ${count(list?.length ?? 0, 'book')}, and no colour. Colours are typed as #8a1c24 or Lab 40 57 33.`}
        </p>
      )}
    </div>
  );
}
