import type { LoadFont } from '../services.ts';
import { type Face, facesFor, mayStandIn, steady } from '../text/fonts.ts';
import { BACKWARDS, type Run, runsOf } from '../text/runs.ts';
import type { Document } from './paint.ts';

/** Letters of a line that is cut to its room. */
const MAX_LETTERS = 200;
/** Makes pdfkit set a run at once: it sets word by word in the order of reading otherwise. */
const AT_ONCE = { features: [] };

type Has = (letter: string) => boolean;
/** The fonts of a document by their names, in the order in which they are asked. */
const documents = new WeakMap<Document, Map<Face, Has>>();

/**
 * Gives a document the fonts of the app, and those of the scripts in its texts.
 * @param texts all that will be written
 */
export async function registerFonts(doc: Document, loadFont: LoadFont, texts: string): Promise<void> {
  const names = facesFor(texts);
  const loaded = await Promise.all(names.map(loadFont));
  const fonts = new Map<Face, Has>();
  for (const [i, name] of names.entries()) {
    doc.registerFont(name, loaded[i]!);
    const font = steady(doc.font(name)._font.font);
    const known = new Map<string, boolean>();
    fonts.set(name, (letter) => {
      let has = known.get(letter);
      if (has === undefined) {
        has = font.hasGlyphForCodePoint(letter.codePointAt(0)!);
        known.set(letter, has);
      }
      return has;
    });
  }
  documents.set(doc, fonts);
}

/** A text as the runs of fonts that have its letters; what none of them has is “?”. */
function runs(doc: Document, text: string, font: Face): Run<Face>[] {
  const fonts = documents.get(doc);
  const has = fonts?.get(font);
  // nearly all texts
  if (!has || [...text].every((c) => c <= '\xff' && has(c))) return [{ text, font }];
  const others = [...fonts!.keys()].filter((f) => mayStandIn(f, font));
  return runsOf(
    text,
    (letter) => (has(letter) ? [font] : []).concat(others.filter((f) => fonts!.get(f)!(letter))),
    font,
  );
}

const width = (doc: Document, all: readonly Run<Face>[]) =>
  all.reduce((sum, r) => sum + doc.font(r.font).widthOfString(r.text, wayOf(all)), 0);

const wayOf = (all: readonly Run<Face>[]) => (all.length > 1 ? AT_ONCE : {});

/** How wide a text is in a font, points. */
export function widthOfText(doc: Document, text: string, font: Face, size: number): number {
  doc.fontSize(size);
  return width(doc, runs(doc, text, font));
}

/** Whether some of a text has no font, and is written as “?”. */
export const lacksLetters = (doc: Document, text: string, font: Face): boolean =>
  runs(doc, text, font)
    .map((r) => r.text)
    .join('')
    .split('?').length > text.split('?').length;

/** Writes a text where its letters stand. @param x of its left end, or of its right one */
export function writeText(
  doc: Document,
  text: string,
  font: Face,
  size: number,
  x: number,
  baseline: number,
  align: 'left' | 'right' = 'left',
): void {
  doc.fontSize(size);
  const all = runs(doc, text, font);
  let left = align === 'right' ? x - width(doc, all) : x;
  const way = wayOf(all);
  // what reads the file aloud or copies from it gets the text as it is read, not as it is seen
  const isSeenOtherwise = all.length > 1 || BACKWARDS.test(text);
  if (isSeenOtherwise) doc.markContent('Span', { actual: text });
  for (const run of all) {
    doc.font(run.font).text(run.text, left, baseline, { lineBreak: false, baseline: 'alphabetic', ...way });
    left += doc.widthOfString(run.text, way);
  }
  if (isSeenOtherwise) doc.endMarkedContent();
}

/** One line in black, cut to its width. @param y of its top */
export function writeLine(
  doc: Document,
  text: string,
  font: Face,
  size: number,
  x: number,
  y: number,
  room: number,
  align: 'left' | 'right' = 'left',
): void {
  if (text.trim() === '') return;
  doc.fillColor([0, 0, 0, 100]);
  const letters = [...text].slice(0, MAX_LETTERS).map((c) => (/\s/.test(c) ? ' ' : c));
  let shown = letters.join('');
  if (widthOfText(doc, shown, font, size) > room) {
    // halve the step until the longest beginning that fits is found
    let [fits, over] = [0, letters.length];
    const cut = (end: number) => `${letters.slice(0, end).join('').trimEnd()}…`;
    while (over - fits > 1) {
      const middle = (fits + over) >> 1;
      if (widthOfText(doc, cut(middle), font, size) <= room) fits = middle;
      else over = middle;
    }
    shown = cut(fits);
  }
  const rise = (doc.font(font)._font.ascender / 1000) * size;
  writeText(doc, shown, font, size, align === 'right' ? x + room : x, y + rise, align);
}
