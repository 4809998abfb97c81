import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import { useState } from 'react';
import type { Summary } from '#server/libraries';
import { Field } from '~/ui/field';
import { count } from '~/ui/swatch';
import { Tick } from '~/ui/tick';
import { useToast } from '~/ui/toast';
import css from './Home.module.css';
import type { HomeIntent } from './intents';

/** Puts libraries on shelves, those there are and a new one. */
export function ShelveDialog({
  chosen,
  shelves,
  ask,
  onClose,
  onDone,
}: {
  chosen: readonly Summary[];
  shelves: readonly string[];
  ask(intent: HomeIntent): void;
  onClose(): void;
  onDone(): void;
}) {
  const toast = useToast();
  const [name, setName] = useState('');
  const on = (shelf: string) => chosen.filter((l) => l.shelves.includes(shelf)).length;
  // only what the user has touched changes
  const [wanted, setWanted] = useState<Record<string, boolean>>({});
  const ids = chosen.map((l) => l.id);
  const typed = name.trim().slice(0, 200);
  const keep = () => {
    const to = [
      ...Object.keys(wanted).filter((s) => wanted[s] && on(s) < chosen.length),
      ...(typed ? [typed] : []),
    ];
    const off = Object.keys(wanted).filter((s) => !wanted[s] && on(s) > 0);
    if (to.length + off.length > 0) {
      ask({ intent: 'shelve', ids, on: to, off });
      toast({
        text: `${count(chosen.length, 'library', 'libraries')} put on ${to.join(', ') || 'no new shelf'}${off.length > 0 ? `, off ${off.join(', ')}` : ''}.`,
      });
    }
    onClose();
    onDone();
  };
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="xs">
      <form
        onSubmit={(e) => {
          e.preventDefault();
          keep();
        }}
      >
        <DialogTitle>Shelve {count(chosen.length, 'library', 'libraries')}</DialogTitle>
        <DialogContent>
          <div className={css.ticks}>
            {shelves.map((shelf) => {
              const [here, all] = [on(shelf), chosen.length];
              return (
                <Tick
                  key={shelf}
                  checked={wanted[shelf] ?? here === all}
                  onChange={(is) => setWanted({ ...wanted, [shelf]: is })}
                  label={
                    here > 0 && here < all && wanted[shelf] === undefined
                      ? `${shelf} (${here} of them)`
                      : shelf
                  }
                />
              );
            })}
          </div>
          <Field
            autoFocus
            dir="auto"
            style={{ width: '100%' }}
            placeholder="A new shelf: client, project, season…"
            aria-label="Name of a new shelf"
            value={name}
            onChange={(e) => setName(e.target.value.slice(0, 200))}
          />
        </DialogContent>
        <DialogActions>
          <Button onClick={onClose}>Cancel</Button>
          <Button type="submit" variant="contained">
            Shelve
          </Button>
        </DialogActions>
      </form>
    </Dialog>
  );
}
