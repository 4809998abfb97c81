export { type Assigning, type Assignment, assignColors, changesOf, linksOf, swatchMeant } from './assign.ts';
export {
  type ArtworkFacts,
  type ColorFacts,
  differences,
  factsOf,
  isOff,
  knownOf,
  linesAround,
  linksBy,
  type Order,
  ordersOf,
  type PartFacts,
  pictureFacts,
  type Row,
  rowsIn,
  type Stray,
  straysIn,
  WAYS,
  type Way,
  wouldTurn,
} from './colorway.ts';
export { type KnownWay, knownWays, wayName } from './known.ts';
export {
  type Coverage,
  codeOfPart,
  type MadeArtwork,
  madeOf,
  madeSvg,
  type Plate,
  PROCESS,
  partAt,
  partMap,
  platesOf,
  separated,
} from './made.ts';
export { type DrawnOutline, withOutlines } from './outline.ts';
export { artworkPalette, paletteOf } from './palette.ts';
export {
  type Artwork,
  type ArtworkColor,
  type ColorOrder,
  colorsOf,
  type PaintedColor,
  type Part,
  readArtwork,
} from './parts.ts';
export { type ArtworkPage, artworkPdf } from './pdf.ts';
export { type FlatPicture, readFlat, recoloredPixels } from './pixels.ts';
export { recolored } from './recolor.ts';
export { type ArtworkSize, trueSize, type Worth } from './size.ts';
export { artworkText, MAX_ARTWORK_BYTES } from './source.ts';
