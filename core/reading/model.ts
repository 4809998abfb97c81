import type { Spectrum } from '../swatch/model.ts';
import type { Backing, Facts } from '../swatch/reading.ts';

export type { Backing, Facts, MeasuredInk, ReadingData, Step } from '../swatch/reading.ts';

/** One place of a sheet, as it was measured. */
export interface Patch {
  /** As the file calls it. */
  name: string;
  spectrum: Spectrum;
  /** Of which ink, where the file says so in a column of its own. */
  ink?: string;
  /** Of the plate, 0–100 %, by a column of its own. */
  percent?: number;
  backing?: Backing;
  /** Facts of this patch alone. */
  facts?: Facts;
  /** Where it stands, for messages: “ramp.txt, line 12”. */
  where: string;
}

/** How something was measured, in a line: “M1, 45/0”. */
export const conditionText = ({ mode, geometry, filter, device }: Facts): string =>
  [mode, geometry, filter, device].filter(Boolean).join(', ');
