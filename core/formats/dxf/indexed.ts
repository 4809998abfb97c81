import { fromRgb8, NearIndex, screenOnly, toLab } from '../../color/index.ts';

/** The nine first colours. */
const FIXED = [0, 0xff0000, 0xffff00, 0x00ff00, 0x00ffff, 0x0000ff, 0xff00ff, 0xffffff, 0x808080, 0xc0c0c0];
/** The five values of each hue. */
const VALUES = [255, 204, 153, 127, 76];

type Rgb8 = [number, number, number];

/**
 * The indexed colours of DXF by their number, 1–255, as 8-bit RGB; 0 means nothing. From memory: 1–9 are fixed;
 * 10–249 are 24 hues 15° apart, each in five values, full and half saturated; 250–255 are grays. The test holds
 * them against the table of the package dxf-parser.
 */
export const INDEXED: Rgb8[] = Array.from({ length: 256 }, (_, i): Rgb8 => {
  if (i < 10) return [FIXED[i] >> 16, (FIXED[i] >> 8) & 255, FIXED[i] & 255];
  if (i >= 250) return Array(3).fill(Math.floor(51 + 40.8 * (i - 250))) as Rgb8;
  const hue = Math.floor((i - 10) / 10) / 4;
  const high = VALUES[(i % 10) >> 1];
  const low = i % 2 ? high >> 1 : 0;
  // each channel is high for a third of the hues, low for a third, and on its way between
  return [0, 2, 4].map((shift) => {
    const distance = Math.abs(((hue - shift + 9) % 6) - 3);
    return Math.floor(low + (high - low) * Math.min(1, Math.max(0, 2 - distance)));
  }) as Rgb8;
});

let known: NearIndex | null = null;

/** The number of the indexed colour nearest to an 8-bit one by CIEDE2000. White is 7, which programs draw black on white paper. */
export function nearestIndexed(rgb: Rgb8): number {
  known ??= new NearIndex(INDEXED.slice(1).map((c) => toLab(fromRgb8(...c), screenOnly)));
  return known.closest(toLab(fromRgb8(...rgb), screenOnly))!.place + 1;
}
