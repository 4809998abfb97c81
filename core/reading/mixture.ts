import { belowSurface, type Surface, throughSurface } from '../spectral/index.ts';
import type { Spectrum } from '../swatch/model.ts';
import type { MeasuredInk, Step } from '../swatch/reading.ts';

/** How an ink of one thickness absorbs and scatters, at the wavelengths of its spectrum. */
export interface Film {
  start: number;
  step: number;
  /** Absorption and scattering of the whole thickness, 0 and more. */
  absorption: number[];
  scattering: number[];
}

/** Of a print that is measured at 45°:0°: nothing of its gloss is seen (common practice, no source). */
export const GLOSS: Surface = { outside: 0.04, inside: 0.6, caught: 0 };

/** Nothing reflects less, or all. */
const inside = (v: number) => Math.min(0.9999, Math.max(1e-4, v));
/** Two backings that differ by less say nothing of an ink. */
const MIN_APART = 1e-4;
/** Scattering is never quite nothing: the formulas divide by it. */
const MIN_SCATTERING = 1e-5;

/**
 * Absorption and scattering of a film over two backings, of one wavelength.
 *
 * Source: Kubelka, J. Opt. Soc. Am. 38 (1948) 448: b · coth(bSX) = (1 + R·Rg − a(R + Rg)) / (R − Rg), which is the same over both.
 * @param over and `under`: reflectance of film on backing, and of the backing, inside the surface, 0–1
 */
function filmAt(
  over: [film: number, backing: number],
  under: [film: number, backing: number],
): [k: number, s: number] {
  const [[r1, g1], [r2, g2]] = [over, under];
  const [d1, d2] = [r1 - g1, r2 - g2];
  if (Math.abs(d1) < MIN_APART && Math.abs(d2) < MIN_APART) return [0, MIN_SCATTERING];
  // multiplied out, so that a backing that looks like the film is not a pole
  const a = ((1 + r1 * g1) * d2 - (1 + r2 * g2) * d1) / ((r1 + g1) * d2 - (r2 + g2) * d1);
  const [r, g, d] = Math.abs(d1) > Math.abs(d2) ? [r1, g1, d1] : [r2, g2, d2];
  if (!(a > 1 + 1e-6)) {
    // it absorbs nothing: b · coth(bSX) becomes 1 / SX
    const alone = d / ((1 - r) * (1 - g));
    return alone > MIN_SCATTERING ? [0, alone] : transparent(r1, g1);
  }
  const b = Math.sqrt(a * a - 1);
  const y = (1 + r * g - a * (r + g)) / d / b;
  if (!(Math.abs(y) > 1 + 1e-12)) return transparent(r1, g1);
  const sx = Math.log((y + 1) / (y - 1)) / 2 / b;
  return sx > MIN_SCATTERING ? [sx * (a - 1), sx] : transparent(r1, g1);
}

/** A film that scatters nothing: light passes it twice. */
const transparent = (film: number, backing: number): [k: number, s: number] => [
  Math.max(0, Math.log(backing / film) / 2),
  MIN_SCATTERING,
];

/** What a film reflects over a backing, inside the surface. Source: as {@link filmAt}. */
function over(backing: number, k: number, s: number): number {
  const sx = Math.max(MIN_SCATTERING, s);
  const a = 1 + k / sx;
  const b = Math.sqrt(Math.max(1e-12, a * a - 1));
  const y = b / Math.tanh(b * sx);
  return (1 - backing * (a - y)) / (a - backing + y);
}

const at = (ink: MeasuredInk, percent: number, backing: Step['backing']) =>
  ink.steps.find((s) => s.percent === percent && s.backing === backing)?.spectrum;

const sameBands = (...spectra: Spectrum[]) =>
  spectra.every(
    (s) =>
      s.start === spectra[0]!.start &&
      s.step === spectra[0]!.step &&
      s.values.length === spectra[0]!.values.length,
  );

/** A film from its solid over white and over black, and both bare; null where one of the four is missing or differs in its bands. */
export function filmOf(ink: MeasuredInk, surface: Surface = GLOSS): Film | null {
  const [white, black] = [at(ink, 0, 'white'), at(ink, 0, 'black')];
  const [onWhite, onBlack] = [at(ink, 100, 'white'), at(ink, 100, 'black')];
  if (!white || !black || !onWhite || !onBlack || !sameBands(white, black, onWhite, onBlack)) return null;
  const below = (s: Spectrum, i: number) => inside(belowSurface(s.values[i]!, surface));
  const both = white.values.map((_, i) =>
    filmAt([below(onWhite, i), below(white, i)], [below(onBlack, i), below(black, i)]),
  );
  return {
    start: white.start,
    step: white.step,
    absorption: both.map(([k]) => k),
    scattering: both.map(([, s]) => s),
  };
}

/** Films in parts of a thickness, over a backing as an instrument sees it: what it sees then. */
export function mixedOver(
  backing: Spectrum,
  parts: readonly { film: Film; amount: number }[],
  surface: Surface = GLOSS,
): Spectrum {
  const values = backing.values.map((v, i) => {
    let [k, s] = [0, 0];
    for (const { film, amount } of parts) {
      k += amount * film.absorption[i]!;
      s += amount * film.scattering[i]!;
    }
    return throughSurface(over(inside(belowSurface(v, surface)), k, s), surface);
  });
  return { ...backing, values };
}

/** Yule and Nielsen's n of an ordinary screen on coated paper (common practice, no source). */
const SPREAD = 2;

/** An overprint or a tint of two inks, estimated. */
export interface Estimate {
  spectrum: Spectrum;
  /** What it is made of that was not measured, in words. */
  from: string;
}

/** The measured steps around a percentage over white, and how far between them it lies, 0–1. */
function cellOf(ink: MeasuredInk, percent: number): [low: Step, high: Step, part: number] | null {
  const own = ink.steps.filter((s) => s.backing === 'white');
  const next = own.findIndex((s) => s.percent >= percent);
  if (next < 0) return null;
  const high = own[next]!;
  if (high.percent === percent) return [high, high, 0];
  const low = own[next - 1];
  return low ? [low, high, (percent - low.percent) / (high.percent - low.percent)] : null;
}

/**
 * Tints of two inks over each other, by the cellular Yule–Nielsen-modified spectral Neugebauer model: between measured tints the
 * corners of the cell are mixed by their areas (Demichel), each to the power of 1/n. Corners where both inks lie are not measured
 * but estimated: the second ink's film over the first's print, or over its tint as that mixes sheet and solid.
 *
 * Source: Wyble and Berns, Color Res. Appl. 25 (2000) 4, for the model; Kubelka (1948) for the film over a print.
 * @param first printed first, in percent of its plate
 * @returns null where a ramp, the sheet, or the solid over black that tells how the second ink covers is missing
 */
export function overprint(
  first: { ink: MeasuredInk; percent: number },
  second: { ink: MeasuredInk; percent: number },
  spread = SPREAD,
): Estimate | null {
  const film = filmOf(second.ink);
  const [one, two] = [cellOf(first.ink, first.percent), cellOf(second.ink, second.percent)];
  const sheet = at(second.ink, 0, 'white');
  const solid = at(second.ink, 100, 'white');
  if (!film || !one || !two || !sheet || !solid) return null;
  if (!sameBands(sheet, solid, one[0].spectrum, one[1].spectrum)) return null;
  const root = (v: number) => Math.max(0, v) ** (1 / spread);
  /** How much of the sheet a tint of the second ink covers, at each wavelength. */
  const areas = ({ spectrum }: Step) =>
    spectrum.values.map((v, i) => {
      const [p, s] = [root(sheet.values[i]!), root(solid.values[i]!)];
      return Math.abs(p - s) < 1e-4 ? Number.NaN : Math.min(1, Math.max(0, (p - root(v)) / (p - s)));
    });
  const corner = (below: Step, above: Step): number[] => {
    if (above.percent === 0) return below.spectrum.values;
    const covered = mixedOver(below.spectrum, [{ film, amount: 1 }]).values;
    const own = areas(above);
    // where ink and sheet are alike, the area is that of the other wavelengths
    const known = own.filter((v) => !Number.isNaN(v));
    const mean = known.length > 0 ? known.reduce((a, b) => a + b, 0) / known.length : above.percent / 100;
    return covered.map((v, i) => {
      const area = Number.isNaN(own[i]!) ? mean : own[i]!;
      return (area * root(v) + (1 - area) * root(below.spectrum.values[i]!)) ** spread;
    });
  };
  const [x, y] = [one[2], two[2]];
  const corners: [weight: number, values: number[]][] = [
    [(1 - x) * (1 - y), corner(one[0], two[0])],
    [x * (1 - y), corner(one[1], two[0])],
    [(1 - x) * y, corner(one[0], two[1])],
    [x * y, corner(one[1], two[1])],
  ];
  const values = sheet.values.map(
    (_, i) =>
      corners.reduce((sum, [weight, own]) => sum + (weight > 0 ? weight * root(own[i]!) : 0), 0) ** spread,
  );
  return {
    spectrum: { ...sheet, values },
    from: `${second.ink.name} over ${first.ink.name}, from their ramps and what ${second.ink.name} covers of black`,
  };
}
