import type { Gradient } from '../swatch/gradient.ts';
import type { Swatch } from '../swatch/model.ts';

/** A rectangle of a page, mm from its upper left corner. */
export interface Box {
  x: number;
  y: number;
  width: number;
  height: number;
}

export type BoardFont = 'regular' | 'semibold' | 'mono';
/** What text is written in: it has to read on what lies below. */
export type TextInk = 'black' | 'grey' | 'white' | 'pale';

/** Something that is drawn on a page; `of` is the object of the board that it belongs to. */
export type Mark = { of?: string } & (
  | ({ is: 'area'; swatch: Pick<Swatch, 'name' | 'kind' | 'color' | 'tint'> & { id?: string } } & Box)
  | ({ is: 'gradient'; gradient: Gradient } & Box)
  /** Cut to fill its box. */
  | ({ is: 'picture'; picture: string } & Box)
  /** As large as its box lets it be. */
  | ({ is: 'work'; work: string; colorway: string | null } & Box)
  /** A hairline around a box, or across where it has no height. */
  | ({ is: 'line'; ink: TextInk } & Box)
  | {
      is: 'text';
      text: string;
      font: BoardFont;
      /** Points. */
      size: number;
      ink: TextInk;
      x: number;
      /** Of the line that the letters stand on. */
      y: number;
      /** That the text takes at most, mm. */
      width: number;
      align: 'left' | 'right';
    }
);
export type TextMark = Extract<Mark, { is: 'text' }>;

/** A page as it is laid out. */
export interface BoardPage {
  width: number;
  height: number;
  marks: Mark[];
}

/** All that is written on pages. */
export const textsOf = (pages: readonly BoardPage[]): string =>
  pages.flatMap((p) => p.marks.flatMap((m) => (m.is === 'text' ? [m.text] : []))).join('\n');
