/** A file that is not what it should be. The message says what is wrong, where, and what to do if anything helps. */
export class FormatError extends Error {
  override name = 'FormatError';
}
