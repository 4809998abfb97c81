import { DE00, METRICS, type Metric } from '../color/metrics.ts';
import type { Lab } from '../color/model.ts';
import { type Illuminant, type Observer, reflectanceToXyz, whiteOf } from '../spectral/xyz.ts';
import type { Spectrum } from '../swatch/model.ts';
import type { Facts, MeasuredInk, Step } from '../swatch/reading.ts';
import { figuresOf, labOfSpectrum, labUnder, type Triple, toneAt } from './figures.ts';

/** How far a step may be off, and in which unit. */
export interface Tolerance {
  limit: number;
  metric: Metric;
}

const DEFAULT_LIMIT = 2;

/** What is written of a tolerance: “ΔE00 ≤ 2.0” or a number alone; 2 where nothing is (common practice, no source). */
export function toleranceOf({ tolerance = '', formula = '' }: Facts): Tolerance {
  const said = `${formula} ${tolerance}`.replaceAll(/\s|\*/g, '').toLowerCase();
  const metric = METRICS.find((m) => said.includes(m.name.replaceAll(' ', '').toLowerCase())) ?? DE00;
  // the number of the formula is not the limit
  const bare = tolerance.replaceAll(/ΔE\s*\*?\s*(?:00|76|94|ab)?|CMC\s*2:1/gi, ' ');
  const limit = Number(/\d+(?:[.,]\d+)?/.exec(bare)?.[0].replace(',', '.') ?? Number.NaN);
  return { limit: limit > 0 ? limit : DEFAULT_LIMIT, metric };
}

/** A step of two measurements of an ink. */
export interface Compared {
  percent: number;
  backing: Step['backing'];
  deltaE00: number;
  /** By the formula of the tolerance. */
  difference: number;
  isWithin: boolean;
}

const twinOf = (steps: readonly Step[], { percent, backing }: Step) =>
  steps.find((s) => s.percent === percent && s.backing === backing);

/** How far another measurement of an ink is from this one, step by step; steps that only one of them has are left out. */
export function compareInks(
  one: MeasuredInk,
  other: MeasuredInk,
  light: Illuminant = 'D50',
  observer: Observer = '2',
  { limit, metric }: Tolerance = toleranceOf(one.conditions),
): Compared[] {
  const lab = (s: Step) => labOfSpectrum(s.spectrum, light, observer);
  return one.steps.flatMap((step) => {
    const twin = twinOf(other.steps, step);
    if (!twin) return [];
    const [a, b] = [lab(step), lab(twin)];
    const difference = metric.difference(a, b);
    return [
      {
        percent: step.percent,
        backing: step.backing,
        deltaE00: DE00.difference(a, b),
        difference,
        isWithin: difference <= limit,
      },
    ];
  });
}

/**
 * How far two that match in one light are apart in another, ΔE00: the special index of metamerism. What they differ by in the first
 * light is taken out of the second by the same factors of X, Y and Z.
 *
 * Source: CIE 015, 9.2.2.2 (multiplicative correction, after Fairman 1987); ΔE00 where it has ΔE*ab.
 */
export function metamerism(
  one: Spectrum,
  other: Spectrum,
  from: Illuminant = 'D65',
  to: Illuminant = 'A',
  observer: Observer = '10',
): number {
  const xyz = (s: Spectrum, light: Illuminant) => reflectanceToXyz(s, light, observer);
  const [a, b] = [xyz(one, from), xyz(other, from)];
  const factors = a.map((v, i) => (b[i]! > 1e-9 ? v / b[i]! : 1));
  const white = whiteOf(to, observer);
  const there = xyz(other, to).map((v, i) => v * factors[i]!) as Triple;
  return DE00.difference(labUnder(xyz(one, to), white), labUnder(there, white));
}

/** Daylight, a lamp and a shop's tubes: what prints are looked at in. */
export const USUAL_LIGHTS = ['D50', 'A', 'F11'] as const satisfies readonly Illuminant[];

/** How far two spectra are apart: ΔE00 in each of the usual lights, the most of them, and the root mean square over common bands. */
export function spectralDifference(
  one: Spectrum,
  other: Spectrum,
): { each: number[]; most: number; rms: number } {
  const each = USUAL_LIGHTS.map((light) =>
    DE00.difference(labOfSpectrum(one, light), labOfSpectrum(other, light)),
  );
  let [sum, n] = [0, 0];
  one.values.forEach((v, i) => {
    const place = (one.start + i * one.step - other.start) / other.step;
    const twin = Number.isInteger(place) ? other.values[place] : undefined;
    if (twin === undefined) return;
    sum += (v - twin) ** 2;
    n++;
  });
  return { each, most: Math.max(...each), rms: n > 0 ? Math.sqrt(sum / n) : Number.NaN };
}

/** How much an ink glows: where its mode with ultraviolet reflects more than the one without. */
export interface Fluorescence {
  /** The modes that were compared, such as M0 and M2. */
  modes: [string, string];
  /** ΔE00 of the step that differs most, and which that is. */
  deltaE00: number;
  percent: number;
  /** The largest gain in reflectance, and at which wavelength. */
  gain: number;
  nm: number;
}

/** M1 and M0 have ultraviolet, M2 has none (ISO 13655). Null without two such measurements of the same steps. */
export function fluorescence(inks: readonly MeasuredInk[]): Fluorescence | null {
  const of = (mode: string) => inks.find((i) => i.conditions.mode === mode);
  const without = of('M2');
  const [mode, lit] = of('M1') ? (['M1', of('M1')] as const) : (['M0', of('M0')] as const);
  if (!without || !lit) return null;
  let found: Fluorescence | null = null;
  for (const step of lit.steps.filter((s) => s.backing === 'white')) {
    const twin = twinOf(without.steps, step);
    if (!twin || twin.spectrum.start !== step.spectrum.start || twin.spectrum.step !== step.spectrum.step)
      continue;
    const gains = step.spectrum.values.map((v, i) => v - (twin.spectrum.values[i] ?? v));
    const gain = Math.max(...gains);
    const deltaE00 = DE00.difference(labOfSpectrum(step.spectrum), labOfSpectrum(twin.spectrum));
    if (!found || deltaE00 > found.deltaE00)
      found = {
        modes: [mode, 'M2'],
        deltaE00,
        percent: step.percent,
        gain,
        nm: step.spectrum.start + step.spectrum.step * gains.indexOf(gain),
      };
  }
  return found;
}

/** A batch beside the reference of its series. */
export interface Batch {
  /** From the reference, by the formula of its tolerance. */
  difference: number;
  isWithin: boolean;
  lab: Lab;
  /** Tone value at 50 %, as much more or less than the reference's; null without a ramp. */
  toneShift: number | null;
}

/** Batches of an ink beside their reference: the solid over white, and the tone value at 50 %. */
export function batchesOf(
  reference: MeasuredInk,
  batches: readonly MeasuredInk[],
  tolerance: Tolerance,
): Batch[] {
  const solid = (ink: MeasuredInk) =>
    labOfSpectrum((ink.steps.findLast((s) => s.backing === 'white') ?? ink.steps.at(-1)!).spectrum);
  const half = (ink: MeasuredInk) => toneAt(figuresOf(ink).steps, 50);
  const [lab, tone] = [solid(reference), half(reference)];
  return batches.map((ink) => {
    const own = solid(ink);
    const difference = tolerance.metric.difference(lab, own);
    const ownTone = half(ink);
    return {
      difference,
      isWithin: difference <= tolerance.limit,
      lab: own,
      toneShift: tone === null || ownTone === null ? null : ownTone - tone,
    };
  });
}
