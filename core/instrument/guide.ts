import { deltaE00 } from '../color/difference.ts';
import { labOfSpectrum } from '../reading/figures.ts';
import type { Backing, MeasuredInk } from '../reading/model.ts';
import type { Spectrum } from '../swatch/model.ts';

/** A patch that is to be read. */
export interface Wanted {
  percent: number;
  backing: Backing;
}

/** The steps of a ramp: the bare sheet, tints at even distances and the solid, over white and then over black. */
export const rampOf = (steps: number, backings: readonly Backing[]): Wanted[] =>
  backings.flatMap((backing) =>
    Array.from({ length: steps }, (_, i) => ({
      percent: Math.round((1000 * i) / (steps - 1)) / 10,
      backing,
    })),
  );

/** Two patches of a ramp are further apart than an instrument is from itself. */
const TWICE_WITHIN = 0.35;

/** Whether the patch that was just read is the one before it, read again; which happens when a hand does not go on. */
export const isReadTwice = (before: Spectrum | undefined, now: Spectrum): boolean =>
  before !== undefined && deltaE00(labOfSpectrum(before), labOfSpectrum(now)) < TWICE_WITHIN;

/** The ink of the patches that were read; those not read are missing. */
export function inkRead(
  name: string,
  wanted: readonly Wanted[],
  read: readonly (Spectrum | undefined)[],
  conditions: MeasuredInk['conditions'],
): MeasuredInk {
  const steps = wanted.flatMap(({ percent, backing }, i) => {
    const spectrum = read[i];
    const label = percent === 0 ? 'Sheet' : `${name} ${percent}`;
    return spectrum ? [{ percent, backing, spectrum, name: `${label} over ${backing}` }] : [];
  });
  return {
    name,
    conditions,
    steps: steps.sort(
      (a, b) => Number(a.backing === 'black') - Number(b.backing === 'black') || a.percent - b.percent,
    ),
  };
}
