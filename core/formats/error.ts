import type { Decoded, Format } from './format.ts';

/** A file that is not what it should be. The message says what is wrong, where, and what to do if anything helps. */
export class FormatError extends Error {
  override name = 'FormatError';
  /** What was read before the damage, for those who want it all the same. */
  sound?: Decoded & { format?: Format };
}
