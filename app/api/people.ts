import { givesNothing, json } from './endpoint';

/** Says what an owner is called in comments and in the history. */
export const nameOwner = givesNothing()({
  method: 'PUT',
  path: '/people/:id',
  body: json<{ name: string }>(async () => (await import('./checks')).checkName),
  again: true,
});
