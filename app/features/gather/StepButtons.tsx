import { Redo2, Undo2 } from 'lucide-react';
import type { Steps } from '~/state/steps';
import { useWorkspace } from '~/state/workspace';
import { PlainButton } from '~/ui/plain-button';
import { useShortcut } from '~/ui/shortcuts';
import css from './StepButtons.module.css';

/** One step back or on in what is gathered; their keys are those of the library, and mean whichever was changed last. */
export function StepButtons({ steps, go }: { steps: Steps<unknown>; go(way: 'back' | 'on'): boolean }) {
  const workspace = useWorkspace();
  const isLatest = () => !workspace || steps.at > workspace.store.editedAt;
  useShortcut('undo', () => isLatest() && go('back'), true);
  useShortcut('redo', () => isLatest() && go('on'), true);
  return (
    <span className={css.steps}>
      <PlainButton
        look="icon"
        aria-label="One step back"
        title="One step back in this take (Ctrl or Cmd + Z)"
        disabled={!steps.canGoBack}
        onClick={() => go('back')}
      >
        <Undo2 size={15} strokeWidth={1.8} />
      </PlainButton>
      <PlainButton
        look="icon"
        aria-label="One step forward"
        title="One step forward in this take (Ctrl or Cmd + Shift + Z)"
        disabled={!steps.canGoOn}
        onClick={() => go('on')}
      >
        <Redo2 size={15} strokeWidth={1.8} />
      </PlainButton>
    </span>
  );
}
