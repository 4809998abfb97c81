import Button from '@mui/material/Button';
import { useDeferredValue, useMemo } from 'react';
import type { Library } from '#core/swatch/index';
import css from '~/features/shared/tune/Tune.module.css';
import type { TuneState } from '~/features/shared/tune/use-tune';
import { BottomBar } from '~/ui/Frame';
import { count } from '~/ui/swatch';
import { useCheckChanges } from './use-check-changes';

/** The bar below while swatches are tuned: what it comes to, and what becomes of it. */
export function TuneBar({
  state,
  library,
  onSave,
  onSaveAsNew,
  onClose,
}: {
  state: TuneState;
  library: Library;
  onSave(): void;
  onSaveAsNew(): void;
  onClose(): void;
}) {
  const { tuning, gamut, words, contrast, leftAlone, waiting } = state;
  // of many the figures follow when the hand rests
  const tuned = useDeferredValue(state.tuned);
  const { largest, lost } = useMemo(
    () => ({
      largest: tuned.reduce((most, t) => Math.max(most, t.distance), 0),
      lost: tuned.filter((t) => t.lostChroma > 0).length,
    }),
    [tuned],
  );
  const checks = useCheckChanges(library, state.tuned, state.tunedOf, words !== '');
  const nothing = words === '' || tuned.length === 0 || waiting;
  return (
    <BottomBar label="Tune">
      <strong>Tune</strong>
      <span className="caption" role="status">
        {[
          count(tuned.length, 'swatch', 'swatches'),
          words === '' ? 'nothing changed yet' : `largest ΔE00 ${largest.toFixed(1)}`,
          lost > 0
            ? `${lost} lost chroma to stay inside ${gamut.name}`
            : words !== '' && !tuning.values && `all inside ${gamut.name}`,
          contrast.starts > 0 && `${count(contrast.starts, 'pair')} of text and ground now readable`,
          contrast.stops > 0 && `${count(contrast.stops, 'pair')} no longer readable`,
          ...checks,
          leftAlone > 0 && `${count(leftAlone, 'ink')} left alone`,
        ]
          .filter(Boolean)
          .join(' · ')}
      </span>
      <span className={css.buttons}>
        <Button disabled={nothing} onClick={onSaveAsNew}>
          Save as new
        </Button>
        <Button onClick={onClose}>Cancel</Button>
        <Button variant="contained" disabled={nothing} onClick={onSave}>
          Save
        </Button>
      </span>
    </BottomBar>
  );
}
