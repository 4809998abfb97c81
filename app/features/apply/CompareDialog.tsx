import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import { useMemo, useState } from 'react';
import { differences, type Row } from '#core/artwork/index';
import { fromRgb8 } from '#core/color/index';
import type { Colorway } from '#core/swatch/index';
import { madeIn } from '~/features/shared/artwork/made';
import { usePainted } from '~/features/shared/artwork/use-painted';
import { PlainButton } from '~/ui/plain-button';
import { swatchLabel } from '~/ui/swatch';
import { Tick } from '~/ui/tick';
import { WingPair } from '~/ui/wing-pair';
import css from './Dialogs.module.css';
import type { ApplyState } from './use-apply';

/** More pictures beside each other are too small to compare. */
const MAX_COMPARED = 4;

/** What parts that do not differ are drawn in, where those that do are marked. */
const QUIET = fromRgb8(216, 216, 216);
const QUIET_HEX = '#d8d8d8';

/** The work as it was drawn has no colourway. */
type One = Colorway | null;
const idOf = (one: One) => one?.id ?? '';
const nameOf = (one: One) => (one ? one.name || 'Colourway without a name' : 'As drawn');

/** Two to four colourways of the work beside each other, and what differs from the first. */
export function CompareDialog({
  state,
  colorway,
  onClose,
}: {
  state: ApplyState;
  colorway: Colorway;
  onClose(): void;
}) {
  const { colorways, rowsOf, condition } = state;
  const others = useMemo<One[]>(
    () => [...colorways.filter((c) => c !== colorway), null],
    [colorways, colorway],
  );
  const [chosen, setChosen] = useState<string[]>([idOf(others[0]!)]);
  const [isMarked, setMarked] = useState(false);
  const found = useMemo(
    () =>
      others
        .filter((o) => chosen.includes(idOf(o)))
        .map((other) => ({ other, list: differences(rowsOf(colorway), rowsOf(other), condition) })),
    [others, chosen, rowsOf, colorway, condition],
  );
  const differing = new Set(found.flatMap(({ list }) => list.flatMap(({ a }) => a.parts.map((p) => p.key))));
  const toggle = (id: string) =>
    setChosen((was) =>
      was.includes(id)
        ? was.filter((w) => w !== id || was.length === 1)
        : [...was, id].slice(1 - MAX_COMPARED),
    );
  const named = (row: Row) => (row.swatch ? swatchLabel(row.swatch, condition) : row.to.toUpperCase());
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="lg">
      <DialogTitle>Compare colourways</DialogTitle>
      <DialogContent>
        <div className={css.fields}>
          <fieldset className={css.choices} aria-label={`Beside ${nameOf(colorway)}`}>
            {others.map((o) => (
              <PlainButton
                look="tab"
                key={idOf(o)}
                aria-pressed={chosen.includes(idOf(o))}
                onClick={() => toggle(idOf(o))}
              >
                {nameOf(o)}
              </PlainButton>
            ))}
          </fieldset>
          <div className={css.beside}>
            {[colorway, ...found.map((f) => f.other)].map((one) => (
              <Picture key={idOf(one)} state={state} one={one} only={isMarked ? differing : null} />
            ))}
          </div>
          <Tick checked={isMarked} onChange={setMarked} label="Colour only the parts that differ" />
          {found.map(({ other, list }) => (
            <section key={idOf(other)} aria-label={`${nameOf(colorway)} and ${nameOf(other)}`}>
              <h3 className={css.heading}>
                {nameOf(colorway)} and {nameOf(other)}
              </h3>
              {list.length === 0 ? (
                <p>They are the same.</p>
              ) : (
                // biome-ignore lint/a11y/noNoninteractiveTabindex: what scrolls is reached from the keyboard, too
                <ul className={css.strays} aria-label="What differs" tabIndex={0}>
                  {list.map(({ a, b, deltaE00 }) => (
                    <li key={`${a.key} ${b.key}`}>
                      <span className={css.pair}>
                        <WingPair left={a.to} right={b.to} />
                      </span>
                      <span className="cut" dir="auto">
                        {a.names[0] || a.from.hex.toUpperCase()}
                      </span>
                      <span className="cut second" dir="auto">
                        {named(a)} · {named(b)}
                      </span>
                      <span className="mono">{deltaE00.toFixed(1)}</span>
                    </li>
                  ))}
                </ul>
              )}
            </section>
          ))}
        </div>
      </DialogContent>
      <DialogActions>
        <Button variant="contained" onClick={onClose}>
          Close
        </Button>
      </DialogActions>
    </Dialog>
  );
}

/** The work in one of its colourways. */
function Picture({
  state,
  one,
  only,
}: {
  state: ApplyState;
  one: One;
  /** The parts that are coloured; null for all. */
  only: ReadonlySet<string> | null;
}) {
  const { artwork, facts, rowsOf, swatchOf, condition } = state;
  const keys = only && [...only].join();
  const made = useMemo(() => {
    if (!artwork || !facts) return null;
    const rows = rowsOf(one).map((row): Row => {
      if (keys === null || row.parts.some((p) => keys.split(',').includes(p.key))) return row;
      const { swatch: _, line: __, ...rest } = row;
      return { ...rest, state: 'own', to: QUIET_HEX, color: QUIET };
    });
    return madeIn(artwork, facts, rows, swatchOf, condition);
  }, [artwork, facts, rowsOf, one, keys, swatchOf, condition]);
  const { url } = usePainted(artwork?.data.asset, made);
  return (
    <figure className={css.figure}>
      {url && <img src={url} alt={nameOf(one)} />}
      <figcaption className="cut" dir="auto">
        {nameOf(one)}
      </figcaption>
    </figure>
  );
}
