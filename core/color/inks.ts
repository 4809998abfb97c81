import type { Lcms } from 'lcms-wasm';

/** Brings ink values to sRGB through ICC profiles. */
export interface Inks {
  /**
   * @param cmyk four bytes to a pixel, 0 no ink, 255 full
   * @param icc the profile of the inks; the standard one when null or when it is of another device
   * @returns three bytes to a pixel, clipped to sRGB
   */
  toSrgb(cmyk: Uint8Array, icc: Uint8Array | null): Uint8Array;
}

/** As Little CMS counts them: lcms2.h, COLORSPACE_SH, CHANNELS_SH and BYTES_SH. */
const CMYK_8 = (6 << 16) | (4 << 3) | 1;
const RGB_8 = (4 << 16) | (3 << 3) | 1;
const RELATIVE = 1;
const BLACK_POINT = 0x2000;
/** Pixels that are converted at once, so that the engine's own memory stays small. */
const BAND = 1 << 20;

/**
 * Relative colorimetric, with black point compensation, as pictures are usually proofed.
 *
 * @param standard the profile for inks that come without one
 */
export function inksOf(lcms: Lcms, standard: Uint8Array): Inks {
  const open = (icc: Uint8Array | null) => {
    const profile = icc ? lcms.cmsOpenProfileFromMem(icc, icc.length) : 0;
    if (profile && lcms.cmsGetColorSpaceASCII(profile) === 'CMYK') return profile;
    if (profile) lcms.cmsCloseProfile(profile);
    return 0;
  };
  return {
    toSrgb(cmyk, icc) {
      const from = open(icc) || open(standard);
      const to = lcms.cmsCreate_sRGBProfile();
      const transform = lcms.cmsCreateTransform(from, CMYK_8, to, RGB_8, RELATIVE, BLACK_POINT);
      const pixels = cmyk.length / 4;
      const rgb = new Uint8Array(3 * pixels);
      for (let at = 0; at < pixels; at += BAND) {
        const n = Math.min(BAND, pixels - at);
        rgb.set(lcms.cmsDoTransform<Uint8Array>(transform, cmyk.subarray(4 * at, 4 * (at + n)), n), 3 * at);
      }
      lcms.cmsDeleteTransform(transform);
      lcms.cmsCloseProfile(from);
      lcms.cmsCloseProfile(to);
      return rgb;
    },
  };
}
