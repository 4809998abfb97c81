import type { Color, Condition } from '../color/index.ts';
import type { Box, Mark, TextInk } from './marks.ts';
import { heightOfLines, MM_PER_POINT, measured, type Writing, written } from './text.ts';
import { type LabelText, lightnessOf, type Thing, takesDark } from './things.ts';
import { widthOf } from './widths.ts';

/** What is drawn with: the page's color, and the condition that says how colors look. */
export interface Drawing {
  condition: Condition;
  ground: Color;
  /** The key: what could not stand where it belongs, numbered. */
  keyed: Thing[];
}

/** Sizes of labels in points, the largest that fits is taken: of the name, and of what stands with it. */
const SIZES: readonly (readonly [name: number, value: number])[] = [
  [10, 7.5],
  [9, 7],
  [8, 6.5],
  [7, 6],
  [6, 5.5],
];
/** The smallest type that is read on paper (common practice, no source). */
const SMALLEST = 5.5;
const PAD = 2.2;
/** Where a color is nearer to the ground in L* than this, it gets a hairline. */
const NEAR = 6;

export const inkOn = (color: Color, condition: Condition): { first: TextInk; second: TextInk } =>
  takesDark(color, condition) ? { first: 'black', second: 'black' } : { first: 'white', second: 'white' };

/** Inks of text on the page itself. */
export const inkOnPage = ({ ground, condition }: Drawing): { first: TextInk; second: TextInk } =>
  takesDark(ground, condition) ? { first: 'black', second: 'grey' } : { first: 'white', second: 'pale' };

/** The labels of a thing as lines: the name, then its values. */
export function writingsOf(
  labels: readonly LabelText[],
  [name, value]: readonly [number, number],
  { first, second }: { first: TextInk; second: TextInk },
): Writing[] {
  const code = labels.find((l) => l.id === 'code');
  const hex = labels.find((l) => l.id === 'hex');
  const lines: Writing[] = [];
  for (const { id, text } of labels) {
    if (id === 'name') lines.push({ text, font: 'semibold', size: name, ink: first });
    // a number and its code share a line
    else if (id === 'code' && hex)
      lines.push({ text: `${text} · ${hex.text}`, font: 'regular', size: value, ink: second });
    else if (id === 'hex' && code) continue;
    else if (id === 'role' || id === 'nearest' || id === 'code')
      lines.push({ text, font: 'regular', size: value, ink: second });
    else lines.push({ text: withUnit(id, text), font: 'mono', size: value - 0.5, ink: second });
  }
  return lines;
}

const withUnit = (id: LabelText['id'], text: string): string =>
  ({ rgb: `RGB ${text}`, cmyk: `CMYK ${text.replace(/ %$/, '')}`, lab: `Lab ${text}`, lch: `LCh ${text}` })[
    id as string
  ] ?? (id === 'contrast' ? `contrast ${text}` : text);

/** A flat color, with a hairline where it would vanish on the page. */
export function area(
  box: Box,
  swatch: Extract<Mark, { is: 'area' }>['swatch'],
  of: string,
  drawing: Drawing,
): Mark[] {
  const { condition, ground } = drawing;
  const isNear =
    Math.abs(lightnessOf(swatch.color, condition) - lightnessOf(ground, condition)) < NEAR &&
    box.width > 1 &&
    box.height > 1;
  return [
    { is: 'area', of, swatch, ...box },
    ...(isNear ? [{ is: 'line' as const, of, ink: inkOnPage(drawing).second, ...box }] : []),
  ];
}

/** Labels inside of a box at its foot, as large as fits; null where none does. */
export function labelIn(
  box: Box,
  labels: readonly LabelText[],
  color: Color,
  of: string,
  { condition }: Drawing,
): Mark[] | null {
  if (labels.length === 0) return [];
  const inks = inkOn(color, condition);
  const pad = Math.min(PAD, box.width * 0.12, box.height * 0.12);
  const width = box.width - 2 * pad;
  if (width < 4) return null;
  // smaller letters before divided words, and those before a number
  const room = Math.min(box.height - 2 * pad, box.height * 0.9);
  let divided: Writing[] | null = null;
  const placed = (texts: Writing[], height: number) =>
    written(texts, box.x + pad, box.y + box.height - pad - height, width, { of }).marks;
  for (const sizes of SIZES) {
    const texts = writingsOf(labels, sizes, inks);
    // each takes a line at least
    if (texts.reduce((sum, t) => sum + heightOfLines(1, t.size), 0) > room) continue;
    const { height, isBroken } = measured(texts, width);
    if (height > room || (isBroken && divided)) continue;
    if (!isBroken) return placed(texts, height);
    divided = texts;
  }
  return divided && placed(divided, measured(divided, width).height);
}

/** A number that leads to the key. */
export function numberIn(box: Box, thing: Thing, color: Color, drawing: Drawing): Mark[] {
  drawing.keyed.push(thing);
  const text = `${drawing.keyed.length}`;
  const size = SMALLEST;
  const width = widthOf(text, 'mono', size) * MM_PER_POINT;
  if (width > box.width || size * MM_PER_POINT * 1.3 > box.height) return [];
  const ink = inkOn(color, drawing.condition).first;
  const x = box.x + (box.width - width) / 2;
  const y = box.y + box.height / 2 + size * 0.35 * MM_PER_POINT;
  return [{ is: 'text', of: thing.of, text, font: 'mono', size, ink, x, y, width: box.width, align: 'left' }];
}

/** Height of a caption on one line below a thing, mm. */
const CAPTION = 4.6;

/** A thing that fills a box: a color with its labels, or a picture, gradient, work with a caption below. */
export function fill(box: Box, thing: Thing, drawing: Drawing): Mark[] {
  const { of } = thing;
  if (thing.is === 'color') {
    const { swatch } = thing;
    return [
      ...area(box, swatch, of, drawing),
      ...(labelIn(box, thing.labels, swatch.color, of, drawing) ??
        numberIn(box, thing, swatch.color, drawing)),
    ];
  }
  if (thing.is === 'pair') {
    const half = box.width / 2;
    return thing.swatches.flatMap((swatch, i) => {
      const own = { ...box, x: box.x + i * half, width: half };
      const label = labelIn(own, thing.each[i]!, swatch.color, of, drawing);
      const one: Thing = { ...thing, is: 'color', swatch, labels: thing.each[i]! };
      return [...area(own, swatch, of, drawing), ...(label ?? numberIn(own, one, swatch.color, drawing))];
    });
  }
  if (thing.is === 'text') {
    const inks = inkOnPage(drawing);
    for (const size of [16, 14, 12, 10, 9, 8, 7, 6]) {
      const { marks, height } = written(
        [{ text: thing.text, font: 'regular', size, ink: inks.first }],
        box.x + 1,
        box.y + 1,
        box.width - 2,
        { of },
      );
      if (height <= box.height - 2) return marks;
    }
    return numberIn(box, thing, drawing.ground, drawing);
  }
  const caption = captionOf(thing, box.width, drawing);
  // a caption that does not fit below moves to the key
  const fits = caption.length > 0 && box.height >= 3 * caption.length * CAPTION;
  const inner = fits ? { ...box, height: box.height - caption.length * CAPTION } : box;
  const marks = inside(inner, thing, drawing);
  if (fits)
    marks.push(
      ...caption.map((m, i) => ({ ...m, x: box.x, y: box.y + inner.height + 3.4 + i * CAPTION, of })),
    );
  else if (caption.length > 0) drawing.keyed.push(thing);
  return marks;
}

function captionOf({ labels }: Thing, width: number, drawing: Drawing) {
  const name = labels.find((l) => l.id === 'name');
  if (!name) return [];
  const { marks } = written(
    [{ text: name.text, font: 'regular', size: 7.5, ink: inkOnPage(drawing).first }],
    0,
    0,
    width,
  );
  return marks;
}

/** A picture, work, gradient or stripes, without a caption. */
export function inside(box: Box, thing: Thing, drawing: Drawing): Mark[] {
  const { of } = thing;
  switch (thing.is) {
    case 'gradient':
      return [{ is: 'gradient', of, gradient: thing.gradient, ...box }];
    case 'picture':
      return [{ is: 'picture', of, picture: thing.picture.id, ...box }];
    case 'work':
      return [{ is: 'work', of, work: thing.work, colorway: thing.colorway, ...box }];
    case 'stripes':
      return thing.swatches.flatMap((swatch, i) => {
        const width = box.width / thing.swatches.length;
        return area({ ...box, x: box.x + i * width, width }, swatch, of, drawing);
      });
    default:
      return fill(box, thing, drawing);
  }
}
