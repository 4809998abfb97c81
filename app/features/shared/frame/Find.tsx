import Popover from '@mui/material/Popover';
import { useDeferredValue, useEffect, useMemo, useRef, useState } from 'react';
import { useNavigate } from 'react-router';
import { toHex } from '#core/color/index';
import { gradientsOf, resolvedStops } from '#core/swatch/index';
import { usePart } from '~/state/store';
import { useLibrary } from '~/state/workspace';
import { useCondition } from '~/ui/condition';
import { Field } from '~/ui/field';
import { useShortcut } from '~/ui/shortcuts';
import { groupLabel, SwatchFace, sideBySide, swatchLabel } from '~/ui/swatch';
import css from './Find.module.css';
import { useHits } from './use-hits';

const MAX_SHOWN = 12;

/** Finds a swatch of the open library by name, code, role or hex, or a gradient by name, and goes to it. */
export function Find() {
  const { store, select } = useLibrary();
  const condition = useCondition();
  const [query, setQuery] = useState('');
  const [open, setOpen] = useState(false);
  const [at, setAt] = useState(0);
  const input = useRef<HTMLInputElement>(null);
  const navigate = useNavigate();

  // on a phone it is behind a button, which the header opens for it
  useShortcut('find', () => requestAnimationFrame(() => input.current?.focus()));

  const wanted = useDeferredValue(query.trim().toLocaleLowerCase('en'));
  // the library matters only while something is looked for in it
  const library = usePart(store, (s) => (wanted ? s.library : null));
  const { of, found, library: through } = useHits(library, wanted, condition);
  const gradients = useMemo(
    () =>
      library ? gradientsOf(library).filter((g) => g.name.toLocaleLowerCase('en').includes(wanted)) : [],
    [library, wanted],
  );
  const shown = open && wanted !== '';
  // swatches first, gradients after those that are shown
  const swatches = found.slice(0, MAX_SHOWN);
  const total = swatches.length + Math.min(gradients.length, MAX_SHOWN);
  const go = (index: number) => {
    const hit = swatches[index];
    const gradient = gradients[index - swatches.length];
    if (!hit && !gradient) return;
    if (hit) select([hit.swatch.id]);
    setOpen(false);
    void navigate(`/libraries/${store.id}/arrange`, hit ? {} : { state: { gradient: gradient!.id } });
  };
  // who presses Enter before all are found means the first of what was typed
  const [eager, setEager] = useState(false);
  const ready = of === query.trim().toLocaleLowerCase('en');
  // biome-ignore lint/correctness/useExhaustiveDependencies: it goes once, with what is there then
  useEffect(() => {
    if (!eager || !ready) return;
    setEager(false);
    go(at);
  }, [eager, ready]);
  return (
    <>
      <Field
        ref={input}
        className={css.find}
        placeholder="Find        /"
        aria-label="Find a swatch in this library"
        role="combobox"
        aria-expanded={shown}
        aria-controls="found"
        aria-activedescendant={shown && total > 0 ? `found-${at}` : undefined}
        value={query}
        onChange={(e) => {
          setQuery(e.target.value);
          setAt(0);
          setOpen(true);
          setEager(false);
        }}
        onFocus={() => setOpen(true)}
        onBlur={() => setOpen(false)}
        onKeyDown={(e) => {
          if (e.key === 'ArrowDown') setAt(Math.max(0, Math.min(at + 1, total - 1)));
          if (e.key === 'ArrowUp') setAt(Math.max(at - 1, 0));
          if (e.key === 'Enter') setEager(true);
          if (e.key === 'Escape') {
            setQuery('');
            input.current?.blur();
          }
        }}
      />
      <Popover
        open={shown}
        role="region"
        aria-label="Found"
        anchorEl={input.current}
        anchorOrigin={{ vertical: 'bottom', horizontal: 'left' }}
        disableAutoFocus
        disableEnforceFocus
        disableRestoreFocus
        hideBackdrop
        disableScrollLock
        className={css.over}
        slotProps={{ paper: { className: css.list } }}
      >
        <div role="listbox" id="found" aria-label="Swatches found">
          {swatches.map(({ swatch, group }, i) => (
            // biome-ignore lint/a11y/useKeyWithClickEvents: the field's arrow keys and Enter do the same
            // biome-ignore lint/a11y/useFocusableInteractive: the focus stays in the field
            <div
              key={swatch.id}
              id={`found-${i}`}
              role="option"
              aria-selected={i === at}
              className={css.hit}
              // the field must not lose its focus before the click arrives
              onMouseDown={(e) => e.preventDefault()}
              onClick={() => go(i)}
            >
              <SwatchFace swatch={swatch} className={css.face} />
              <span className={css.words}>
                <span className="cut" dir="auto">
                  {swatchLabel(swatch, condition)}
                </span>
                <span className="caption cut">
                  {[through && groupLabel(through, through.groups.indexOf(group)), swatch.code, swatch.role]
                    .filter(Boolean)
                    .join(' · ')}
                </span>
              </span>
            </div>
          ))}
          {gradients.slice(0, MAX_SHOWN).map((g, k) => (
            // biome-ignore lint/a11y/useKeyWithClickEvents: see above
            // biome-ignore lint/a11y/useFocusableInteractive: see above
            <div
              key={g.id}
              id={`found-${swatches.length + k}`}
              role="option"
              aria-selected={swatches.length + k === at}
              className={css.hit}
              onMouseDown={(e) => e.preventDefault()}
              onClick={() => go(swatches.length + k)}
            >
              <span
                className={css.face}
                style={{
                  background: sideBySide(
                    resolvedStops(g, (id) => store.rows.find(id)?.swatch).map((s) =>
                      toHex(s.color, condition),
                    ),
                  ),
                }}
              />
              <span className={css.words}>
                <span className="cut" dir="auto">
                  {g.name}
                </span>
                <span className="caption cut">gradient</span>
              </span>
            </div>
          ))}
        </div>
        <p className={`caption ${css.note}`}>
          {total === 0
            ? 'No match. Names, codes, roles, hex codes and words such as “dark blue” are searched.'
            : found.length > MAX_SHOWN
              ? `${found.length - MAX_SHOWN} more; type on to narrow it down.`
              : 'Enter goes to it.'}
        </p>
      </Popover>
    </>
  );
}
