export { type Assigning, type Assignment, assignColors, changesOf, linksOf, swatchMeant } from './assign.ts';
export { artworkPalette } from './palette.ts';
export {
  type Artwork,
  type ArtworkColor,
  type ColorOrder,
  colorsOf,
  type PaintedColor,
  type Part,
  readArtwork,
} from './parts.ts';
export { artworkPdf } from './pdf.ts';
export { type FlatPicture, readFlat, recoloredPixels } from './pixels.ts';
export { recolored } from './recolor.ts';
export type { ArtworkSize } from './size.ts';
export { artworkText } from './source.ts';
