import type { ArtworkFacts, ArtworkSize, DrawnOutline, Order, Plate } from '#core/artwork/index';
import type { BoardPage } from '#core/board/index';
import type { ConditionSetting } from '#core/color/index';
import type { Color } from '#core/color/model';
import type { Library, Swatch } from '#core/swatch/index';

/** What becomes of an artwork, all that is needed to draw it. */
export interface Made {
  orders: Order[];
  outlines: (DrawnOutline & { color: Color; to: string; swatch?: Swatch })[];
  /** The size it goes out in. */
  size: ArtworkSize;
  /** Of a PDF: the page that is looked at. */
  page?: number;
}

/** The inks of a library, and what they are printed under. */
export interface Press {
  condition: ConditionSetting;
  inks: Swatch[];
}

/** A board as it is laid out, with what it is drawn with. */
export interface DrawnBoard {
  pages: BoardPage[];
  ground: Color;
  printsGround: boolean;
  title: string;
  press: Press;
  /** The swatches of its gradients. */
  swatches: Swatch[];
  /** Works with the artwork's SHA-256, as they are shown: SVG or PNG. */
  works: { work: string; colorway: string | null; hash: string; made: Made; shown: Blob }[];
  /** JPEG or PNG. */
  pictures: { id: string; copy: Blob }[];
}

/** Artworks are asked about by the SHA-256 of their bytes. */
export type ArtworkQueries = {
  /** A file that comes in: cleaned, and looked through. */
  read: {
    ask: { file: Blob };
    answer: { hash: string; bytes: Blob; facts: ArtworkFacts; warnings: string[] };
  };
  open: { ask: { hash: string; bytes: Blob }; answer: { facts: ArtworkFacts; warnings: string[] } };
  shut: { ask: { hash: string }; answer: null };
  /** As it is shown: SVG, PNG of what is a picture, or a PDF in colours of the screen. */
  paint: { ask: { hash: string; made: Made }; answer: Blob };
  /** The same with each part in a colour that says which it is. */
  map: { ask: { hash: string; made: Made }; answer: Blob };
  plates: { ask: { hash: string; made: Made; press: Press }; answer: (Plate & { picture: Blob })[] };
  svg: {
    ask: { hash: string; made: Made; links?: 'classes' | 'variables' };
    answer: Blob;
  };
  pdf: {
    ask: {
      hash: string;
      pages: { made: Made; name: string }[];
      title: string;
      press: Press;
      sheet?: boolean;
      only?: boolean;
      /** As PDF/X-4. */
      x4?: boolean;
      /** Of a PDF: a new file, instead of an update behind the old one. */
      fresh?: boolean;
    };
    answer: { bytes: Blob; warnings: string[] };
  };
  /** The pages of a board as SVG, with text as text and its fonts, or as outlines. */
  boardSvg: { ask: { board: DrawnBoard; outlines: boolean }; answer: Blob[] };
  boardPdf: {
    ask: { board: DrawnBoard; bleed: boolean; marks: boolean; x4: boolean };
    answer: { bytes: Blob; warnings: string[] };
  };
};

/** What the inks of a library are to a press. */
export const pressOf = (library: Library, condition: ConditionSetting): Press => ({
  condition,
  inks: library.groups.flatMap((g) => g.swatches.filter((s) => s.kind !== 'process')),
});
