import type { Color, Lab } from '#core/color/index';
import type {
  ChartGrid,
  Correction,
  Fit,
  Look,
  Palette,
  PaletteColor,
  Recipe,
  SampleSize,
  Verified,
  View,
} from '#core/picture/index';

/** The pictures asked about, by id; several count as one. */
export type Source = string[];

/** What the page asks the picture worker, and what comes back for each. */
export type PictureQueries = {
  open: { ask: { id: string; file: Blob; name: string }; answer: OpenedPicture };
  shut: { ask: { id: string }; answer: null };
  palette: { ask: { source: Source; recipe: Recipe }; answer: Palette };
  fit: { ask: { source: Source; look: Look; palette: Color[] }; answer: Fit | null };
  /** What brings a picture to the known values of the chart in it, Lab D50 in the order of its list. */
  correct: {
    ask: { id: string; known: Lab[]; reference: string; grid: ChartGrid | null };
    answer: Correction;
  };
  /** How far off a correction is on a second chart, under the grid or wherever a chart is found. */
  verify: {
    ask: { id: string; correction: Correction; known: Lab[]; reference: string; grid: ChartGrid | null };
    answer: Verified;
  };
  /** What the screen shows of a picture: as it is, or drawn with a palette. */
  show: {
    ask: { id: string; cell: number; view: View; palette: Color[] | null };
    answer: { data: Uint8ClampedArray<ArrayBuffer> };
  };
  /** The colour at a place, and the pixels round it for the enlarged view. */
  peek: {
    ask: { id: string; x: number; y: number; size: SampleSize; cell: number };
    answer: { color: PaletteColor | null; around: Uint8ClampedArray<ArrayBuffer>; side: number };
  };
  /** A copy of at most this many pixels a side, to be kept; a file that is small enough is kept as it is. */
  copy: {
    ask: { id: string; side: number; bytes: number };
    answer: { copy: Blob; width: number; height: number };
  };
};

export interface OpenedPicture {
  width: number;
  height: number;
  /** Opaque pixels. */
  opaque: number;
  /** The space of its numbers, and what went wrong with its profile. */
  space: string;
  note: string | null;
  /** A small copy for lists, as a file. */
  thumbnail: Blob;
}
