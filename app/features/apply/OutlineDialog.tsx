import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import { useMemo, useState } from 'react';
import { toHex } from '#core/color/index';
import { addOutline, allSwatches } from '#core/swatch/index';
import { useStores } from '~/state/stores';
import { SelectField } from '~/ui/field';
import { NumberField } from '~/ui/number-field';
import { PlainButton } from '~/ui/plain-button';
import { Choices } from '~/ui/setting';
import { count, swatchLabel } from '~/ui/swatch';
import { useAsked } from '~/ui/use-asked';
import css from './Dialogs.module.css';
import type { Entry } from './entries';
import { type ApplyState, newId } from './use-apply';

/** A line around shapes, so far outside, in a technical swatch: for a cutter. */
export function OutlineDialog({
  state,
  target,
  onClose,
}: {
  state: ApplyState;
  target: Entry;
  onClose(): void;
}) {
  const { store, library, condition, artwork, facts, made } = state;
  const { artworks } = useStores();
  const inks = allSwatches(library).filter((s) => s.kind === 'technical');
  const [ink, setInk] = useState(inks[0]?.id ?? '');
  const [all, setAll] = useState(false);
  const [offset, setOffset] = useState(2);
  const [width, setWidth] = useState(0.25);
  const swatch = inks.find((s) => s.id === ink);
  const of = useMemo(
    () => (all ? (facts?.colors.flatMap((c) => c.parts) ?? []) : target.parts).map((p) => p.key),
    [all, facts, target.parts],
  );
  const known = artwork?.data.worth || artwork?.data.unit === 'mm';
  // a line that cannot be drawn is reported before it is taken
  const { problem } = useAsked(
    artwork && made && swatch
      ? () => {
          const outline = { of, offset, width, color: swatch.color, to: toHex(swatch.color, condition) };
          const drawn = { ...made, outlines: [...made.outlines, outline] };
          return artworks.client.ask('paint', { hash: artwork.data.asset, made: drawn });
        }
      : null,
    [artworks, artwork, made, swatch, condition, offset, width, of],
  );
  const add = () => {
    if (!artwork || !swatch || problem) return;
    store.edit(addOutline(artwork, swatch, { of, offset, width }, newId));
    onClose();
  };
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="xs">
      <form
        onSubmit={(e) => {
          e.preventDefault();
          add();
        }}
      >
        <DialogTitle>A line around it</DialogTitle>
        <DialogContent>
          {inks.length === 0 ? (
            <p>
              The library has no technical swatch. Make one in Arrange under the exact name the machine looks
              for, or take one of the book Processing steps.
            </p>
          ) : (
            <div className={css.fields}>
              <Choices className={css.choices} aria-label="Around what">
                <PlainButton look="tab" aria-pressed={!all} onClick={() => setAll(false)}>
                  {target.name || 'this colour'}, {count(target.parts.length, 'part')}
                </PlainButton>
                <PlainButton look="tab" aria-pressed={all} onClick={() => setAll(true)}>
                  the whole artwork
                </PlainButton>
              </Choices>
              <SelectField aria-label="Technical swatch" value={ink} onChange={(e) => setInk(e.target.value)}>
                {inks.map((s) => (
                  <option key={s.id} value={s.id}>
                    {swatchLabel(s, condition)}
                  </option>
                ))}
              </SelectField>
              <div className={css.numbers}>
                <NumberField
                  label="Outside by"
                  unit="mm"
                  value={offset}
                  min={-50}
                  max={200}
                  step={0.5}
                  decimals={1}
                  onChange={setOffset}
                />
                <NumberField
                  label="Line width"
                  unit="mm"
                  value={width}
                  min={0.01}
                  max={20}
                  step={0.05}
                  decimals={2}
                  onChange={setWidth}
                />
              </div>
              <p className="caption">
                {known
                  ? 'Round at the corners, without the holes. A negative offset goes inside.'
                  : 'The artwork has no physical size: 96 pixels count as an inch until you set its width on the left.'}
              </p>
              {problem && <p role="alert">The line cannot be drawn: {problem}</p>}
            </div>
          )}
        </DialogContent>
        <DialogActions>
          <Button onClick={onClose}>Cancel</Button>
          {inks.length > 0 && (
            <Button type="submit" variant="contained" disabled={!!problem}>
              Draw the line
            </Button>
          )}
        </DialogActions>
      </form>
    </Dialog>
  );
}
