import type { ComponentType } from 'react';
import type { KeptPicture } from '~/state/picture-store';
import { ArtworkSource } from './artwork/ArtworkSource';
import { BookReadout } from './book/BookReadout';
import { BookSource } from './book/BookSource';
import { CodesSource } from './codes/CodesSource';
import { HarmonyReadout } from './harmony/HarmonyReadout';
import { HarmonySource } from './harmony/HarmonySource';
import { PictureSource } from './picture/PictureSource';
import { ReadingReadout } from './reading/ReadingReadout';
import { ReadingSource } from './reading/ReadingSource';

/** Where colours are gathered from. All sources fill the tray. */
export interface Source {
  /** In the address, behind `from=`. */
  id: string;
  label: string;
  /** @param kept the pictures kept with the open library */
  Stage: ComponentType<{ kept: KeptPicture[] }>;
  /** What stands beside the stage, and what it is called where it is a drawer; without it the stage has all the room. */
  Readout?: ComponentType;
  readout?: string;
}

/** Every source there is, in the order they are shown; a new one is a folder and a line here. */
export const sources: [Source, ...Source[]] = [
  { id: 'picture', label: 'Picture', Stage: PictureSource },
  { id: 'harmony', label: 'Harmony', Stage: HarmonySource, Readout: HarmonyReadout, readout: 'Family' },
  { id: 'book', label: 'Book', Stage: BookSource, Readout: BookReadout, readout: 'Ink' },
  { id: 'codes', label: 'Codes', Stage: CodesSource },
  { id: 'artwork', label: 'Artwork', Stage: ArtworkSource },
  { id: 'reading', label: 'Reading', Stage: ReadingSource, Readout: ReadingReadout, readout: 'Ink' },
];

/** The source an address names; the first where it names none. */
export const sourceIn = (search: URLSearchParams): Source =>
  sources.find((s) => s.id === search.get('from')) ?? sources[0];
