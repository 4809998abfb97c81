import type { Font } from 'fontkit';
import { type Script, scriptsOf } from './runs.ts';

/** The fonts of the app, those of scripts that they do not have, and of Latin in bold, since it stands within words. */
export type Face = 'regular' | 'semibold' | 'mono' | Script | `${'latin-ext' | 'vietnamese'}-semibold`;

/** The fonts that a text needs, and the order in which they are asked for its letters. */
export function facesFor(text: string): Face[] {
  const scripts = scriptsOf(text);
  const bold = (['latin-ext', 'vietnamese'] as const).filter((s) => scripts.includes(s));
  return ['regular', 'semibold', 'mono', ...bold.map((s) => `${s}-semibold` as const), ...scripts];
}

/** Whether letters that a font does not have may be of another. */
export const mayStandIn = (other: Face, font: Face): boolean =>
  other.endsWith('semibold')
    ? other !== 'semibold' && font === 'semibold'
    : other !== 'regular' && other !== 'mono';

/**
 * A font that sets any text: fontkit fails on marks in an order that a font’s tables do not foresee, and such a text is set
 * letter by letter.
 */
export function steady(font: Font): Font {
  const layout = font.layout.bind(font);
  const plainly = (text: string): ReturnType<Font['layout']> => {
    const glyphs = [...text].map((c) => font.glyphForCodePoint(c.codePointAt(0)!));
    const positions = glyphs.map((g) => ({ xAdvance: g.advanceWidth, yAdvance: 0, xOffset: 0, yOffset: 0 }));
    const advanceWidth = glyphs.reduce((sum, g) => sum + g.advanceWidth, 0);
    return Object.assign(layout(''), { glyphs, positions, advanceWidth });
  };
  font.layout = (text, ...more) => {
    try {
      return layout(text, ...more);
    } catch {
      return plainly(text);
    }
  };
  return font;
}
