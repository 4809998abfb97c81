import type { ColorEngine } from './engine.ts';
import { hashOf, ProfileError } from './profile.ts';
import { SHIPPED } from './shipped.ts';

/**
 * Ink pixels to sRGB, as pictures are usually proofed.
 *
 * @param cmyk four bytes to a pixel, 0 no ink, 255 full
 * @param icc the profile of the inks; coated offset when null, or when it is damaged or of another device
 * @returns three bytes to a pixel, clipped to sRGB
 */
export function inkPixels(engine: ColorEngine, cmyk: Uint8Array, icc: Uint8Array | null): Uint8Array {
  const hash = icc && hashOf(icc);
  const known = hash !== null && engine.profile(hash) !== undefined;
  try {
    if (hash && engine.add(icc, hash).space === 'cmyk') return engine.toScreen(hash, cmyk);
  } catch (error) {
    if (!(error instanceof ProfileError)) throw error;
  } finally {
    // every picture may bring another one
    if (hash && !known) engine.remove(hash);
  }
  return engine.toScreen(SHIPPED.coated, cmyk);
}
