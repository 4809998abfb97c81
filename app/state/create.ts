import type { Edit, Library } from '#core/swatch/index';

const postJson = (path: string, body: unknown) =>
  fetch(path, {
    method: 'POST',
    headers: { 'Content-Type': 'application/json' },
    body: JSON.stringify(body),
  }).catch(() => null);

/** Keeps a new library on the server under ids of its own. Returns its id, or null when that did not work. */
export async function createLibrary(library: Library): Promise<string | null> {
  const response = await postJson('/libraries', library);
  return response?.ok ? response.text() : null;
}

/** The libraries there are, newest change first; null when the server does not answer. */
export async function listLibraries(): Promise<{ id: string; name: string; swatchCount: number }[] | null> {
  const response = await fetch('/libraries').catch(() => null);
  return response?.ok ? response.json() : null;
}

/** A library that is not the open one, as it is now; null when it is not there. */
export async function fetchLibrary(id: string): Promise<Library | null> {
  const response = await fetch(`/libraries/${id}/changes`).catch(() => null);
  return response?.ok ? (await response.json()).library : null;
}

/** Edits a library that is not the open one. Returns why it did not work, or null. */
export async function editElsewhere(id: string, edit: Edit): Promise<string | null> {
  // the revision is of no interest: the edit only adds
  const response = await postJson(`/libraries/${id}/changes`, { change: { edit }, revision: -1 });
  if (response?.ok) return null;
  return response ? response.text() : 'The server does not answer. Try again.';
}

/** Takes the last edit of a library back that is not the open one. */
export const undoElsewhere = (id: string) =>
  postJson(`/libraries/${id}/changes`, { change: { step: 'undo' }, revision: -1 });

export { postJson };
