import Button from '@mui/material/Button';
import { SlidersHorizontal } from 'lucide-react';
import { lazy, Suspense, useState } from 'react';
import type { Swatch } from '#core/swatch/index';
import { tunedSwatches } from '#core/tune/index';
import { useToTray } from '~/features/shared/use-to-tray';
import { PlainButton } from '~/ui/plain-button';
import { ariaKeys, useShortcut } from '~/ui/shortcuts';

const TuneDialog = lazy(() =>
  import('~/features/shared/tune/TuneDialog').then((m) => ({ default: m.TuneDialog })),
);

/** The main act of every source: puts what it has in the tray, as it is or tuned before. */
export function ToTray({
  n,
  disabled = n === 0,
  make,
  isSuggested,
}: {
  n: number;
  disabled?: boolean;
  make(): Swatch[];
  /** Whether one's name is for Papillon to find. */
  isSuggested?(i: number): boolean;
}) {
  const toTray = useToTray();
  const [tuning, setTuning] = useState<Swatch[] | null>(null);
  const put = () => void toTray(make(), isSuggested);
  const say = `Put ${n.toLocaleString('en-GB')} in the tray`;
  const tune = () => setTuning(make());
  useShortcut('toTray', () => {
    if (disabled) return false;
    put();
    return true;
  });
  useShortcut('tune', () => {
    if (disabled) return false;
    tune();
    return true;
  });
  return (
    <>
      <Button
        variant="contained"
        sx={{ flex: '1 0 auto' }}
        disabled={disabled}
        title="Ctrl or Cmd + Enter"
        aria-keyshortcuts={ariaKeys('toTray')}
        onClick={put}
      >
        {say}
      </Button>
      <PlainButton
        look="icon"
        disabled={disabled}
        aria-label="Tune"
        title="Tune them first: lighter, calmer, another hue, another light (T)"
        aria-keyshortcuts={ariaKeys('tune')}
        onClick={tune}
      >
        <SlidersHorizontal size={16} />
      </PlainButton>
      {tuning && (
        <Suspense>
          <TuneDialog
            title="Tune"
            swatches={tuning}
            save={say}
            onSave={(tuned) => void toTray(tunedSwatches(tuning, tuned), isSuggested)}
            onClose={() => setTuning(null)}
          />
        </Suspense>
      )}
    </>
  );
}
