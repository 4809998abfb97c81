import Dialog from '@mui/material/Dialog';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import { Fragment } from 'react';
import { keysShown, shortcuts } from '~/ui/shortcuts';
import css from './Shortcuts.module.css';

/** What the keyboard does. */
export function Shortcuts({ onClose }: { onClose(): void }) {
  return (
    <Dialog open onClose={onClose} maxWidth="sm">
      <DialogTitle>Keys</DialogTitle>
      <DialogContent>
        <dl className={css.keys}>
          {Object.entries(shortcuts).map(([id, shortcut]) => (
            <Fragment key={id}>
              <dt>{keysShown(shortcut)}</dt>
              <dd>{shortcut.does}</dd>
            </Fragment>
          ))}
        </dl>
      </DialogContent>
    </Dialog>
  );
}
