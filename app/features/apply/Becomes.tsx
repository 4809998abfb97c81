import Button from '@mui/material/Button';
import { useId, useState } from 'react';
import { useNavigate } from 'react-router';
import { type PartFacts, paletteOf } from '#core/artwork/index';
import { addGroups, removeOutline, type Swatch, type Wish } from '#core/swatch/index';
import { baseName } from '#core/text/names';
import { isTunable } from '#core/tune/tunable';
import { useToTray } from '~/features/shared/use-to-tray';
import { useLibrary } from '~/state/workspace';
import { useCondition } from '~/ui/condition';
import { SelectField } from '~/ui/field';
import { NumberField } from '~/ui/number-field';
import { PlainButton } from '~/ui/plain-button';
import { Choices } from '~/ui/setting';
import { count } from '~/ui/swatch';
import { useToast, wayBack } from '~/ui/toast';
import css from './Becomes.module.css';
import { useBecomes } from './ColorList';
import type { Entry } from './entries';
import { OutlineDialog } from './OutlineDialog';
import { type Meant, PaintField } from './PaintField';
import { RepairDialog } from './RepairDialog';
import { type ApplyState, newId } from './use-apply';

/** Of a line that nobody has said more of, mm: a hairline that every machine sees (common practice, no source). */
const HAIR = 0.25;

/** What the chosen colour becomes: typed, following another, or as a line for a machine. Below it, what is done with all of them. */
export function Becomes({
  state,
  target,
  entry,
  part,
  alone,
  onAlone,
  onTake,
  onWish,
  canFollow,
}: {
  state: ApplyState;
  target: Entry | null;
  /** The line of the list that it is of. */
  entry: Entry | null;
  /** The part of it that was pointed at. */
  part: PartFacts | null;
  alone: boolean;
  onAlone(on: boolean): void;
  onTake(meant: Meant): void;
  onWish(wish: Wish | null, label: string): void;
  canFollow(key: string): boolean;
}) {
  return (
    <div className={css.detail}>
      {target && entry ? (
        <Chosen {...{ state, target, entry, part, alone, onAlone, onTake, onWish, canFollow }} />
      ) : (
        <p className="second">
          Choose a colour above or a part of the drawing. Then type a number, a name or a code, or take a
          swatch from the left.
        </p>
      )}
      <Outlines state={state} />
      <All state={state} />
    </div>
  );
}

function Chosen({
  state,
  target,
  entry,
  part,
  alone,
  onAlone,
  onTake,
  onWish,
  canFollow,
}: Omit<Parameters<typeof Becomes>[0], 'target' | 'entry'> & { target: Entry; entry: Entry }) {
  const { rows, library } = state;
  const id = useId();
  const [row] = target.rows;
  const becomes = useBecomes(target);
  const called = target.name || row!.from.hex.toUpperCase();
  const following = rows.filter((r) => r.follows && target.keys.includes(r.follows));
  const leads = rows.filter((r) => !target.rows.includes(r) && canFollow(r.key));
  const technical = target.rows.length === 1 && row!.swatch?.kind === 'technical';
  const touched = target.rows.some((r) => r.state !== 'drawn');
  const canLine = target.parts.some((p) => p.role !== 'stop');
  const follow = (key: string, lighter = row!.lighter ?? 0) => {
    const lead = rows.find((r) => r.key === key);
    if (lead)
      onWish(
        { follows: key, color: lead.color, ...(lighter ? { lighter } : {}) },
        `let “${called}” follow “${lead.names[0] || lead.from.hex}”`,
      );
  };
  return (
    <>
      <div className={css.title}>
        <strong className="cut" dir="auto" title={becomes}>
          {becomes}
        </strong>
        <span className="mono">{row!.swatch?.code ?? (row!.swatch ? row!.to.toUpperCase() : '')}</span>
      </div>
      {entry.parts.length > 1 && part && (
        <Choices className={css.scope} aria-label="What changes">
          <PlainButton look="tab" aria-pressed={!alone} onClick={() => onAlone(false)}>
            all {entry.parts.length.toLocaleString('en-GB')} parts
          </PlainButton>
          <PlainButton look="tab" aria-pressed={alone} onClick={() => onAlone(true)}>
            only this one
          </PlainButton>
        </Choices>
      )}
      <PaintField library={library} label={`What ${called} becomes`} onTake={onTake} />
      <div className={css.line}>
        <label className="caption" htmlFor={id}>
          Follows
        </label>
        <SelectField
          id={id}
          className={css.follows}
          value={row!.follows ?? ''}
          onChange={(e) =>
            e.target.value ? follow(e.target.value) : onWish(null, `let “${called}” follow nothing`)
          }
        >
          <option value="">nothing</option>
          {leads.map((r) => (
            <option key={r.key} value={r.key}>
              {r.names[0] || r.from.hex.toUpperCase()}
            </option>
          ))}
        </SelectField>
        {row!.follows && (
          <NumberField
            label="Lighter than what it follows"
            silent
            unit="L*"
            value={row!.lighter ?? 0}
            min={-100}
            max={100}
            onChange={(lighter) => follow(row!.follows!, lighter)}
          />
        )}
      </div>
      {following.length > 0 && (
        <p className="caption">
          Dyed to match: {following.map((r) => r.names[0] || r.from.hex.toUpperCase()).join(', ')}.
        </p>
      )}
      {technical && canLine && (
        <div className={css.line}>
          <Choices className={css.scope} aria-label="How the machine gets it">
            <PlainButton
              look="tab"
              aria-pressed={!row!.line}
              onClick={() => onWish({ swatch: row!.swatch! }, `make “${called}” an area`)}
            >
              as drawn
            </PlainButton>
            <PlainButton
              look="tab"
              aria-pressed={!!row!.line}
              onClick={() => onWish({ swatch: row!.swatch!, line: HAIR }, `make “${called}” a line`)}
            >
              line, no fill
            </PlainButton>
          </Choices>
          {row!.line && (
            <NumberField
              label="Line width"
              silent
              unit="mm"
              value={row!.line}
              min={0.01}
              max={20}
              step={0.05}
              decimals={2}
              onChange={(line) => onWish({ swatch: row!.swatch!, line }, `set the line of “${called}”`)}
            />
          )}
        </div>
      )}
      <div className={css.links}>
        {touched && (
          <PlainButton look="link" onClick={() => onWish(null, `leave “${called}” as it was drawn`)}>
            As it was drawn
          </PlainButton>
        )}
        <TuneButton swatch={row!.swatch} />
        <AroundButton state={state} target={target} />
      </div>
    </>
  );
}

/** Takes the swatch that a colour becomes to Tune. */
function TuneButton({ swatch }: { swatch: Swatch | undefined }) {
  const { store, select } = useLibrary();
  const navigate = useNavigate();
  if (!swatch || !isTunable(swatch) || !store.rows.find(swatch.id)) return null;
  return (
    <PlainButton
      look="link"
      onClick={() => {
        select([swatch.id]);
        void navigate(`/libraries/${store.id}/arrange`, { state: { tune: true } });
      }}
    >
      Tune…
    </PlainButton>
  );
}

/** A line around the chosen parts, for the cutter. */
function AroundButton({ state, target }: { state: ApplyState; target: Entry }) {
  const [open, setOpen] = useState(false);
  if (state.facts?.form === 'picture') return null;
  return (
    <>
      <PlainButton look="link" aria-haspopup="dialog" onClick={() => setOpen(true)}>
        Line around it…
      </PlainButton>
      {open && <OutlineDialog state={state} target={target} onClose={() => setOpen(false)} />}
    </>
  );
}

/** The lines that go around parts. */
function Outlines({ state }: { state: ApplyState }) {
  const { artwork, store, swatchOf } = state;
  const outlines = artwork?.data.outlines ?? [];
  const condition = useCondition();
  const toast = useToast();
  if (!artwork || outlines.length === 0 || !condition) return null;
  return (
    <ul className={css.outlines} aria-label="Lines around parts">
      {outlines.map((o) => {
        const swatch = swatchOf(artwork.refs[o.ref] ?? '');
        return (
          <li key={o.id}>
            <span className="cut" dir="auto">
              {swatch ? swatch.name : `${o.name}, deleted`}
            </span>
            <span className="caption">
              {o.width} mm, {o.offset >= 0 ? `${o.offset} mm outside` : `${-o.offset} mm inside`}
            </span>
            <PlainButton
              look="link"
              aria-label={`Remove the line ${o.name}`}
              onClick={() => {
                const done = store.edit(removeOutline(artwork, o.id));
                if (done) toast({ text: 'Line removed.', ...wayBack([store, done]) });
              }}
            >
              Remove
            </PlainButton>
          </li>
        );
      })}
    </ul>
  );
}

/** What is done with all colours of the artwork. */
function All({ state }: { state: ApplyState }) {
  const { strays, rows, facts, artwork, store, condition } = state;
  const [repairing, setRepairing] = useState(false);
  const [taking, setTaking] = useState(false);
  const toTray = useToTray();
  const toast = useToast();
  if (!facts || !artwork) return null;
  const palette = () =>
    paletteOf(
      rows.map((r) => ({
        ...{ color: r.color, names: r.names },
        ...(r.state === 'drawn' && r.from.ink ? { ink: r.from.ink } : {}),
      })),
      newId,
      artwork.name,
      condition,
    );
  return (
    <div className={css.all}>
      {taking ? (
        <>
          <Button
            onClick={() => {
              setTaking(false);
              void toTray(palette());
            }}
          >
            To the tray
          </Button>
          <Button
            onClick={() => {
              setTaking(false);
              const done = store.edit(
                addGroups(store.rows, [{ id: newId(), name: baseName(artwork.name), swatches: palette() }]),
              );
              if (done)
                toast({
                  text: `${count(rows.length, 'swatch', 'swatches')} in a group of their own.`,
                  ...wayBack([store, done]),
                });
            }}
          >
            As a group
          </Button>
          <PlainButton look="link" onClick={() => setTaking(false)}>
            Cancel
          </PlainButton>
        </>
      ) : (
        <>
          <Button onClick={() => setTaking(true)}>Palette from this artwork</Button>
          <Button disabled={strays.length === 0} onClick={() => setRepairing(true)}>
            Repair {strays.length}
          </Button>
        </>
      )}
      {repairing && <RepairDialog state={state} onClose={() => setRepairing(false)} />}
    </div>
  );
}
