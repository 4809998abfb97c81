import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import { useState } from 'react';
import type { Library } from '#core/swatch/index';
import { fetchLibrary } from '~/state/create';
import type { LibraryStore } from '~/state/library-store';
import { LibraryChoice } from './LibraryChoice';
import { MergeDialog } from './MergeDialog';

/** Asks which library to bring into the open one, and merges it. */
export function BringIn({ store, onClose }: { store: LibraryStore; onClose(): void }) {
  const [id, setId] = useState('');
  const [theirs, setTheirs] = useState<Library | null>(null);
  const [problem, setProblem] = useState('');
  if (theirs) return <MergeDialog store={store} theirs={theirs} onClose={onClose} />;
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="xs">
      <DialogTitle>Merge a library into this one</DialogTitle>
      <DialogContent>
        <p className="second" style={{ margin: '0 0 12px' }}>
          The other library stays as it is. Where names or colours meet you choose next.
        </p>
        <LibraryChoice without={store.id} value={id} onChange={setId} />
        {problem && <p role="alert">{problem}</p>}
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Cancel</Button>
        <Button
          variant="contained"
          disabled={!id}
          onClick={async () => {
            const found = await fetchLibrary(id);
            if (found) setTheirs(found);
            else setProblem('That library cannot be read now. Try again.');
          }}
        >
          Compare
        </Button>
      </DialogActions>
    </Dialog>
  );
}
