import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import { useEffect, useMemo, useState } from 'react';
import { type Color, deltaE00, toHex, toLab } from '#core/color/index';
import { VARIATION_STEPS, VARIATIONS, variationOf } from '#core/tune/index';
import { BasePicker } from '~/features/shared/BasePicker';
import { type Surround, surrounds } from '~/theme/tokens';
import { useCondition } from '~/ui/condition';
import { useOneStop } from '~/ui/one-stop';
import { PlainButton } from '~/ui/plain-button';
import { swatchLabel } from '~/ui/swatch';
import css from './BySight.module.css';
import type { TuneState } from './use-tune';

/** How long each of two is shown in turn, ms: slower than three flashes a second (WCAG 2.2, 2.3.1). */
const TURN_MS = 700;

const WORDS = {
  lightness: ['darker', 'lighter'],
  chroma: ['calmer', 'stronger'],
  hue: ['one way round', 'the other'],
} as const;

/** A colour large and plain in the three surrounds, beside another, before and after in turn, and with those an eye just tells apart. */
export function BySight({ state, onClose }: { state: TuneState; onClose(): void }) {
  const condition = useCondition();
  const [first] = state.tuned;
  const [isBefore, setBefore] = useState(false);
  const [inTurn, setInTurn] = useState(false);
  const [beside, setBeside] = useState<{ color: Color; name: string } | null>(null);
  const [picking, setPicking] = useState(false);
  useEffect(() => {
    if (!inTurn) return;
    const timer = setInterval(() => setBefore((was) => !was), TURN_MS);
    return () => clearInterval(timer);
  }, [inTurn]);
  if (!first) return null;
  const shown = isBefore ? first.swatch.color : first.color;
  const name = swatchLabel(first.swatch, condition);
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="lg">
      <DialogTitle className="cut" dir="auto">
        {name}
      </DialogTitle>
      <DialogContent>
        <div className={css.fields}>
          {(Object.keys(surrounds) as Surround[]).map((id) => (
            <div key={id} className={css.surround} style={{ background: surrounds[id].surround }}>
              <i style={{ background: toHex(shown, condition) }} />
              {beside && <i style={{ background: toHex(beside.color, condition) }} />}
            </div>
          ))}
        </div>
        <div className={css.acts}>
          <PlainButton look="tab" aria-pressed={isBefore && !inTurn} onClick={() => show(true)}>
            Before
          </PlainButton>
          <PlainButton look="tab" aria-pressed={!isBefore && !inTurn} onClick={() => show(false)}>
            After
          </PlainButton>
          <PlainButton look="tab" aria-pressed={inTurn} onClick={() => setInTurn(!inTurn)}>
            In turn
          </PlainButton>
          <span className="mono">ΔE00 {first.deltaE00.toFixed(1)}</span>
          <span className={css.beside}>
            {beside && (
              <span className="second cut" dir="auto">
                beside {beside.name}, ΔE00{' '}
                {deltaE00(toLab(shown, condition), toLab(beside.color, condition)).toFixed(1)}
              </span>
            )}
            {beside && (
              <PlainButton look="link" onClick={() => setBeside(null)}>
                alone
              </PlainButton>
            )}
            <PlainButton look="link" aria-expanded={picking} onClick={() => setPicking(!picking)}>
              {beside ? 'beside another…' : 'Beside another…'}
            </PlainButton>
          </span>
        </div>
        {picking && (
          <BasePicker
            onPick={({ color, name: theirs }) => {
              setBeside({ color, name: theirs || toHex(color, condition).toUpperCase() });
              setPicking(false);
            }}
          />
        )}
        {state.tuned.length === 1 && !picking && <Variations state={state} />}
      </DialogContent>
      <DialogActions>
        <Button variant="contained" autoFocus onClick={onClose}>
          Done
        </Button>
      </DialogActions>
    </Dialog>
  );

  function show(before: boolean) {
    setInTurn(false);
    setBefore(before);
  }
}

/** What differs so little that an eye just tells it: a press takes it. */
function Variations({ state }: { state: TuneState }) {
  const condition = useCondition();
  const stop = useOneStop<HTMLFieldSetElement>();
  const { color } = state.tuned[0]!;
  const { gamut } = state;
  const rows = useMemo(
    () =>
      VARIATIONS.map((what) => ({
        what,
        steps: VARIATION_STEPS.map((step) => ({
          step,
          made: variationOf(color, what, step, gamut, condition),
        })),
      })),
    [color, gamut, condition],
  );
  return (
    <fieldset {...stop} className={css.grid} aria-label="Variations">
      <span />
      {[...VARIATION_STEPS.slice(0, 3), 0, ...VARIATION_STEPS.slice(3)].map((step) => (
        <span key={step} className="caption mono" aria-hidden>
          {step === 0 ? 'now' : Math.abs(step)}
        </span>
      ))}
      {rows.flatMap(({ what, steps }) => [
        <span key={what} className={`second ${css.what}`}>
          {what}
        </span>,
        ...steps.slice(0, 3).map(cell(what)),
        <i key={`${what} now`} style={{ background: toHex(color, condition) }} />,
        ...steps.slice(3).map(cell(what)),
      ])}
    </fieldset>
  );

  function cell(what: (typeof VARIATIONS)[number]) {
    return ({ step, made }: { step: number; made: Color | null }) => {
      const label = `${WORDS[what][step < 0 ? 0 : 1]}, ΔE00 ${Math.abs(step)}`;
      if (!made)
        return <span key={`${what} ${step}`} className={css.none} title={`${label}: there is none`} />;
      return (
        <PlainButton
          key={`${what} ${step}`}
          style={{ background: toHex(made, condition) }}
          aria-label={label}
          title={label}
          // what was done before is in it
          onClick={() => state.replace({ values: made })}
        />
      );
    };
  }
}
