import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import ToggleButton from '@mui/material/ToggleButton';
import ToggleButtonGroup from '@mui/material/ToggleButtonGroup';
import { nanoid } from 'nanoid';
import { useMemo, useState } from 'react';
import { deltaE00, toHex, toLab } from '#core/color/index';
import {
  compareForMerge,
  type Keep,
  type Library,
  MEETINGS,
  type Meeting,
  type MeetingKind,
  mergeLibrary,
} from '#core/swatch/index';
import type { LibraryStore } from '~/state/library-store';
import { useStore } from '~/state/store';
import { useCondition } from '~/ui/condition';
import { count, swatchLabel } from '~/ui/swatch';
import { useToast, wayBack } from '~/ui/toast';
import { WingPair } from '~/ui/wing-pair';
import css from './MergeDialog.module.css';

/** More pairs of a kind than this are counted, not drawn. */
const MAX_SHOWN = 60;

const titles: Record<MeetingKind, string> = {
  same: 'Same name and same colour',
  name: 'Same name, another colour',
  color: 'Same colour, another name',
};
const choices: [Keep, string][] = [
  ['both', 'Keep both'],
  ['mine', 'Keep mine'],
  ['theirs', 'Take theirs'],
];

/** Brings one library into the open one, with a choice for each way in which swatches meet. */
export function MergeDialog({
  store,
  theirs,
  onClose,
}: {
  store: LibraryStore;
  theirs: Library;
  onClose(done: boolean): void;
}) {
  const condition = useCondition();
  const { library } = useStore(store);
  const toast = useToast();
  const [keep, setKeep] = useState<Record<MeetingKind, Keep>>({ same: 'mine', name: 'both', color: 'both' });
  const comparison = useMemo(() => compareForMerge(library, theirs, condition), [library, theirs, condition]);
  const byKind = (kind: MeetingKind) => comparison.meetings.filter((m) => m.kind === kind);
  const added = comparison.fresh.length + comparison.meetings.filter((m) => keep[m.kind] === 'both').length;
  const replaced = comparison.meetings.filter((m) => keep[m.kind] === 'theirs').length;

  const merge = () => {
    const draft = mergeLibrary(store.rows, theirs, comparison, keep, () => nanoid(12));
    const merged = draft && store.edit(draft);
    if (draft && !merged) return;
    onClose(true);
    toast(
      merged
        ? {
            text: `${theirs.name} merged: ${count(added, 'swatch', 'swatches')} added, ${replaced} replaced.`,
            ...wayBack([store, merged]),
          }
        : { text: 'Nothing had to change.' },
    );
  };

  return (
    <Dialog open onClose={() => onClose(false)} fullWidth maxWidth="sm">
      <DialogTitle>
        Merge {theirs.name || 'a library'} into {library.name}
      </DialogTitle>
      <DialogContent>
        <p className={`second ${css.note}`}>
          {count(comparison.fresh.length, 'swatch is', 'swatches are')} new and will be added.
          {comparison.meetings.length === 0 && ' No names or colours conflict.'}
        </p>
        {MEETINGS.map((kind) => {
          const pairs = byKind(kind);
          return pairs.length === 0 ? null : (
            <section key={kind} className={css.meeting}>
              <div className={css.head}>
                <strong>
                  {titles[kind]} · {pairs.length}
                </strong>
                <ToggleButtonGroup
                  exclusive
                  size="small"
                  value={keep[kind]}
                  onChange={(_, v: Keep | null) => v && setKeep({ ...keep, [kind]: v })}
                  aria-label={titles[kind]}
                >
                  {choices.map(([id, label]) => (
                    <ToggleButton key={id} value={id}>
                      {label}
                    </ToggleButton>
                  ))}
                </ToggleButtonGroup>
              </div>
              <div className={`${css.row} caption`}>
                <span className={css.ends}>
                  <span>mine</span>
                  <span>theirs</span>
                </span>
                <span />
                <span className={css.number}>ΔE00</span>
              </div>
              <div className={css.list}>
                {pairs.slice(0, MAX_SHOWN).map((m) => (
                  <Pair key={m.theirs.id} meeting={m} />
                ))}
              </div>
              {pairs.some((m) => [m.mine, m.theirs].some((s) => condition.isDevice(s.color))) && (
                <p className="caption">Inks as {condition.name} prints them.</p>
              )}
              {pairs.length > MAX_SHOWN && (
                <p className="caption">and {pairs.length - MAX_SHOWN} more, treated alike</p>
              )}
            </section>
          );
        })}
      </DialogContent>
      <DialogActions>
        <span className={`caption ${css.sum}`} role="status">
          {count(added, 'swatch', 'swatches')} added, {replaced} replaced. Undo takes it back.
        </span>
        <Button onClick={() => onClose(false)}>Cancel</Button>
        <Button variant="contained" autoFocus onClick={merge}>
          Merge
        </Button>
      </DialogActions>
    </Dialog>
  );
}

function Pair({ meeting: { mine, theirs } }: { meeting: Meeting }) {
  const condition = useCondition();
  const [a, b] = [swatchLabel(mine, condition), swatchLabel(theirs, condition)];
  return (
    <div className={css.row}>
      <WingPair left={toHex(mine.color, condition)} right={toHex(theirs.color, condition)} />
      <span className="cut" dir="auto" title={a === b ? a : `${a} · ${b}`}>
        {a === b ? a : `${a} · ${b}`}
      </span>
      <span className={`mono ${css.number}`}>
        {deltaE00(toLab(mine.color, condition), toLab(theirs.color, condition)).toFixed(1)}
      </span>
    </div>
  );
}
