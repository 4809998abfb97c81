import Dialog from '@mui/material/Dialog';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import { useEffect } from 'react';
import { isTyping } from '~/ui/keys';
import css from './Shortcuts.module.css';

const keys: [string, string][] = [
  ['Arrow keys', 'go from swatch to swatch'],
  ['Space, Shift or Ctrl with a click', 'choose one, a run, or several'],
  ['Ctrl or Cmd + A', 'choose all'],
  ['Enter', 'rename'],
  ['Delete', 'delete what is chosen'],
  ['Alt + ← →', 'move what is chosen'],
  ['Ctrl or Cmd + C', 'copy the hex codes'],
  ['Ctrl or Cmd + V', 'open what is on the clipboard: a picture, a file, codes'],
  ['Ctrl or Cmd + Z, with Shift', 'undo, redo'],
  ['Plus, minus, 0', 'on a picture: closer, further, the whole of it'],
  ['Enter on a picture', 'take the colour under the pointer, which the arrow keys move'],
  ['F2', 'rename a take'],
  ['/', 'find'],
  ['?', 'this page'],
];

/** What the keyboard does. */
export function Shortcuts({ open, setOpen }: { open: boolean; setOpen(open: boolean): void }) {
  useEffect(() => {
    const listen = (event: KeyboardEvent) => {
      if (event.key === '?' && !isTyping(event)) setOpen(true);
    };
    window.addEventListener('keydown', listen);
    return () => window.removeEventListener('keydown', listen);
  }, [setOpen]);
  return (
    <Dialog open={open} onClose={() => setOpen(false)} maxWidth="sm">
      <DialogTitle>Keys</DialogTitle>
      <DialogContent>
        <dl className={css.keys}>
          {keys.map(([key, does]) => [<dt key={key}>{key}</dt>, <dd key={does}>{does}</dd>])}
        </dl>
      </DialogContent>
    </Dialog>
  );
}
