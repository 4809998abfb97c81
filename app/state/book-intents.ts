/** What is to be done with books as wholes. */
export type BookMade =
  | { intent: 'samples' }
  /** A book out of a library, and the other way round, under the id it is to have. */
  | { intent: 'book'; library: string; id: string }
  | { intent: 'library'; book: string; id: string }
  | { intent: 'delete' | 'restore'; book: string };
