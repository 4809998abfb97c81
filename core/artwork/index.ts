export { type Assignment, assignColors, changesOf, linksOf } from './assign.ts';
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
  type Way,
  wouldTurn,
} from './colorway.ts';
export { knownWays, wayName } from './known.ts';
export {
  codeOfPart,
  type MadeArtwork,
  madeOf,
  madeSvg,
  type Plate,
  partAt,
  partMap,
  platesOf,
  separated,
} from './made.ts';
export { type DrawnOutline, withOutlines } from './outline.ts';
export { madePdf, type PageLine, pageColors, pageLines, pagePlates, pagesFacts, shownPdf } from './pages.ts';
export { artworkPalette, paletteOf } from './palette.ts';
export {
  type Artwork,
  type ColorOrder,
  colorsOf,
  type PaintedColor,
  readArtwork,
} from './parts.ts';
export { artworkPdf } from './pdf.ts';
export { type FlatPicture, readFlat, recoloredPixels } from './pixels.ts';
export { recolored } from './recolor.ts';
export { type ArtworkSize, trueSize } from './size.ts';
export { artworkText } from './source.ts';
