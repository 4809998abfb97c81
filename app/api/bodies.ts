import type { Preset } from '#server/kits';

/** What is to be done with books as wholes. */
export type BookMade =
  | { intent: 'samples' }
  /** A book out of a library, and the other way round, under the id it is to have. */
  | { intent: 'book'; library: string; id: string }
  | { intent: 'library'; book: string; id: string }
  | { intent: 'delete' | 'restore'; book: string };

/** A preset to be kept, or the name of one that goes. */
export type PresetChange = { keep: Preset } | { forget: string };

/** What is selected on a page. */
export interface Pointed {
  page: string;
  selection: string[];
}

/** How far somebody has seen a library. */
export interface Seen {
  by: string;
  seq: number;
}
