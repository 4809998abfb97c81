import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import { useMemo, useState } from 'react';
import { differences, type Row } from '#core/artwork/index';
import type { Colorway } from '#core/swatch/index';
import { SelectField } from '~/ui/field';
import { swatchLabel } from '~/ui/swatch';
import { WingPair } from '~/ui/wing-pair';
import css from './Dialogs.module.css';
import type { ApplyState } from './use-apply';

/** What differs between two colourways of the work. */
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
  const others = colorways.filter((c) => c !== colorway);
  const [with_, setWith] = useState(others[0]?.id ?? '');
  const other = others.find((c) => c.id === with_) ?? null;
  const found = useMemo(
    () => differences(rowsOf(colorway), rowsOf(other), condition),
    [rowsOf, colorway, other, condition],
  );
  const named = (row: Row) => (row.swatch ? swatchLabel(row.swatch, condition) : row.to.toUpperCase());
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="sm">
      <DialogTitle>{colorway.name} beside another</DialogTitle>
      <DialogContent>
        <div className={css.fields}>
          <SelectField aria-label="Beside" value={with_} onChange={(e) => setWith(e.target.value)}>
            {others.map((c) => (
              <option key={c.id} value={c.id}>
                {c.name}
              </option>
            ))}
            <option value="">As drawn</option>
          </SelectField>
          {found.length === 0 ? (
            <p>They are the same.</p>
          ) : (
            <ul className={css.strays}>
              {found.map(({ a, b, deltaE00 }) => (
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
