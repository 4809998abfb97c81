import type { Tuning } from '#core/tune/index';

/** A tuning that was given a name, to be repeated on others. */
export interface NamedTuning {
  name: string;
  tuning: Tuning;
}

export interface Tunings {
  named: NamedTuning[];
  /** The one that was saved last. */
  last: Tuning | null;
}

export const MAX_NAMED = 100;
