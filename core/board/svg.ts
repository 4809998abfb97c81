import { type Condition, fromRgb8, toHex } from '../color/index.ts';
import type { Color } from '../color/model.ts';
import { plainStops } from '../gradient/index.ts';
import { resolvedStops } from '../swatch/gradient.ts';
import type { Library, Swatch } from '../swatch/model.ts';
import { BACKWARDS } from '../text/runs.ts';
import { short } from '../text/text.ts';
import { escapeXml } from '../text/xml.ts';
import type { BoardFont, BoardPage, Mark, TextInk, TextMark } from './marks.ts';
import { MM_PER_POINT } from './text.ts';

export const INKS: Record<TextInk, string> = {
  black: '#161616',
  grey: '#4d4d4d',
  pale: '#b9b9b9',
  white: '#ffffff',
};
export const FAMILIES: Record<BoardFont, string> = {
  regular: 'Hanken Grotesk, sans-serif',
  semibold: 'Hanken Grotesk, sans-serif',
  mono: 'Spline Sans Mono, monospace',
};
/** Of a hairline, mm. */
export const HAIRLINE = 0.12;

const mm = (v: number) => short(v, 3);
export const isRightToLeft = (text: string) => BACKWARDS.test(text);

/** What a board's pages are drawn with as SVG. */
export interface SvgDrawing {
  library: Library;
  condition: Condition;
  ground: Color;
  title: string;
  /** Pictures and works by their ids, as addresses or data; what has none is a frame. */
  pictures: ReadonlyMap<string, string>;
  works: ReadonlyMap<string, string>;
  /** Style sheets of the fonts, for files that have to look the same elsewhere. */
  fontCss?: string;
  /** Areas say which object of the board, and which swatch they are of. */
  isPointedAt?: boolean;
  /** The outlines of a text from its left end on a line, and its width, in sizes of it: for renderers without the fonts. */
  outline?(text: string, font: BoardFont): { path: string; width: number } | null;
}

/** The key of a work in a colourway. */
export const workKey = (work: string, colorway: string | null) => `${work} ${colorway ?? ''}`;

/** A page as SVG: colours as shapes, text as text, in mm. */
export function boardSvg(page: BoardPage, drawing: SvgDrawing): string {
  const { condition, ground } = drawing;
  const defs: string[] = [];
  const swatches = new Map(drawing.library.groups.flatMap((g) => g.swatches.map((s) => [s.id, s] as const)));
  const shapes = page.marks.map((mark) => shape(mark, drawing, swatches, defs));
  const { width, height } = page;
  const size = `width="${mm(width)}mm" height="${mm(height)}mm" viewBox="0 0 ${mm(width)} ${mm(height)}"`;
  const style = drawing.fontCss ? `<style>${drawing.fontCss}</style>\n` : '';
  return `<svg xmlns="http://www.w3.org/2000/svg" ${size}>\n<title>${escapeXml(drawing.title)}</title>\n${style}${
    defs.length > 0 ? `<defs>\n${defs.join('')}</defs>\n` : ''
  }<rect width="${mm(width)}" height="${mm(height)}" fill="${toHex(ground, condition)}"/>\n${shapes.join('')}</svg>\n`;
}

const boxed = ({ x, y, width, height }: { x: number; y: number; width: number; height: number }) =>
  `x="${mm(x)}" y="${mm(y)}" width="${mm(width)}" height="${mm(height)}"`;

function shape(
  mark: Mark,
  drawing: SvgDrawing,
  swatches: ReadonlyMap<string, Swatch>,
  defs: string[],
): string {
  const { condition, pictures, works } = drawing;
  switch (mark.is) {
    case 'area':
      return `<rect ${boxed(mark)} fill="${toHex(mark.swatch.color, condition)}"${drawing.isPointedAt && mark.of ? ` data-of="${escapeXml(mark.of)}" data-swatch="${escapeXml(mark.swatch.id ?? '')}"` : ''}><title>${escapeXml(mark.swatch.name)}</title></rect>\n`;
    case 'gradient': {
      const { gradient } = mark;
      const stops = plainStops(
        gradient.data,
        resolvedStops(gradient, (id) => swatches.get(id)),
        condition,
      ).map((s) => {
        const [r, g, b] = s.rgb.map((v) => Math.round(v * 255)) as [number, number, number];
        const opacity = s.alpha < 1 ? ` stop-opacity="${short(s.alpha, 4)}"` : '';
        return `<stop offset="${short(s.at, 5)}" stop-color="${toHex(fromRgb8(r, g, b), condition)}"${opacity}/>`;
      });
      const id = `gradient-${defs.length + 1}`;
      defs.push(`<linearGradient id="${id}">${stops.join('')}</linearGradient>\n`);
      return `<rect ${boxed(mark)} fill="url(#${id})"><title>${escapeXml(gradient.name)}</title></rect>\n`;
    }
    case 'picture':
      return image(mark, pictures.get(mark.picture), 'xMidYMid slice');
    case 'work':
      return image(mark, works.get(workKey(mark.work, mark.colorway)), 'xMidYMid meet');
    case 'line':
      return mark.height === 0
        ? `<path d="M${mm(mark.x)} ${mm(mark.y)}h${mm(mark.width)}" stroke="${INKS[mark.ink]}" stroke-width="${HAIRLINE}"/>\n`
        : `<rect ${boxed(mark)} fill="none" stroke="${INKS[mark.ink]}" stroke-width="${HAIRLINE}"/>\n`;
    case 'text':
      return writing(mark, drawing);
  }
}

const image = (
  mark: { x: number; y: number; width: number; height: number },
  href: string | undefined,
  fit: string,
): string =>
  href
    ? `<image ${boxed(mark)} href="${escapeXml(href)}" preserveAspectRatio="${fit}"/>\n`
    : `<rect ${boxed(mark)} fill="none" stroke="${INKS.grey}" stroke-width="${HAIRLINE}" stroke-dasharray="1 1"/>\n`;

function writing(mark: TextMark, { outline }: SvgDrawing): string {
  const { text, font, size, ink, x, y, align } = mark;
  const em = size * MM_PER_POINT;
  const outlined = outline?.(text, font);
  if (outlined) {
    const { path, width } = outlined;
    const left = align === 'left' ? x : x - width * em;
    return `<path transform="translate(${mm(left)} ${mm(y)}) scale(${short(em, 5)} ${short(-em, 5)})" d="${path}" fill="${INKS[ink]}"/>\n`;
  }
  const backwards = isRightToLeft(text);
  // of what is written from right to left the end is at the left
  const anchor = (align === 'right') === backwards ? '' : ' text-anchor="end"';
  const direction = backwards ? ' direction="rtl"' : '';
  const weight = font === 'semibold' ? ' font-weight="600"' : '';
  return `<text x="${mm(x)}" y="${mm(y)}" font-family="${FAMILIES[font]}" font-size="${short(em, 4)}"${weight} fill="${INKS[ink]}"${anchor}${direction}>${escapeXml(text)}</text>\n`;
}
