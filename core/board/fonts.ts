import type { LoadFont } from '../services.ts';
import { facesFor, mayStandIn, steady } from '../text/fonts.ts';
import { runsOf } from '../text/runs.ts';
import type { BoardFont } from './marks.ts';
import type { SvgDrawing } from './svg.ts';

const FONTS: readonly BoardFont[] = ['regular', 'semibold', 'mono'];

/**
 * Texts as outlines, for what draws without the fonts: the letters that the fonts set, kerned as they say; null when
 * none of them has a letter.
 * @param texts all that will be drawn
 */
export async function outlinesOf(
  loadFont: LoadFont,
  texts: string,
): Promise<NonNullable<SvgDrawing['outline']>> {
  const fontkit = await import('fontkit');
  const names = facesFor(texts);
  const fonts = await Promise.all(
    names.map(async (id) => steady(fontkit.create((await loadFont(id)) as never) as import('fontkit').Font)),
  );
  return (text, id) => {
    const own = fonts[names.indexOf(id)]!;
    const asked = [own, ...fonts.filter((_, i) => mayStandIn(names[i]!, id))];
    const having = (letter: string) => asked.filter((f) => f.hasGlyphForCodePoint(letter.codePointAt(0)!));
    let pen = 0;
    const parts: string[] = [];
    for (const run of runsOf(text, having, null)) {
      if (run.font === null) return null;
      const { glyphs, positions } = run.font.layout(run.text);
      const em = 1 / run.font.unitsPerEm;
      for (const [i, glyph] of glyphs.entries()) {
        const at = positions[i];
        const placed = glyph.path.scale(em).translate(pen + (at?.xOffset ?? 0) * em, (at?.yOffset ?? 0) * em);
        pen += (at?.xAdvance ?? glyph.advanceWidth) * em;
        parts.push(placed.toSVG());
      }
    }
    return { path: parts.join(''), width: pen };
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
