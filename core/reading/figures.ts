import { xyz50ToLab } from '../color/lab.ts';
import type { Lab } from '../color/model.ts';
import { densityOf, type Filter, mainDensity, STATUSES, type Status } from '../spectral/density.ts';
import { type Illuminant, type Observer, reflectanceToXyz, whiteOf } from '../spectral/xyz.ts';
import type { Spectrum } from '../swatch/model.ts';
import type { MeasuredInk, Step } from './model.ts';

export type Triple = [number, number, number];

/** D50 as Lab in this house has it. */
const D50: Triple = [0.3457 / 0.3585, 1, (1 - 0.3457 - 0.3585) / 0.3585];

/** CIE Lab of XYZ (Y of the perfect diffuser is 100), for the white that it was seen under. */
export const labUnder = (xyz: Triple, white: Triple): Lab =>
  xyz50ToLab(xyz.map((v, i) => (v / white[i]!) * D50[i]!));

/** CIE Lab of measured reflectance in a light. */
export const labOfSpectrum = (spectrum: Spectrum, light: Illuminant = 'D50', observer: Observer = '2'): Lab =>
  labUnder(reflectanceToXyz(spectrum, light, observer), whiteOf(light, observer));

/** The three values that tone values are made of: each of XYZ as lightness is made of Y. */
const lightnesses = (xyz: Triple, white: Triple): Triple =>
  xyz.map((v, i) => {
    const t = v / white[i]!;
    return t > 216 / 24389 ? 116 * Math.cbrt(t) - 16 : (24389 / 27) * t;
  }) as Triple;

/**
 * Spot colour tone value of a tint, %: how far it is on the way from the sheet to the solid. Under D50 and 2°.
 *
 * Source: ISO 20654, as its published descriptions have it: the distance between tint and sheet over that between solid and sheet, of
 * X, Y and Z each as lightness. From memory; the standard's own worked values were not at hand.
 */
export function toneValue(tint: Spectrum, sheet: Spectrum, solid: Spectrum): number {
  const white = whiteOf('D50', '2');
  const [t, p, s] = [tint, sheet, solid].map((c) => lightnesses(reflectanceToXyz(c), white)) as [
    Triple,
    Triple,
    Triple,
  ];
  const apart = (a: Triple, b: Triple) => Math.hypot(a[0] - b[0], a[1] - b[1], a[2] - b[2]);
  const whole = apart(s, p);
  return whole < 1e-9 ? 0 : (100 * apart(t, p)) / whole;
}

/** Optical density at one band of a spectrum, nm: where an ink absorbs most, of the solid's least reflectance. */
export const densityAt = ({ start, step, values }: Spectrum, band: number): number =>
  densityOf(values[Math.round((band - start) / step)] ?? Number.NaN);

export const bandOf = ({ start, step, values }: Spectrum): number =>
  start + step * values.indexOf(Math.min(...values));

/** What a step comes to. */
export interface StepFigures {
  step: Step;
  xyz: Triple;
  lab: Lab;
  /** %; null where sheet or solid are missing. */
  toneValue: number | null;
  density: { band: number; value: number };
  /** Through the densest of the colour filters, for each status. */
  status: Record<Status, { filter: Filter; value: number }>;
}

export interface InkFigures {
  steps: StepFigures[];
  /**
   * How much the solid hides what lies below, 0–1: Y over black to Y over white, as in the contrast ratio of ISO 2814. Null where
   * one of them was not measured.
   */
  opacity: number | null;
}

/** The figures of an ink under a light. Tone values and densities are what they are, whatever the light. */
export function figuresOf(
  { steps }: MeasuredInk,
  light: Illuminant = 'D50',
  observer: Observer = '2',
): InkFigures {
  const at = (percent: number, backing: Step['backing']) =>
    steps.find((s) => s.percent === percent && s.backing === backing)?.spectrum;
  const white = whiteOf(light, observer);
  const darkest = at(100, 'white') ?? at(100, 'black') ?? steps.at(-1)!.spectrum;
  const band = bandOf(darkest);
  const [over, under] = [at(100, 'white'), at(100, 'black')];
  const luminance = (s: Spectrum) => reflectanceToXyz(s, light, observer)[1];
  return {
    steps: steps.map((step) => {
      const xyz = reflectanceToXyz(step.spectrum, light, observer);
      const [sheet, solid] = [at(0, step.backing), at(100, step.backing)];
      return {
        step,
        xyz,
        lab: labUnder(xyz, white),
        toneValue: sheet && solid ? toneValue(step.spectrum, sheet, solid) : null,
        density: { band, value: densityAt(step.spectrum, band) },
        status: Object.fromEntries(
          STATUSES.map((status) => [status, mainDensity(step.spectrum, status)]),
        ) as StepFigures['status'],
      };
    }),
    opacity: over && under ? luminance(under) / luminance(over) : null,
  };
}

/** The tone value at a percentage of the plate over white, on a straight line between the steps around it; null without a ramp. */
export function toneAt(steps: readonly StepFigures[], percent: number): number | null {
  const own = steps.flatMap(({ step, toneValue: tone }) =>
    step.backing === 'white' && tone !== null ? [{ at: step.percent, tone }] : [],
  );
  const next = own.findIndex((s) => s.at >= percent);
  if (next < 0) return null;
  const [a, b] = [own[next - 1], own[next]!];
  if (b.at === percent) return b.tone;
  return a ? a.tone + ((percent - a.at) / (b.at - a.at)) * (b.tone - a.tone) : null;
}
