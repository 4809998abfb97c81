import type { Spectrum } from '../swatch/model.ts';

/** With ultraviolet as a lamp has it, as daylight has it, without any, and polarised (ISO 13655). */
export const MODES = ['M0', 'M1', 'M2', 'M3'] as const;
export type Mode = (typeof MODES)[number];

/** What an instrument says of itself once it is connected. */
export interface InstrumentFacts {
  name: string;
  modes: readonly Mode[];
  geometry: string;
}

/** An instrument that measures reflectance. A new one implements these four. */
export interface Instrument {
  /** @throws InstrumentError when nothing answers */
  connect(): Promise<InstrumentFacts>;
  /** On its white tile. @throws InstrumentError when it does not lie on it */
  calibrate(): Promise<void>;
  /** The patch it lies on. @throws InstrumentError when it is not calibrated, or the connection is lost */
  measure(mode: Mode): Promise<Spectrum>;
  /** Several patches in one movement, each reported as it comes; those reported before a failure stay. */
  strip(count: number, mode: Mode, each: (patch: Spectrum, i: number) => void): Promise<void>;
  close(): Promise<void>;
}

/** Why an instrument did not measure. */
export class InstrumentError extends Error {
  override name = 'InstrumentError';

  constructor(
    readonly why: 'lost' | 'calibration' | 'refused',
    message: string,
  ) {
    super(message);
  }
}

/** After so long the lamp has moved enough to be seen in a comparison: it is time for the tile again, ms. */
export const CALIBRATION_MS = 30 * 60_000;
