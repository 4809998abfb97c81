import type { ComponentType } from 'react';
import type { KeptPicture } from '~/state/picture-store';
import { CodesSource } from './codes/CodesSource';
import { PictureSource } from './picture/PictureSource';

/** Where colours are gathered from. All sources fill the tray. */
export interface Source {
  /** In the address, behind `from=`. */
  id: string;
  label: string;
  /** @param kept the pictures kept with the open library */
  Stage: ComponentType<{ kept: KeptPicture[] }>;
}

/** Every source there is, in the order they are shown; a new one is a folder and a line here. */
export const sources: [Source, ...Source[]] = [
  { id: 'picture', label: 'Picture', Stage: PictureSource },
  { id: 'codes', label: 'Codes', Stage: CodesSource },
];
