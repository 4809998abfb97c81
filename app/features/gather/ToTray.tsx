import Button from '@mui/material/Button';
import { ariaKeys, useShortcut } from '~/ui/shortcuts';

/** The main act of every source: puts what it has in the tray. */
export function ToTray({ n, disabled = n === 0, onPut }: { n: number; disabled?: boolean; onPut(): void }) {
  useShortcut('toTray', () => {
    if (disabled) return false;
    onPut();
    return true;
  });
  return (
    <Button
      variant="contained"
      sx={{ flex: '1 0 auto' }}
      disabled={disabled}
      title="Ctrl or Cmd + Enter"
      aria-keyshortcuts={ariaKeys('toTray')}
      onClick={onPut}
    >
      Put {n.toLocaleString('en-GB')} in the tray
    </Button>
  );
}
