/** What the list of libraries can ask of the server. What is made has an id beforehand, so that it is made once. */
export type HomeIntent =
  | { intent: 'new'; id: string; name: string }
  | { intent: 'duplicate'; id: string; copy: string }
  | { intent: 'delete'; id: string }
  | { intent: 'restore'; id: string };
