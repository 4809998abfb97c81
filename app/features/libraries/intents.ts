/** What the list of libraries can ask of the server. */
export type HomeIntent =
  | { intent: 'new' }
  | { intent: 'duplicate'; id: string }
  | { intent: 'delete'; id: string }
  | { intent: 'restore'; id: string }
  | { intent: 'rename'; id: string; name: string };
