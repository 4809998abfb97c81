import type { Visit } from '#server/visits';
import type { Pointed, Seen } from './bodies';
import { givesJson, givesNothing, json } from './endpoint';

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

/** What others have done since somebody last left the library. */
export const readVisit = givesJson<Visit | null>()({
  method: 'GET',
  path: '/libraries/:id/visit',
  query: ['by'],
  access: 'edit',
});

/** Remembers what somebody has seen of the library when they leave it. */
export const keepVisit = givesNothing()({
  method: 'POST',
  path: '/libraries/:id/visit',
  access: 'edit',
  body: json<Seen>(async () => (await import('./checks')).checkSeen),
});
