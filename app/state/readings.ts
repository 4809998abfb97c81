import type { ReadingData } from '#core/reading/model';

/** A measured ink as it lies in Gather › Reading. */
export interface KeptReading extends ReadingData {
  id: string;
}

export interface Readings {
  inks: KeptReading[];
  current: string | null;
}

/** Of one file there may be many; more are not taken in at a glance. */
export const MAX_READINGS = 200;
