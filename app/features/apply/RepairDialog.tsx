import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import { useState } from 'react';
import { toHex } from '#core/color/index';
import { NumberField } from '~/ui/number-field';
import { count, swatchLabel } from '~/ui/swatch';
import { WingPair } from '~/ui/wing-pair';
import css from './Dialogs.module.css';
import type { ApplyState } from './use-apply';

/** Converters and screens shift codes by a step or two; that is well below this. */
const USUAL = 2;

/** Colours that match no swatch, each with the nearest; all within a ΔE become that in one step. */
export function RepairDialog({ state, onClose }: { state: ApplyState; onClose(): void }) {
  const { strays, condition } = state;
  const [within, setWithin] = useState(USUAL);
  // the surest first
  const sorted = strays.toSorted((a, b) => a.deltaE00 - b.deltaE00);
  const near = strays.filter((s) => s.deltaE00 <= within);
  const repair = () => {
    state.paint(
      Object.fromEntries(near.map(({ row, nearest }) => [row.key, { swatch: nearest }])),
      `repair ${count(near.length, 'colour')} within ΔE ${within}`,
    );
    onClose();
  };
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="sm">
      <form
        onSubmit={(e) => {
          e.preventDefault();
          repair();
        }}
      >
        <DialogTitle>{count(strays.length, 'colour')} off the palette</DialogTitle>
        <DialogContent>
          {/* biome-ignore lint/a11y/noNoninteractiveTabindex: what scrolls is reached from the keyboard, too */}
          <ul className={css.strays} aria-label="Colours off the palette" tabIndex={0}>
            {sorted.map(({ row, nearest, deltaE00 }) => (
              <li key={row.key} data-far={deltaE00 > within}>
                <span className={css.pair}>
                  <WingPair left={row.to} right={toHex(nearest.color, condition)} />
                </span>
                <span className={css.code}>
                  <span className="cut" dir="auto">
                    {row.names[0] || 'Colour without a name'}
                  </span>
                  <span className="mono caption">{row.to.toUpperCase()}</span>
                </span>
                <span className={css.code}>
                  <span className="cut" dir="auto">
                    {swatchLabel(nearest, condition)}
                  </span>
                  <span className="mono caption">{toHex(nearest.color, condition).toUpperCase()}</span>
                </span>
                <span className="mono">{deltaE00.toFixed(1)}</span>
              </li>
            ))}
          </ul>
          <NumberField
            label="All within ΔE00 of"
            value={within}
            min={0}
            max={100}
            step={0.5}
            decimals={1}
            onChange={setWithin}
          />
        </DialogContent>
        <DialogActions>
          <Button onClick={onClose}>Cancel</Button>
          <Button type="submit" variant="contained" disabled={near.length === 0}>
            Repair {near.length} of {strays.length}
          </Button>
        </DialogActions>
      </form>
    </Dialog>
  );
}
