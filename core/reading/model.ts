import type { Spectrum } from '../swatch/model.ts';

/** What lies below the sheet while it is measured (ISO 13655, 4.3). */
export type Backing = 'white' | 'black';

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
  /** Where it stands, for messages: “ramp.txt, line 12”. */
  where: string;
}

/** How a file was measured: what is known of it, as it is written there. */
export interface Conditions {
  device?: string;
  geometry?: string;
  /** M0 to M3 (ISO 13655). */
  mode?: string;
  filter?: string;
  date?: string;
  operator?: string;
  substrate?: string;
}

/** A tint of an ink over one backing. */
export interface Step {
  percent: number;
  backing: Backing;
  spectrum: Spectrum;
  name: string;
}

/** An ink on a sheet: its tints, the bare sheet among them as 0 %. */
export interface MeasuredInk {
  name: string;
  conditions: Conditions;
  /** Over white first, each from the sheet to the solid. */
  steps: Step[];
}

/** How something was measured, in a line: “M1, 45/0”. */
export const conditionText = ({ mode, geometry, filter, device }: Conditions): string =>
  [mode, geometry, filter, device].filter(Boolean).join(', ');
