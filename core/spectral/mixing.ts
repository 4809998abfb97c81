// Inks on paper, wavelength by wavelength. Reflectance factors are 0–1; absorption is K/S, 0 for what absorbs nothing.

/** How light passes the surface of a print. */
export interface Surface {
  /** Part of the light from outside that the surface throws back, 0–1; about 0.04 for ink and paper (refractive index 1.5). */
  outside: number;
  /** Part of the light from inside that it throws back, 0–1; 0.6 for light from all sides at that index. */
  inside: number;
  /** How much of what it throws back reaches the instrument at 45°:0° (ISO 13655): nothing of a gloss, some of a matt one, 0–1. */
  caught: number;
}

/**
 * Absorption over scattering of an opaque layer that reflects so much: K/S = (1 − R)² / 2R.
 *
 * Source: Kubelka and Munk (1931), as in ISO 18314-2.
 * @param reflectance inside the layer, 0–1; below 1e-6 it is taken for 1e-6
 */
export function absorptionOf(reflectance: number): number {
  const r = Math.max(1e-6, reflectance);
  return (1 - r) ** 2 / (2 * r);
}

/** The reflectance of an opaque layer with so much K/S; {@link absorptionOf} the other way. */
export const reflectanceOf = (absorption: number): number =>
  1 + absorption - Math.sqrt(absorption * absorption + 2 * absorption);

/**
 * What an instrument sees of what a layer reflects inside.
 *
 * Source: Saunderson, J. Opt. Soc. Am. 32 (1942) 727.
 */
export const throughSurface = (below: number, { outside: k1, inside: k2, caught }: Surface): number =>
  caught * k1 + ((1 - k1) * (1 - k2) * below) / (1 - k2 * below);

/** What a layer reflects inside, of what an instrument sees; {@link throughSurface} the other way. */
export const belowSurface = (seen: number, { outside: k1, inside: k2, caught }: Surface): number => {
  const light = seen - caught * k1;
  return light / ((1 - k1) * (1 - k2) + k2 * light);
};

/**
 * The reflectance of a mix on a paper, by single-constant mixing: absorptions add up in proportion to their amounts.
 *
 * @param paper as an instrument sees it
 * @param inks absorption of each ink at the same wavelengths, for the amount 1
 */
export function mixOn(
  paper: readonly number[],
  surface: Surface,
  inks: readonly { absorption: readonly number[]; amount: number }[],
): number[] {
  return paper.map((white, i) => {
    let absorption = absorptionOf(belowSurface(white, surface));
    for (const ink of inks) absorption += ink.amount * ink.absorption[i]!;
    return throughSurface(reflectanceOf(absorption), surface);
  });
}

/** How tints of a solid come out. */
export interface Tone {
  /** Yule and Nielsen's n: 1 where light does not spread in the paper, about 2 where it spreads all over. */
  spread: number;
  /** How much larger a dot of 50 % prints, 0–0.25. */
  gain: number;
}

/**
 * The reflectance of a tint between paper and solid, by Yule and Nielsen's model.
 *
 * Source: Yule and Nielsen, TAGA Proceedings 3 (1951) 65, wavelength by wavelength after Viggiano (1985); dots grow by a
 * parabola through {@link Tone.gain} at 50 % (common practice, no source).
 * @param coverage of the plate, 0–1
 */
export function tintOf(
  paper: readonly number[],
  solid: readonly number[],
  coverage: number,
  { spread, gain }: Tone,
): number[] {
  const area = Math.min(1, coverage + 4 * gain * coverage * (1 - coverage));
  return paper.map(
    (white, i) => (area * solid[i]! ** (1 / spread) + (1 - area) * white ** (1 / spread)) ** spread,
  );
}
