import type { LoadFont } from '../services.ts';
import type { BoardFont } from './marks.ts';
import type { SvgDrawing } from './svg.ts';

const FONTS: readonly BoardFont[] = ['regular', 'semibold', 'mono'];

/** Texts as outlines, for what draws without the fonts: the letters that the fonts set, kerned as they say. */
export async function outlinesOf(loadFont: LoadFont): Promise<NonNullable<SvgDrawing['outline']>> {
  const fontkit = await import('fontkit');
  const loaded = await Promise.all(
    FONTS.map(async (id) => [id, fontkit.create((await loadFont(id)) as never)] as const),
  );
  const fonts = new Map(loaded);
  return (text, id) => {
    const font = fonts.get(id) as import('fontkit').Font;
    const { glyphs, positions } = font.layout(text);
    let pen = 0;
    const path = glyphs
      .map((glyph, i) => {
        const at = positions[i];
        const placed = glyph.path.translate(pen + (at?.xOffset ?? 0), at?.yOffset ?? 0);
        pen += at?.xAdvance ?? glyph.advanceWidth;
        return placed.scale(1 / font.unitsPerEm).toSVG();
      })
      .join('');
    return { path, width: pen / font.unitsPerEm };
  };
}

/** Style sheets that bring the fonts along. @param dataUrl a font's bytes as an address */
export async function fontCss(
  loadFont: LoadFont,
  dataUrl: (bytes: Uint8Array) => Promise<string>,
): Promise<string> {
  const faces = await Promise.all(
    FONTS.map(async (id) => {
      const family = id === 'mono' ? 'Spline Sans Mono' : 'Hanken Grotesk';
      const weight = id === 'semibold' ? 600 : 400;
      return `@font-face{font-family:"${family}";font-weight:${weight};src:url(${await dataUrl(await loadFont(id))}) format("woff")}`;
    }),
  );
  return faces.join('');
}
