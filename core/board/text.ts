import type { BoardFont, TextInk, TextMark } from './marks.ts';
import { widthOf } from './widths.ts';

/** Millimetres in a point. */
export const MM_PER_POINT = 25.4 / 72;
/** Space from one line to the next, in sizes of the text. */
const LEADING = 1.32;
/** From the top of a line to where its letters stand, in sizes of the text. */
const RISE = 1;
/** A text that is longer is cut: nobody reads more beside a colour. */
export const MAX_LETTERS = 400;

/** A text in one size, to be laid into lines. */
export interface Writing {
  text: string;
  font: BoardFont;
  /** Points. */
  size: number;
  ink: TextInk;
}

const plain = (text: string) => {
  const one = text.replace(/[\s\u200e\u200f\u202a-\u202e\u2066-\u2069]+/gu, ' ').trim();
  const letters = [...one];
  return letters.length > MAX_LETTERS ? `${letters.slice(0, MAX_LETTERS - 1).join('')}…` : one;
};

interface Word {
  word: string;
  /** In sizes of the text. */
  width: number;
}
/** Texts are laid out again and again while a board is worked on. */
const known = new Map<string, Word[]>();
const MAX_KNOWN = 20_000;

function wordsOf(text: string, font: BoardFont): Word[] {
  const key = `${font} ${text}`;
  let words = known.get(key);
  if (!words) {
    words = plain(text)
      .split(' ')
      .filter(Boolean)
      .map((word) => ({ word, width: widthOf(word, font, 1) }));
    if (known.size >= MAX_KNOWN) known.clear();
    known.set(key, words);
  }
  return words;
}

/**
 * A text in lines no wider than a number of mm: divided between words, and inside of one that is wider than a line.
 * Never empty but for an empty text.
 */
export function linesIn(
  text: string,
  font: BoardFont,
  size: number,
  width: number,
): { lines: string[]; isBroken: boolean } {
  const most = width / MM_PER_POINT / size;
  const space = widthOf(' ', font, 1);
  const lines: string[] = [];
  let isBroken = false;
  let [line, taken] = ['', 0];
  const push = () => {
    if (line) lines.push(line);
    [line, taken] = ['', 0];
  };
  for (const { word, width: wide } of wordsOf(text, font)) {
    if (line && taken + space + wide <= most) {
      line += ` ${word}`;
      taken += space + wide;
      continue;
    }
    push();
    if (wide <= most) {
      [line, taken] = [word, wide];
      continue;
    }
    for (const letter of word) {
      const own = widthOf(letter, font, 1);
      // one letter stands on a line of its own, however narrow that is
      if (line && taken + own > most) {
        push();
        isBroken = true;
      }
      line += letter;
      taken += own;
    }
  }
  push();
  return { lines, isBroken };
}

/** The height of a number of lines, mm. */
export const heightOfLines = (lines: number, size: number) => lines * size * LEADING * MM_PER_POINT;

/** Texts one under the other in a column. */
export interface Written {
  marks: TextMark[];
  height: number;
  /** Whether a word had to be divided. */
  isBroken: boolean;
}

/** How high texts are one under the other, and whether a word has to be divided. @param width of the column, mm */
export function measured(writings: readonly Writing[], width: number): Omit<Written, 'marks'> {
  let [height, isBroken] = [0, false];
  for (const { text, font, size } of writings) {
    const laid = linesIn(text, font, size, width);
    height += heightOfLines(laid.lines.length, size);
    isBroken ||= laid.isBroken;
  }
  return { height, isBroken };
}

/** Lays texts one under the other. @param width of the column, mm */
export function written(
  writings: readonly Writing[],
  x: number,
  y: number,
  width: number,
  { of, align = 'left' }: { of?: string | undefined; align?: 'left' | 'right' } = {},
): Written {
  const marks: TextMark[] = [];
  const left = align === 'left' ? x : x + width;
  let [top, isBroken] = [y, false];
  for (const { text, font, size, ink } of writings) {
    const laid = linesIn(text, font, size, width);
    isBroken ||= laid.isBroken;
    const [rise, down] = [size * RISE * MM_PER_POINT, size * LEADING * MM_PER_POINT];
    for (const line of laid.lines) {
      // written out: thousands of them are made while a hand drags
      const mark: TextMark = {
        is: 'text',
        text: line,
        font,
        size,
        ink,
        align,
        width,
        x: left,
        y: top + rise,
      };
      if (of !== undefined) mark.of = of;
      marks.push(mark);
      top += down;
    }
  }
  return { marks, height: top - y, isBroken };
}
