import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import { nanoid } from 'nanoid';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import { asOne } from '#core/swatch/together';
import type { Summary } from '#server/libraries';
import { useStores } from '~/state/stores';
import { Field } from '~/ui/field';
import { Notice } from '~/ui/notice';
import { count } from '~/ui/swatch';

/** A new library with all groups of the chosen ones, which stay as they are. */
export function MakeOneDialog({ chosen, onClose }: { chosen: readonly Summary[]; onClose(): void }) {
  const stores = useStores();
  const navigate = useNavigate();
  const [name, setName] = useState(
    chosen
      .slice(0, 3)
      .map((l) => l.name)
      .join(', '),
  );
  const [busy, setBusy] = useState(false);
  const [problem, setProblem] = useState('');
  const make = async () => {
    setBusy(true);
    setProblem('');
    try {
      const all = await Promise.all(chosen.map(async ({ id }) => (await stores.library(id).whole()).library));
      const id = await stores.createLibrary(asOne(all, name.trim(), () => nanoid(12)));
      await navigate(`/libraries/${id}/arrange`);
    } catch (error) {
      setProblem(`No library was made. ${(error as Error).message}`);
      setBusy(false);
    }
  };
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="xs">
      <form
        onSubmit={(e) => {
          e.preventDefault();
          void make();
        }}
      >
        <DialogTitle>Make one of {count(chosen.length, 'library', 'libraries')}</DialogTitle>
        <DialogContent>
          {problem && <Notice>{problem}</Notice>}
          <Field
            autoFocus
            dir="auto"
            style={{ width: '100%' }}
            aria-label="Name of the library"
            value={name}
            onChange={(e) => setName(e.target.value.slice(0, 1000))}
          />
          <p className="caption">
            A new library with all their groups. The libraries themselves stay as they are.
          </p>
        </DialogContent>
        <DialogActions>
          <Button onClick={onClose}>Cancel</Button>
          <Button type="submit" variant="contained" disabled={busy || name.trim() === ''}>
            {busy ? 'Reading…' : 'Make library'}
          </Button>
        </DialogActions>
      </form>
    </Dialog>
  );
}
