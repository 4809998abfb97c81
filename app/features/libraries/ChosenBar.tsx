import Button from '@mui/material/Button';
import { useState } from 'react';
import type { Summary } from '#server/libraries';
import { BottomBar } from '~/ui/Frame';
import { count } from '~/ui/swatch';
import { useToast } from '~/ui/toast';
import css from './Home.module.css';
import type { HomeIntent } from './intents';
import { MakeOneDialog } from './MakeOneDialog';
import { ShelveDialog } from './ShelveDialog';
import { ZipDialog } from './ZipDialog';

/** What can be done with the libraries that are chosen, in place of the tray. */
export function ChosenBar({
  chosen,
  shelves,
  ask,
  onDelete,
  onDone,
}: {
  chosen: readonly Summary[];
  /** The names of those there are. */
  shelves: readonly string[];
  ask(intent: HomeIntent): void;
  onDelete(): void;
  onDone(): void;
}) {
  const [dialog, setDialog] = useState<'shelve' | 'one' | 'zip' | null>(null);
  const toast = useToast();
  const ids = chosen.map((l) => l.id);
  const areAway = chosen.every((l) => l.archivedAt !== null);
  const swatches = chosen.reduce((n, l) => n + l.swatchCount, 0);
  const close = () => setDialog(null);
  const putAway = () => {
    ask({ intent: 'archive', ids, on: !areAway });
    toast({
      text: `${count(chosen.length, 'library', 'libraries')} ${areAway ? 'back from' : 'in'} the archive.`,
      action: { label: 'Undo', run: () => ask({ intent: 'archive', ids, on: areAway }) },
    });
    onDone();
  };
  return (
    <BottomBar label="Chosen libraries">
      <strong>{count(chosen.length, 'library', 'libraries')}</strong>
      <span className="caption" role="status">
        {count(swatches, 'swatch', 'swatches')}
      </span>
      <span className={css.acts}>
        <Button variant="text" onClick={onDone}>
          Choose none
        </Button>
        <Button onClick={() => setDialog('shelve')}>Shelve…</Button>
        <Button onClick={putAway}>{areAway ? 'Back from the archive' : 'Archive'}</Button>
        <Button onClick={onDelete}>Delete</Button>
        <Button disabled={chosen.length < 2} onClick={() => setDialog('one')}>
          Make one of them…
        </Button>
        <Button variant="contained" onClick={() => setDialog('zip')}>
          Hand over…
        </Button>
      </span>
      {dialog === 'shelve' && (
        <ShelveDialog chosen={chosen} shelves={shelves} ask={ask} onClose={close} onDone={onDone} />
      )}
      {dialog === 'one' && <MakeOneDialog chosen={chosen} onClose={close} />}
      {dialog === 'zip' && <ZipDialog chosen={chosen} onClose={close} />}
    </BottomBar>
  );
}
