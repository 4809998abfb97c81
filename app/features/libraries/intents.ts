/** What the list of libraries can ask of the server. What is made has an id beforehand, so that it is made once. */
export type HomeIntent =
  | { intent: 'new'; id: string; name: string }
  | { intent: 'duplicate'; id: string; copy: string }
  | { intent: 'delete'; ids: string[] }
  | { intent: 'restore'; ids: string[] }
  /** Out of the bin, for good. */
  | { intent: 'remove'; ids: string[] }
  | { intent: 'archive'; ids: string[]; on: boolean }
  | { intent: 'shelve'; ids: string[]; on: string[]; off: string[] }
  /** Without a name all are taken off it. */
  | { intent: 'rename shelf'; shelf: string; name?: string };
