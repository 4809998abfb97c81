import type { Triple } from '../color/lab.ts';
import { DAYLIGHT, FIRST_NM, LAMPS, LAMPS_FIRST_NM, LAST_NM, OBSERVERS, STEP_NM } from './cie.ts';
import type { Curve } from './lab.ts';

/** The CIE's lights that reflectance is looked at under. */
export const ILLUMINANTS = ['D50', 'D55', 'D65', 'D75', 'A', 'C', 'E', 'F2', 'F11'] as const;
export type Illuminant = (typeof ILLUMINANTS)[number];
export type Observer = keyof typeof OBSERVERS;

const COUNT = LAST_NM - FIRST_NM + 1;

/** Values at every nm of a table, through four of its values each (Lagrange), the end values beyond the ends. */
function everyNm(values: readonly number[], first: number, step: number): Float64Array {
  const at = (i: number) => values[Math.min(values.length - 1, Math.max(0, i))]!;
  return Float64Array.from({ length: COUNT }, (_, k) => {
    const place = (FIRST_NM + k - first) / step;
    if (place <= 0) return values[0]!;
    if (place >= values.length - 1) return values.at(-1)!;
    const i = Math.floor(place);
    const t = place - i;
    // near the ends, where one of the four is missing, the line goes on as it came
    const a = i > 0 ? at(i - 1) : 2 * at(0) - at(1);
    const d = i + 2 < values.length ? at(i + 2) : 2 * at(i + 1) - at(i);
    return (
      (-t * (t - 1) * (t - 2) * a) / 6 +
      ((t + 1) * (t - 1) * (t - 2) * at(i)) / 2 -
      ((t + 1) * t * (t - 2) * at(i + 1)) / 2 +
      ((t + 1) * t * (t - 1) * d) / 6
    );
  });
}

/** The nominal temperatures of the D illuminants on the scale of 1990: c₂ was 1.438 · 10⁻² when they were defined. */
const D_SCALE = 1.4388 / 1.438;
const DAYLIGHTS: Partial<Record<Illuminant, number>> = { D50: 5000, D55: 5500, D65: 6500, D75: 7500 };

/**
 * Daylight of a temperature, every 5 nm.
 *
 * Source: CIE 015, 4.1.2: chromaticity by the temperature, M1 and M2 to three decimals.
 */
function daylight(kelvin: number): number[] {
  const t = 1000 / (kelvin * D_SCALE);
  const x =
    kelvin * D_SCALE <= 7000
      ? 0.244063 + 0.09911 * t + 2.9678 * t ** 2 - 4.607 * t ** 3
      : 0.23704 + 0.24748 * t + 1.9018 * t ** 2 - 2.0064 * t ** 3;
  const y = -3 * x * x + 2.87 * x - 0.275;
  const below = 0.0241 + 0.2562 * x - 0.7341 * y;
  const three = (v: number) => Math.round(v * 1000) / 1000;
  const m1 = three((-1.3515 - 1.7703 * x + 5.9114 * y) / below);
  const m2 = three((0.03 - 31.4424 * x + 30.0717 * y) / below);
  return DAYLIGHT[0]!.map((s0, i) => s0 + m1 * DAYLIGHT[1]![i]! + m2 * DAYLIGHT[2]![i]!);
}

/** Illuminant A at a wavelength, nm: 100 at 560. Source: CIE S 014-2, 4. */
const incandescent = (nm: number): number =>
  (100 * (560 / nm) ** 5 * Math.expm1(1.435e7 / (2848 * 560))) / Math.expm1(1.435e7 / (2848 * nm));

/** Relative power of a light at every nm. */
function powerOf(light: Illuminant): Float64Array {
  const kelvin = DAYLIGHTS[light];
  if (kelvin) return everyNm(daylight(kelvin), FIRST_NM, STEP_NM);
  if (light === 'A') return Float64Array.from({ length: COUNT }, (_, k) => incandescent(FIRST_NM + k));
  if (light === 'E') return new Float64Array(COUNT).fill(100);
  return everyNm(LAMPS[light as keyof typeof LAMPS], LAMPS_FIRST_NM, STEP_NM);
}

const known = new Map<string, readonly Float64Array[]>();

/** What reflectance of 1 at each nm adds to X, Y and Z; the sum of Y is 100. */
function weightsOf(light: Illuminant, observer: Observer): readonly Float64Array[] {
  const key = `${light}/${observer}`;
  let weights = known.get(key);
  if (!weights) {
    const power = powerOf(light);
    const eyes = OBSERVERS[observer].map((table) => everyNm(table, FIRST_NM, STEP_NM));
    const scale = 100 / power.reduce((sum, p, k) => sum + p * eyes[1]![k]!, 0);
    weights = eyes.map((eye) => eye.map((v, k) => v * power[k]! * scale));
    known.set(key, weights);
  }
  return weights;
}

/**
 * CIE XYZ of measured reflectance under a light, the perfect diffuser having Y = 100: summed up at every nm, which lie on cubics
 * between the measured bands; beyond them the end values go on.
 *
 * Source: CIE 015, 7.1.
 */
export function reflectanceToXyz(
  { start, step, values }: Curve,
  light: Illuminant = 'D50',
  observer: Observer = '2',
): Triple {
  const reflectance = everyNm(values, start, step);
  return weightsOf(light, observer).map((w) =>
    w.reduce((sum, v, k) => sum + v * reflectance[k]!, 0),
  ) as Triple;
}

const whites = new Map<readonly Float64Array[], Triple>();

/** The white of a light: what the perfect diffuser has. */
export function whiteOf(light: Illuminant, observer: Observer): Triple {
  const weights = weightsOf(light, observer);
  let white = whites.get(weights);
  if (!white) {
    white = weights.map((w) => w.reduce((sum, v) => sum + v, 0)) as Triple;
    whites.set(weights, white);
  }
  return white;
}
