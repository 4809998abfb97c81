import type { Color } from '#core/color/model';
import type { LibraryStore } from '~/state/library-store';

/** What the nearest entries are looked for. */
export interface Asked {
  color: Color;
  name: string;
  /** What it is itself, which is not found: the ids of its library and of the swatch. */
  not?: [library: string, swatch: string];
  /** Swatches that can be swapped for what is found. */
  swap?: { store: LibraryStore; ids: string[] };
}
