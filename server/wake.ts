import { EventEmitter } from 'node:events';

// Whoever waits for changes hears at once of those that this server writes; of others it hears by looking.

const written = new EventEmitter().setMaxListeners(0);

/** Says that something was written that others wait for. */
export const wake = (): void => void written.emit('written');

/** Runs whenever something was written here. Returns what ends it. */
export function onWake(run: () => void): () => void {
  written.on('written', run);
  return () => void written.off('written', run);
}
