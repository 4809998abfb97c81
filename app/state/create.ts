import type { Library } from '#core/swatch/index';

/** Keeps a new library on the server under ids of its own. Returns its id, or null when that did not work. */
export async function createLibrary(library: Library): Promise<string | null> {
  const response = await fetch('/libraries', {
    method: 'POST',
    headers: { 'Content-Type': 'application/json' },
    body: JSON.stringify(library),
  }).catch(() => null);
  return response?.ok ? response.text() : null;
}
