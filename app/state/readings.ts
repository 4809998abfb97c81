import type { MeasuredInk } from '#core/reading/model';

/** What people write of a measured ink beside what its file says. */
export const READING_FACTS = [
  ['code', 'Stock number'],
  ['substrate', 'Substrate'],
  ['customer', 'Customer'],
  ['tolerance', 'Tolerance, ΔE00'],
  ['operator', 'Measured by'],
  ['date', 'Date'],
  ['mode', 'Mode'],
  ['geometry', 'Geometry'],
] as const;
export type ReadingFact = (typeof READING_FACTS)[number][0];

/** A measured ink as it lies in Gather › Reading. */
export interface KeptReading {
  id: string;
  ink: MeasuredInk;
  facts: Partial<Record<ReadingFact, string>>;
  /** The files it was read from. */
  from: string;
}

export interface Readings {
  inks: KeptReading[];
  current: string | null;
}

/** Of one file there may be many; more are not taken in at a glance. */
export const MAX_READINGS = 200;
