import type { Color, Condition } from './color/index.ts';
import type { Swatch } from './swatch/model.ts';
import type { Face } from './text/fonts.ts';

/** Loads a font that ships with the app, as WOFF: for formats that set type. */
export type LoadFont = (font: Face) => Promise<Uint8Array>;

/** A swatch on a sheet, by its column and row. */
export interface Chip {
  swatch: Swatch;
  column: number;
  row: number;
}

/** A sheet as pixels. */
export interface PixelSheet {
  width: number;
  height: number;
  chip: number;
  /** Height of the strip under a chip where its name stands; 0 on a bare sheet. */
  strip: number;
  chips: Chip[];
  columns: number;
}

/** What the place where core runs gives to formats that set type: core has no fonts and no canvas. */
export interface Typesetting {
  loadFont: LoadFont;
  /** Writes the names under the chips of a sheet into its pixels. */
  drawLabels(
    sheet: PixelSheet,
    data: Uint8ClampedArray<ArrayBuffer>,
    condition: Condition,
  ): Promise<Uint8ClampedArray>;
}

/** A picture that is kept with a library, with the colours that were taken from it. */
export interface LibraryPicture {
  id: string;
  name: string;
  /** Pixels. */
  width: number;
  height: number;
  colors: { color: Color; name: string /** Of the picture, 0–1. */; share: number }[];
}

/** The services that a format uses: the print condition under which colours become others, and type. */
export interface Services extends Typesetting {
  condition: Condition;
  /** Another condition, by the profile it prints with. */
  under?(profile: string): Promise<Condition>;
  /** The bytes of a profile by its SHA-256; null when they are not available. */
  profile?(hash: string): Promise<Uint8Array | null>;
  /** The condition that libraries begin with. */
  usual?(): Promise<Condition>;
  /** The bytes of a piece of artwork by their SHA-256; null when they are not available. */
  artwork?(hash: string): Promise<Uint8Array | null>;
  /** The pictures that are kept with a library, each with its copy: a JPEG or a PNG. */
  pictures?(library: string): Promise<(LibraryPicture & { bytes: Uint8Array })[]>;
  /** When the file is written, as ISO 8601, for formats that say so; core has no clock. */
  now?: string;
}
