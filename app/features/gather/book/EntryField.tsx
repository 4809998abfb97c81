import Popover from '@mui/material/Popover';
import { Pipette } from 'lucide-react';
import { type KeyboardEvent, useEffect, useRef, useState } from 'react';
import { findEntries } from '#core/books/index';
import {
  type Color,
  colorWords,
  findByWords,
  type Lab,
  NearIndex,
  toHex,
  toLab,
  typedColor,
} from '#core/color/index';
import { allSwatches, type Swatch } from '#core/swatch/index';
import type { OpenBook } from '~/state/books';
import { usePart } from '~/state/store';
import { useStores, useTray } from '~/state/stores';
import { useWorkspace } from '~/state/workspace';
import { useCondition } from '~/ui/condition';
import { Field } from '~/ui/field';
import { PlainButton } from '~/ui/plain-button';
import { useShortcut } from '~/ui/shortcuts';
import { SwatchFace, swatchLabel } from '~/ui/swatch';
import { useAsked } from '~/ui/use-asked';
import css from './EntryField.module.css';
import { useTake } from './use-take';

const MIN_FOREIGN = 2;
const TYPING_MS = 250;

/** Goes to a number, a name or the colour closest to one while it is typed. */
export function EntryField({ book }: { book: OpenBook }) {
  const { books } = useStores();
  const condition = useCondition();
  const take = useTake();
  const input = useRef<HTMLInputElement>(null);
  const [text, setText] = useState('');
  const [hit, setHit] = useState(0);
  const [beside, setBeside] = useState<HTMLElement | null>(null);
  // made when a colour is first looked for: most look for numbers
  const index = useRef<{ book: OpenBook; index: NearIndex } | null>(null);
  const closestAt = (lab: Lab) => {
    if (index.current?.book !== book) index.current = { book, index: new NearIndex(book.labs) };
    return index.current.index.closest(lab);
  };
  const closestTo = (color: Color) => closestAt(toLab(color, condition));
  const color = typedColor(text);
  const near = color && closestTo(color);
  const [hits, setHits] = useState<number[]>([]);

  // a number of another book leads to what is closest to it in this one
  const isForeign = hits.length === 0 && !color && text.trim().length >= MIN_FOREIGN;
  const { value: foreign } = useAsked(
    isForeign ? () => books.findElsewhere(text, book.id) : null,
    [text, isForeign, book, books],
    { wait: TYPING_MS },
  );
  const equal = isForeign && foreign ? closestAt(foreign.lab) : null;
  const equalPlace = equal?.place;
  useEffect(() => {
    if (equalPlace !== undefined) books.choose(book, equalPlace);
  }, [equalPlace, book, books]);

  useShortcut('number', () => {
    setText('');
    input.current?.focus();
    // the digit goes into the field
    return false;
  });

  const type = (typed: string) => {
    setText(typed);
    setHit(0);
    const wanted = typedColor(typed);
    const words = wanted ? null : colorWords(typed);
    const named = wanted ? [] : findEntries(book.named, typed);
    // names go first: an ink can be called so
    const byWords = words ? findByWords(book.labs, words).filter((place) => !named.includes(place)) : [];
    const found = [...named, ...byWords];
    setHits(found);
    const place = wanted ? closestTo(wanted)?.place : found[0];
    if (place !== undefined) books.choose(book, place);
  };
  const step = (by: number) => {
    if (hits.length === 0) return;
    const next = (hit + by + hits.length) % hits.length;
    setHit(next);
    books.choose(book, hits[next]!);
  };
  const key = (event: KeyboardEvent) => {
    if (event.key === 'ArrowDown' || event.key === 'ArrowUp') step(event.key === 'ArrowDown' ? 1 : -1);
    else if (event.key === 'Enter') void take(book);
    else if (event.key === 'Escape') {
      setText('');
      input.current?.blur();
    } else return;
    event.preventDefault();
  };
  const said = () => {
    if (color) return near ? `closest, ΔE00 ${near.difference.toFixed(1)}` : 'nothing here';
    if (isForeign && foreign && equal)
      return `closest to ${foreign.name} of ${foreign.book}, ΔE00 ${equal.difference.toFixed(1)}`;
    if (hits.length === 0) return 'no match';
    return hits.length === 1
      ? '1 found'
      : `${hit + 1} of ${hits.length > 200 ? 'many' : hits.length}, ↓ for the next`;
  };
  return (
    <span className={css.entry}>
      <label className={css.field}>
        <span className="caption">number or name</span>
        <Field
          ref={input}
          className="mono"
          aria-label="Number, name or colour"
          title="A number, a name, words such as “dark blue”, or a colour such as #8a1c24 or Lab 40 57 33. ↓ goes to the next, Enter takes it."
          autoComplete="off"
          spellCheck={false}
          value={text}
          onChange={(e) => type(e.target.value)}
          onKeyDown={key}
        />
      </label>
      <PlainButton
        look="icon"
        title="Closest to a colour of the tray or the library"
        aria-label="Closest to…"
        aria-haspopup="dialog"
        aria-expanded={!!beside}
        onClick={(e) => setBeside(e.currentTarget)}
      >
        <Pipette size={15} strokeWidth={1.7} />
      </PlainButton>
      {text.trim() !== '' && (
        <span className={`caption ${css.said}`} role="status">
          {color && <i style={{ background: toHex(color, condition) }} />}
          {said()}
        </span>
      )}
      <Popover
        open={!!beside}
        anchorEl={beside}
        onClose={() => setBeside(null)}
        anchorOrigin={{ vertical: 'bottom', horizontal: 'left' }}
      >
        <Closest
          onChoose={(swatch) => {
            setBeside(null);
            type(toHex(swatch.color, condition));
            // inks and Lab are more than their hex
            const found = closestTo(swatch.color);
            if (found) books.choose(book, found.place);
          }}
        />
      </Popover>
    </span>
  );
}

const MAX_SHOWN = 96;

/** Colours of the tray and of the open library, to find the closest ink to. */
function Closest({ onChoose }: { onChoose(swatch: Swatch): void }) {
  const condition = useCondition();
  const tray = usePart(useTray(), (s) => s.library);
  const workspace = useWorkspace();
  const library = workspace?.store.snapshot().library;
  const lists: [string, Swatch[]][] = [
    ['Tray', allSwatches(tray)],
    ...(library ? library.groups.map((g): [string, Swatch[]] => [g.name || 'No group', g.swatches]) : []),
  ];
  let left = MAX_SHOWN;
  const shown = lists.flatMap(([name, swatches]) => {
    const some = swatches.slice(0, left);
    left -= some.length;
    return some.length > 0 ? [[name, some] as const] : [];
  });
  return (
    <div className={css.closest} role="dialog" aria-label="Closest to">
      {shown.length === 0 && <p className="second">Neither the tray nor a library holds a colour yet.</p>}
      {shown.map(([name, swatches]) => (
        <section key={name} aria-label={name}>
          <h3 className="caption">{name}</h3>
          <div className={css.faces}>
            {swatches.map((s) => (
              <PlainButton
                key={s.id}
                title={swatchLabel(s, condition)}
                aria-label={`Closest to ${swatchLabel(s, condition)}`}
                onClick={() => onChoose(s)}
              >
                <SwatchFace swatch={s} className={css.face} />
              </PlainButton>
            ))}
          </div>
        </section>
      ))}
    </div>
  );
}
