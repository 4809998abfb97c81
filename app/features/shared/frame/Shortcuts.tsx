import Dialog from '@mui/material/Dialog';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
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
  ['N', 'the nearest to what is chosen, in books and libraries; type a number to swap for it'],
  ['A digit, in a book', 'go to a number'],
  ['A letter or digit, in Apply', 'begin the name or number that what is chosen becomes'],
  ['Alt with a click, in Apply', 'take the colour of another part'],
  ['Arrow keys on a handle', 'move a member of a family, a stop or a joint; finer with Shift'],
  ['/', 'find'],
  ['?', 'this page'],
];

/** What the keyboard does. */
export function Shortcuts({ onClose }: { onClose(): void }) {
  return (
    <Dialog open onClose={onClose} maxWidth="sm">
      <DialogTitle>Keys</DialogTitle>
      <DialogContent>
        <dl className={css.keys}>
          {keys.map(([key, does]) => [<dt key={key}>{key}</dt>, <dd key={does}>{does}</dd>])}
        </dl>
      </DialogContent>
    </Dialog>
  );
}
