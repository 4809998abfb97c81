/** Where somebody types, or is asked something. */
const STAYS = 'input, textarea, select, [role=dialog], [role=dialog] *';

/** How long what a step is about may take to come. */
const PATIENCE_MS = 5000;

/**
 * Moves the keyboard to where the work is: to what the step marks with `data-work`, as soon as it is there, and to the stage until
 * then. Who types or is asked something keeps the focus.
 */
export function focusWork(): void {
  if (document.activeElement?.matches(STAYS)) return;
  const stage = document.querySelector<HTMLElement>('main');
  if (!stage) return;
  // beside the stage, too: a list can be what a step is about
  const frame = stage.parentElement ?? stage;
  const work = () => frame.querySelector<HTMLElement>('[data-work]');
  const there = work();
  (there ?? stage).focus({ preventScroll: true });
  if (there) return;
  const observer = new MutationObserver(() => {
    const came = work();
    if (came && document.activeElement === stage) came.focus({ preventScroll: true });
    if (came || document.activeElement !== stage) observer.disconnect();
  });
  observer.observe(frame, { childList: true, subtree: true });
  setTimeout(() => observer.disconnect(), PATIENCE_MS);
}
