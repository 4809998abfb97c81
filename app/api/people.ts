import type { Pointed } from './bodies';
import { givesNothing, json } from './endpoint';

/** Says what an owner, or whoever came to edit, is called in comments and in the history. */
export const namePerson = givesNothing()({
  method: 'PUT',
  path: '/people/:id',
  access: 'edit',
  body: json<{ name: string }>(async () => (await import('./checks')).checkName),
  again: true,
});

/** Says what is selected on a page, to all others at the library. */
export const pointAt = givesNothing()({
  method: 'POST',
  path: '/libraries/:id/present',
  access: 'edit',
  body: json<Pointed>(async () => (await import('./checks')).checkPointed),
});
