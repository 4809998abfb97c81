/** Whether a key is meant for a field, a menu or a dialog rather than for the screen. */
export function isTyping(event: Pick<Event, 'target'>): boolean {
  const target = event.target as HTMLElement | null;
  return !!target?.closest?.(
    'input:not([type=range]), textarea, select, [contenteditable=true], [role=dialog], [role=menu]',
  );
}

/** Ctrl on most systems, Cmd on others. */
export const isCommand = (event: { ctrlKey: boolean; metaKey: boolean }) => event.ctrlKey || event.metaKey;

/** Whether a key is meant for a dialog or a menu rather than for the screen behind it. */
export const isInDialog = ({ target }: KeyboardEvent): boolean =>
  !!(target as HTMLElement | null)?.closest?.('[role=dialog], [role=menu]');
