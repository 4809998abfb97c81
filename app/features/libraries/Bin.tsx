import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import { useState } from 'react';
import { BIN_DAYS } from '#core/sizes';
import type { Deleted } from '#server/libraries';
import { Empty } from '~/ui/empty';
import { count } from '~/ui/swatch';
import { when } from '~/ui/when';
import css from './Home.module.css';
import type { HomeIntent } from './intents';
import { daysLeft } from './places';

const nameOf = (l: Deleted) => l.name || 'Library without a name';

/** Deleted libraries, each with how long it is still there. */
export function Bin({ deleted, ask }: { deleted: readonly Deleted[]; ask(intent: HomeIntent): void }) {
  const [removing, setRemoving] = useState<readonly Deleted[] | null>(null);
  if (deleted.length === 0)
    return (
      <Empty
        level="h2"
        title="The bin is empty"
        text={`A deleted library stays here for ${BIN_DAYS} days, and can be restored as it was.`}
      />
    );
  return (
    <div className={css.bin}>
      <p className={`caption ${css.binHead}`}>
        A deleted library stays here for {BIN_DAYS} days.
        <Button variant="text" onClick={() => setRemoving(deleted)}>
          Empty the bin
        </Button>
      </p>
      {deleted.map((l) => {
        const days = daysLeft(l, BIN_DAYS, new Date());
        return (
          <div key={l.id} className={css.gone}>
            <span className="cut" dir="auto">
              {nameOf(l)}
            </span>
            <span className="caption">{count(l.swatchCount, 'swatch', 'swatches')}</span>
            <span className="caption" suppressHydrationWarning>
              deleted {when(l.deletedAt, new Date())} ·{' '}
              {days === 0 ? 'goes today' : `${count(days, 'day')} left`}
            </span>
            <span className={css.goneActs}>
              <Button variant="text" onClick={() => ask({ intent: 'restore', ids: [l.id] })}>
                Restore
              </Button>
              <Button
                variant="text"
                aria-label={`Delete for good… ${nameOf(l)}`}
                onClick={() => setRemoving([l])}
              >
                Delete for good…
              </Button>
            </span>
          </div>
        );
      })}
      {removing && (
        <Dialog open onClose={() => setRemoving(null)}>
          <DialogTitle>Delete for good</DialogTitle>
          <DialogContent>
            <p>
              {removing.length === 1
                ? `“${nameOf(removing[0]!)}”, with its ${count(removing[0]!.swatchCount, 'swatch', 'swatches')} and its history, cannot be restored afterwards.`
                : `${count(removing.length, 'library', 'libraries')}, with their history, cannot be restored afterwards.`}
            </p>
          </DialogContent>
          <DialogActions>
            <Button autoFocus onClick={() => setRemoving(null)}>
              Cancel
            </Button>
            <Button
              variant="contained"
              onClick={() => {
                ask({ intent: 'remove', ids: removing.map((l) => l.id) });
                setRemoving(null);
              }}
            >
              Delete for good
            </Button>
          </DialogActions>
        </Dialog>
      )}
    </div>
  );
}
