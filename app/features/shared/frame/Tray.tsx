import Button from '@mui/material/Button';
import { lazy, Suspense, useState } from 'react';
import { screenOnly } from '#core/color/index';
import { allSwatches, removeSwatches } from '#core/swatch/index';
import { useLibraryState, useTray } from '~/state/stores';
import { ConditionContext, useCondition } from '~/ui/condition';
import { dragSwatch } from '~/ui/drag-swatch';
import { BottomBar } from '~/ui/Frame';
import { useOneStop } from '~/ui/one-stop';
import { PlainButton } from '~/ui/plain-button';
import { ariaKeys, isPressed, useShortcut } from '~/ui/shortcuts';
import { count, SwatchFace, swatchLabel } from '~/ui/swatch';
import { useTold } from '~/ui/toast';
import { useNearest } from '../match/nearest';
import css from './Tray.module.css';

const TuneDialog = lazy(() => import('../tune/TuneDialog').then((m) => ({ default: m.TuneDialog })));
const PlaceDialog = lazy(() => import('./PlaceDialog').then((m) => ({ default: m.PlaceDialog })));

const MAX_SHOWN = 120;

/** The strip where gathered colours wait. */
export function Tray() {
  const around = useCondition();
  const tray = useTray();
  const { library, condition: own, undo, problem, said, whole } = useLibraryState(tray);
  // the open library says how the colours look, once it is here
  const condition = around === screenOnly ? own : around;
  useTold(said, tray.dismiss);
  const [placing, setPlacing] = useState(false);
  const [tuning, setTuning] = useState(false);
  const nearest = useNearest();
  // inks wait until it is known what they look like
  const swatches = allSwatches(library).filter(
    (s) => condition !== screenOnly || !screenOnly.isDevice(s.color),
  );
  const stop = useOneStop<HTMLDivElement>();
  const wide = swatches.length <= 12;
  useShortcut('place', () => {
    if (swatches.length === 0) return false;
    setPlacing(true);
    return true;
  });
  if (swatches.length === 0)
    return (
      <BottomBar label="Tray">
        <strong>Tray</strong>
        <span className="caption" role="status">
          {problem ?? (whole ? 'empty · gathered colours wait here until you place them' : 'reading…')}
        </span>
        {undo?.startsWith('delete') && (
          <Button variant="text" onClick={() => tray.undo()}>
            Restore the last ones
          </Button>
        )}
      </BottomBar>
    );
  return (
    <ConditionContext value={condition}>
      <BottomBar label="Tray" filled>
        <div className={css.count}>
          <strong>Tray</strong>
          <div className="caption">{swatches.length} waiting</div>
        </div>
        <div {...stop} className={css.colors} data-wide={wide} data-no-act>
          {swatches.slice(0, MAX_SHOWN).map((s) => (
            <PlainButton
              key={s.id}
              title={`${swatchLabel(s, condition)} · click to remove it from the tray`}
              aria-label={`Remove ${swatchLabel(s, condition)} from the tray`}
              draggable
              onDragStart={dragSwatch(s)}
              onClick={() => tray.edit(removeSwatches([s.id]))}
              onKeyDown={(e) => {
                if (!isPressed('nearest', e) && !isPressed('tune', e)) return;
                // and not to what is chosen on the screen
                e.stopPropagation();
                e.preventDefault();
                if (isPressed('tune', e)) setTuning(true);
                else if (condition !== screenOnly)
                  nearest({ color: s.color, name: swatchLabel(s, condition), condition });
              }}
            >
              <SwatchFace swatch={s} className={css.face} />
            </PlainButton>
          ))}
        </div>
        <span className={`caption ${css.more}`}>
          {problem ??
            (swatches.length > MAX_SHOWN
              ? `${count(swatches.length - MAX_SHOWN, 'more colour')} not shown`
              : '')}
        </span>
        {undo && (
          <Button variant="text" onClick={() => tray.undo()}>
            Undo
          </Button>
        )}
        <Button
          variant="text"
          title="Lighter, calmer, another hue, another light"
          onClick={() => setTuning(true)}
        >
          Tune…
        </Button>
        <Button onClick={() => tray.edit(removeSwatches(swatches.map((s) => s.id)))}>Empty</Button>
        <Button
          variant="contained"
          aria-keyshortcuts={ariaKeys('place')}
          title="Place in a library or group (Ctrl or Cmd + Shift + Enter)"
          onClick={() => setPlacing(true)}
        >
          Place in…
        </Button>
        <Suspense>
          {placing && <PlaceDialog onClose={() => setPlacing(false)} />}
          {tuning && (
            <TuneDialog
              title="Tune the tray"
              swatches={swatches}
              save="Save"
              onSave={(_, edit) => tray.edit(edit)}
              onClose={() => setTuning(false)}
            />
          )}
        </Suspense>
      </BottomBar>
    </ConditionContext>
  );
}
