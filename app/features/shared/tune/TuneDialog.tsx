import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import { toHex } from '#core/color/index';
import type { Draft, Swatch } from '#core/swatch/index';
import { type Tuned, tuneSwatches } from '#core/tune/index';
import { useStores } from '~/state/stores';
import { useCondition } from '~/ui/condition';
import { WingPair } from '~/ui/wing-pair';
import css from './Tune.module.css';
import { TuneControls } from './TuneControls';
import { useTune } from './use-tune';

const NONE: readonly Swatch[] = [];
/** More pairs than this are not taken in at a glance. */
const MAX_PAIRS = 48;

/** Colours that lie elsewhere than on the board, tuned: the tray's, those of a take, one of a gradient. */
export function TuneDialog({
  title,
  swatches,
  save,
  onSave,
  onClose,
}: {
  title: string;
  swatches: readonly Swatch[];
  /** What the button says. */
  save: string;
  /** @param edit for a store that has the swatches */
  onSave(tuned: Tuned[], edit: Draft): void;
  onClose(): void;
}) {
  const condition = useCondition();
  const { tunings } = useStores();
  const state = useTune(swatches, NONE);
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="sm">
      <form
        onSubmit={(e) => {
          e.preventDefault();
          const tuned = state.now();
          onSave(tuned, tuneSwatches(tuned, state.words));
          tunings.used(state.tuning);
          onClose();
        }}
        className={css.form}
      >
        <DialogTitle>{title}</DialogTitle>
        <DialogContent>
          {state.tuned.length > 1 && (
            <div className={css.pairs} aria-hidden>
              {state.tuned.slice(0, MAX_PAIRS).map((t) => (
                <WingPair
                  key={t.swatch.id}
                  left={toHex(t.swatch.color, condition)}
                  right={toHex(t.color, condition)}
                />
              ))}
            </div>
          )}
          {state.tuned.length === 0 ? (
            <p className="second">
              Spot and technical inks keep their colours, and there is nothing else here.
            </p>
          ) : (
            <TuneControls state={state} chosen={swatches} />
          )}
        </DialogContent>
        <DialogActions>
          <Button onClick={onClose}>Cancel</Button>
          <Button type="submit" variant="contained" disabled={state.words === '' || state.waiting}>
            {save}
          </Button>
        </DialogActions>
      </form>
    </Dialog>
  );
}
