import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import { nanoid } from 'nanoid';
import { useMemo, useState } from 'react';
import { toHex } from '#core/color/index';
import { type FileChoice, inScope } from '#core/formats/plan';
import { type RoundTrip, takeBack } from '#core/formats/take-back';
import { goBack, type Library, type Swatch, same } from '#core/swatch/index';
import type { TakenKit } from '#server/kits';
import { call, valueFrom } from '~/api/call';
import { listKits } from '~/api/kits';
import { readWayBack } from '~/api/libraries';
import type { LibraryStore } from '~/state/library-store';
import { useStore } from '~/state/store';
import { useCondition } from '~/ui/condition';
import { SelectField } from '~/ui/field';
import { count } from '~/ui/swatch';
import { Tick } from '~/ui/tick';
import { useToast, wayBack } from '~/ui/toast';
import { useAsked } from '~/ui/use-asked';
import { when } from '~/ui/when';
import { WingPair } from '~/ui/wing-pair';
import { openFilesClient } from '~/workers/clients';
import { useClient } from '~/workers/use-client';
import css from './MergeDialog.module.css';

/** A file of a kit: how it was written, and when. */
interface Handed {
  kit: TakenKit;
  choice: FileChoice;
}

/** The files of a format in the kits that were handed over, the latest first. */
const handedAs = (kits: readonly TakenKit[], format: string): Handed[] =>
  kits.flatMap((kit) =>
    kit.choices.destinations.flatMap(({ files }) => {
      const choice = files.find((f) => f.format === format);
      return choice ? [{ kit, choice }] : [];
    }),
  );

/** A file that was handed over and edited elsewhere: what was done to it, and what of that is taken into the library. */
export function RoundTripDialog({
  store,
  format,
  path,
  returned,
  onClose,
}: {
  store: LibraryStore;
  format: string;
  /** The file's name. */
  path: string;
  returned: Library;
  onClose(done: boolean): void;
}) {
  const condition = useCondition();
  const { library } = useStore(store);
  const toast = useToast();
  const worker = useClient(openFilesClient);
  const [at, setAt] = useState(0);
  const [left, setLeft] = useState<ReadonlySet<string>>(new Set());
  const kits = useAsked(() => valueFrom(call(listKits, { params: { id: store.id } })), [store.id]);
  const handed = useMemo(() => handedAs(kits.value ?? [], format), [kits.value, format]);
  const one = handed[at];
  const found = useAsked(
    one
      ? async (): Promise<{ base: Library; trip: RoundTrip }> => {
          await store.whole();
          await store.saved();
          const params = { id: store.id, seq: String(one.kit.revision) };
          const back = await valueFrom(call(readWayBack, { params }));
          const rows = store.rows.copy();
          goBack(rows, back.inverses);
          const base = inScope(rows.library, one.kit.choices.scope);
          return { base, trip: await worker.ask('comeBack', { base, choice: one.choice, path, returned }) };
        }
      : null,
    [store, one, path, returned],
  );
  const { base, trip } = found.value ?? { base: null, trip: null };
  const then = useMemo(
    () => new Map(base?.groups.flatMap((g) => g.swatches).map((s) => [s.id, s] as const)),
    [base],
  );
  const now = useMemo(
    () => new Map(library.groups.flatMap((g) => g.swatches).map((s) => [s.id, s] as const)),
    [library],
  );
  const toggle = (key: string, on: boolean) => {
    const next = new Set(left);
    if (on) next.delete(key);
    else next.add(key);
    setLeft(next);
  };
  const merge = () => {
    if (!trip) return;
    const isTaken = (key: string) => !left.has(key);
    const taken = {
      edited: new Set(trip.edited.flatMap(({ id }) => (isTaken(id) ? [id] : []))),
      added: new Set([...trip.added.keys()].filter((i) => isTaken(`added ${i}`))),
      removed: new Set(trip.removed.filter(isTaken)),
    };
    const done = store.edit(takeBack(store.rows, trip, taken, () => nanoid(12), path));
    onClose(true);
    toast(
      done
        ? { text: `What was changed in ${path} is taken back.`, ...wayBack([store, done]) }
        : { text: 'Nothing had to change.' },
    );
  };
  const sum = trip ? trip.edited.length + trip.added.length + trip.removed.length : 0;
  const problem = kits.problem ?? found.problem;
  return (
    <Dialog open onClose={() => onClose(false)} fullWidth maxWidth="sm">
      <DialogTitle dir="auto">What changed in {path}</DialogTitle>
      <DialogContent>
        {problem && <p role="alert">{problem}</p>}
        {kits.value && handed.length === 0 && (
          <p>
            No kit of {library.name} has a file of this kind, so that nothing is known of how it was handed
            over. Merge it instead.
          </p>
        )}
        {one && (
          <p className={`second ${css.note}`}>
            Since it was handed over{' '}
            <SelectField aria-label="Handed over" value={at} onChange={(e) => setAt(Number(e.target.value))}>
              {handed.map(({ kit }, i) => (
                <option key={kit.id} value={i}>
                  {when(new Date(kit.at), new Date())}
                </option>
              ))}
            </SelectField>
            . Whatever the format cannot hold stays as it is here.
          </p>
        )}
        {one && !trip && !problem && (
          <p className="second" role="status">
            Comparing…
          </p>
        )}
        {trip && sum === 0 && <p>Nothing was changed in it.</p>}
        <div className={css.trip}>
          {trip?.edited.map(({ id, name, color }) => {
            const here = now.get(id);
            const was = then.get(id);
            const isOther =
              here && was && ((name && here.name !== was.name) || (color && !same(here.color, was.color)));
            return (
              <Line
                key={id}
                isTaken={!left.has(id)}
                onTake={(on) => toggle(id, on)}
                disabled={!here}
                left={toHex((color?.from ?? was?.color ?? here?.color)!, condition)}
                right={toHex((color?.to ?? was?.color ?? here?.color)!, condition)}
                text={name ? `${name.from} becomes ${name.to}` : (was?.name ?? '')}
                note={
                  here ? (isOther ? 'changed here, too: taking it replaces that' : '') : 'deleted here since'
                }
              />
            );
          })}
          {trip?.added.map(({ swatch, group }, i) => (
            <Line
              key={`added ${swatch.id}`}
              isTaken={!left.has(`added ${i}`)}
              onTake={(on) => toggle(`added ${i}`, on)}
              left={toHex(swatch.color, condition)}
              right={toHex(swatch.color, condition)}
              text={swatch.name}
              note={group ? `new, in ${group}` : 'new'}
            />
          ))}
          {trip?.removed.map((id) => {
            const here: Swatch | undefined = now.get(id);
            return (
              here && (
                <Line
                  key={id}
                  isTaken={!left.has(id)}
                  onTake={(on) => toggle(id, on)}
                  left={toHex(here.color, condition)}
                  right={toHex(here.color, condition)}
                  text={here.name}
                  note="taken out: it is deleted here"
                />
              )
            );
          })}
        </div>
      </DialogContent>
      <DialogActions>
        {trip && sum > 0 && (
          <span className={`caption ${css.sum}`} role="status">
            {count(trip.edited.length, 'swatch', 'swatches')} changed, {trip.added.length} new,{' '}
            {trip.removed.length} taken out. Undo takes it back.
          </span>
        )}
        <Button onClick={() => onClose(false)}>Cancel</Button>
        <Button variant="contained" disabled={sum === 0} onClick={merge}>
          Take back
        </Button>
      </DialogActions>
    </Dialog>
  );
}

function Line({
  isTaken,
  onTake,
  disabled = false,
  left,
  right,
  text,
  note,
}: {
  isTaken: boolean;
  onTake(on: boolean): void;
  disabled?: boolean;
  left: string;
  right: string;
  text: string;
  note: string;
}) {
  return (
    <div className={css.line}>
      <Tick label={text} checked={isTaken && !disabled} onChange={(on) => !disabled && onTake(on)} />
      <WingPair left={left} right={right} />
      <span className="caption">{note}</span>
    </div>
  );
}
