import type { ExactResult, PaletteColor, SampleSize } from '#core/picture/index';

/** What the page asks the picture worker, and what comes back for each. */
export type PictureQueries = {
  open: { ask: { file: Blob; name: string }; answer: OpenedPicture };
  reduce: { ask: { count: number }; answer: { colors: PaletteColor[] } };
  exact: { ask: { keepBackground: boolean }; answer: ExactResult };
  quality: { ask: { palette: number[][] }; answer: { meanDeltaE00: number } };
  /** The preview drawn with a palette. */
  draw: { ask: { palette: number[][] }; answer: { data: Uint8ClampedArray<ArrayBuffer> } };
  /** The colour at a place, and the pixels round it for the enlarged view. */
  peek: {
    ask: { x: number; y: number; size: SampleSize };
    answer: { rgb: [number, number, number] | null; around: Uint8ClampedArray<ArrayBuffer>; side: number };
  };
};

export interface OpenedPicture {
  width: number;
  height: number;
  /** Opaque pixels. */
  opaque: number;
  preview: { width: number; height: number; data: Uint8ClampedArray<ArrayBuffer> };
}
