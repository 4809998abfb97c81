import Button from '@mui/material/Button';
import { useState } from 'react';
import { allSwatches, removeSwatches } from '#core/swatch/index';
import { useLibraryState, useTray } from '~/state/stores';
import { count, SwatchFace, swatchLabel } from '~/ui/swatch';
import { useTold } from '~/ui/toast';
import { PlaceDialog } from './PlaceDialog';

const MOST_SHOWN = 120;

/** The strip where gathered colours wait. */
export function Tray() {
  const tray = useTray();
  const { library, undo, problem, said } = useLibraryState(tray);
  useTold(said, tray.dismiss);
  const [placing, setPlacing] = useState(false);
  const swatches = allSwatches(library);
  const wide = swatches.length <= 12;
  if (swatches.length === 0)
    return (
      <section className="tray bar" aria-label="Tray">
        <strong>Tray</strong>
        <span className="caption">empty · gathered colours wait here until you place them</span>
        {undo?.startsWith('delete') && (
          <Button variant="text" onClick={() => tray.undo()}>
            Bring back the last ones
          </Button>
        )}
      </section>
    );
  return (
    <section className="tray filled bar" aria-label="Tray">
      <div style={{ width: 96, flex: 'none' }}>
        <strong>Tray</strong>
        <div className="caption">{swatches.length} waiting</div>
      </div>
      <div style={{ display: 'flex', gap: wide ? 5 : 1, flex: 1, minWidth: 0, overflow: 'hidden' }}>
        {swatches.slice(0, MOST_SHOWN).map((s) => (
          <button
            key={s.id}
            type="button"
            title={`${swatchLabel(s)} · click to take it out of the tray`}
            aria-label={`Take ${swatchLabel(s)} out of the tray`}
            onClick={() => tray.edit(removeSwatches([s.id]))}
            style={{
              flex: '1 1 0',
              maxWidth: 48,
              minWidth: 3,
              height: 48,
              border: 0,
              padding: 0,
              background: 'none',
              cursor: 'pointer',
            }}
          >
            <SwatchFace swatch={s} style={{ height: 48 }} />
          </button>
        ))}
      </div>
      <span className="caption" style={{ maxWidth: 150 }}>
        {problem ??
          (swatches.length > MOST_SHOWN
            ? `${count(swatches.length - MOST_SHOWN, 'more colour')} not shown`
            : '')}
      </span>
      {undo && (
        <Button variant="text" onClick={() => tray.undo()}>
          Undo
        </Button>
      )}
      <Button onClick={() => tray.edit(removeSwatches(swatches.map((s) => s.id)))}>Empty</Button>
      <Button variant="contained" onClick={() => setPlacing(true)}>
        Place in…
      </Button>
      {placing && <PlaceDialog onClose={() => setPlacing(false)} />}
    </section>
  );
}
