import { deltaE00 } from './difference.ts';
import type { Lab } from './model.ts';

/** A way to say how far two colours are apart. */
export interface Metric {
  id: string;
  name: string;
  /** Of a sample from a reference; the same both ways unless the name says otherwise. */
  difference(reference: Lab, sample: Lab): number;
  /** No colour that differs by 1 differs in L* by more than this, as long as L* is from −15 to 115. */
  lightness: number;
  /**
   * The least that two colours differ for each unit they lie apart in the plane of a* and b*, so that most need not be measured.
   *
   * @param chroma of the reference, and of the sample
   * @param hue likewise, degrees 0–360
   */
  perUnit(chroma: number, otherChroma: number, hue: number, otherHue: number): number;
}

/** CIE 1976: the plain distance. Source: ISO/CIE 11664-4. */
export function deltaE76(one: Lab, two: Lab): number {
  const [l, a, b] = [one[0] - two[0], one[1] - two[1], one[2] - two[2]];
  return Math.sqrt(l * l + a * a + b * b);
}

/** Chroma and hue differences squared; the hue's can come out a trifle below 0. */
function chromaAndHue(one: Lab, two: Lab): [chroma: number, difference2: number, hue2: number] {
  const chroma = Math.hypot(one[1], one[2]);
  const apart = chroma - Math.hypot(two[1], two[2]);
  const plane = (one[1] - two[1]) ** 2 + (one[2] - two[2]) ** 2;
  return [chroma, apart * apart, Math.max(0, plane - apart * apart)];
}

/** CIE 1994 with the factors of graphic arts, seen from the reference. Source: CIE 116-1995. */
export function deltaE94(reference: Lab, sample: Lab): number {
  const [chroma, c2, h2] = chromaAndHue(reference, sample);
  const l = reference[0] - sample[0];
  return Math.sqrt(l * l + c2 / (1 + 0.045 * chroma) ** 2 + h2 / (1 + 0.015 * chroma) ** 2);
}

const chromaWeightCmc = (chroma: number) => 0.638 + (0.0638 * chroma) / (1 + 0.0131 * chroma);

/** CMC l:c, seen from the reference. Source: ISO 105-J03; 2:1 for what is only to be acceptable. */
export function deltaECmc(reference: Lab, sample: Lab, lightness = 2, chromaFactor = 1): number {
  const [L, a, b] = reference;
  const [chroma, c2, h2] = chromaAndHue(reference, sample);
  const hue = ((Math.atan2(b, a) * 180) / Math.PI + 360) % 360;
  const rad = Math.PI / 180;
  const t =
    hue >= 164 && hue <= 345
      ? 0.56 + Math.abs(0.2 * Math.cos((hue + 168) * rad))
      : 0.36 + Math.abs(0.4 * Math.cos((hue + 35) * rad));
  const c4 = chroma ** 4;
  const f = Math.sqrt(c4 / (c4 + 1900));
  const sl = L < 16 ? 0.511 : (0.040975 * L) / (1 + 0.01765 * L);
  const sc = chromaWeightCmc(chroma);
  const sh = sc * (f * t + 1 - f);
  return Math.sqrt(((L - sample[0]) / (lightness * sl)) ** 2 + c2 / (chromaFactor * sc) ** 2 + h2 / sh ** 2);
}

/**
 * CIEDE2000 weighs chroma most lightly, by 1 + 0.045 C′ with the mean C′ of both; only in the blues does its last term, as
 * strong as −1.73, let chroma and hue go so far together that 0.366 of the distance is left.
 */
function perUnit00(chroma: number, otherChroma: number, hue: number, otherHue: number): number {
  const mean = (chroma + otherChroma) / 2;
  // a* is stretched near grey, by half at most, and above chroma 40 by less than a hundredth
  const weight = 1 + 0.045 * mean * (mean > 40 ? 1.01 : 1.5);
  let between = hue + otherHue;
  if (Math.abs(hue - otherHue) > 180) between += 360;
  between = (between / 2) % 360;
  // the stretching turns hues a little, and which way round two opposite ones are averaged
  const blue = (between > 190 && between < 360) || Math.abs(Math.abs(hue - otherHue) - 180) < 30;
  return (blue ? 0.366 : 0.999) / weight;
}

export const METRICS = [
  { id: 'de00', name: 'ΔE00', difference: deltaE00, lightness: 2, perUnit: perUnit00 },
  { id: 'de76', name: 'ΔE76', difference: deltaE76, lightness: 1, perUnit: () => 1 },
  {
    id: 'de94',
    name: 'ΔE94',
    difference: deltaE94,
    lightness: 1,
    perUnit: (chroma) => 1 / (1 + 0.045 * chroma),
  },
  {
    id: 'cmc',
    name: 'CMC 2:1',
    difference: (reference, sample) => deltaECmc(reference, sample),
    // the weight of L* 115, twice
    lightness: 3.12,
    perUnit: (chroma) => 1 / chromaWeightCmc(chroma),
  },
] as const satisfies Metric[];

export type MetricId = (typeof METRICS)[number]['id'];

const [ciede2000, plain] = METRICS;
/** CIEDE2000, the default. */
export const DE00: Metric = ciede2000;
/** Plain distance, in Lab or any space of three numbers. */
export const DE76: Metric = plain;

/** The metric of this id; CIEDE2000 for any other. */
export const metricById = (id: string): Metric => METRICS.find((m) => m.id === id) ?? DE00;
