import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogContent from '@mui/material/DialogContent';
import LinearProgress from '@mui/material/LinearProgress';
import { useEffect, useState } from 'react';

import css from './progress.module.css';

/** Work shorter than this is over before anyone could read what it says. */
const PATIENCE_MS = 300;

/** What long work is doing, with a way to stop it. */
export function Progress({ title, stage, onStop }: { title: string; stage: string; onStop(): void }) {
  const [shown, setShown] = useState(false);
  useEffect(() => {
    const wait = setTimeout(() => setShown(true), PATIENCE_MS);
    return () => clearTimeout(wait);
  }, []);
  return (
    <Dialog
      open={shown}
      onClose={onStop}
      fullWidth
      maxWidth="xs"
      slotProps={{ paper: { 'aria-label': title } }}
    >
      <DialogContent sx={{ pt: 3 }}>
        <strong>{title}</strong>
        <p className={`second cut ${css.stage}`} role="status">
          {stage}
        </p>
        <LinearProgress aria-label={title} />
        <Button sx={{ mt: 2 }} onClick={onStop}>
          Stop
        </Button>
      </DialogContent>
    </Dialog>
  );
}
