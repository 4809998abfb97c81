import type { TakenKit } from '#server/kits';
import { givesJson, givesNothing, json } from './endpoint';

/** The kits that were taken of a library, the latest first. */
export const listKits = givesJson<TakenKit[]>()({
  access: 'edit',
  method: 'GET',
  path: '/libraries/:id/kits',
});

/** Remembers that a kit was taken. */
export const keepKit = givesJson<TakenKit>(201)({
  access: 'edit',
  method: 'POST',
  path: '/libraries/:id/kits',
  body: json(async () => (await import('./checks')).checkKit),
});

/** Keeps or deletes a preset. */
export const changePreset = givesNothing()({
  method: 'POST',
  path: '/presets',
  body: json(async () => (await import('./checks')).checkPreset),
  again: true,
});
