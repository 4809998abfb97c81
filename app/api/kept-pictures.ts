import { libraryPicture } from '#core/picture/take';
import type { LibraryPicture } from '#core/services';
import { listPictures } from './assets';
import { call } from './call';

/** The pictures that are kept with a library, with the colours of the first take of each. @throws Error that says why they are not available */
export async function keptPictures(library: string, signal?: AbortSignal): Promise<LibraryPicture[]> {
  const came = await call(listPictures, { params: { id: library }, ...(signal ? { signal } : {}) });
  if (!came.ok) throw new Error(`The kept pictures are not available. ${came.why}`);
  return came.value.map(libraryPicture);
}
