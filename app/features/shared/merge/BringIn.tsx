import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import { useState } from 'react';
import type { Library } from '#core/swatch/index';
import type { LibraryStore } from '~/state/library-store';
import { useStores } from '~/state/stores';
import css from './BringIn.module.css';
import { LibraryChoice } from './LibraryChoice';
import { MergeDialog } from './MergeDialog';

/** Asks which library to bring into the open one, and merges it. */
export function BringIn({ store, onClose }: { store: LibraryStore; onClose(): void }) {
  const stores = useStores();
  const [id, setId] = useState('');
  const [theirs, setTheirs] = useState<Library | null>(null);
  const [problem, setProblem] = useState('');
  if (theirs) return <MergeDialog store={store} theirs={theirs} onClose={onClose} />;
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="xs">
      <DialogTitle>Merge a library into this one</DialogTitle>
      <DialogContent>
        <p className={`second ${css.note}`}>
          The other library stays as it is. You choose next where names or colours conflict.
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
            try {
              setTheirs((await stores.library(id).whole()).library);
            } catch (error) {
              setProblem(`That library cannot be read now. ${(error as Error).message}`);
            }
          }}
        >
          Compare
        </Button>
      </DialogActions>
    </Dialog>
  );
}
