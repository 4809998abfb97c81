import type { Color, Condition } from './model.ts';
import { convert, luminance, toHex } from './spaces.ts';

/** The steps of WCAG 2.2: large text and parts of an interface (1.4.3, 1.4.11), text (1.4.3), text for more people (1.4.6). */
export const CONTRAST_STEPS = [3, 4.5, 7] as const;

/** The contrast ratio of two luminances 0–1: WCAG 2.2, “contrast ratio”, 1 to 21. */
export const contrastOf = (a: number, b: number) => (Math.max(a, b) + 0.05) / (Math.min(a, b) + 0.05);

/** The contrast ratio of two colors as a screen shows them. */
export const contrast = (a: Color, b: Color, condition: Condition) =>
  contrastOf(luminance(a, condition), luminance(b, condition));

/**
 * The color that differs least in OKLCh lightness, at the same hue and with as much chroma as there is room for, and has the
 * contrast; it passes as the whole numbers of 8 bits, too. Null when even black and white do not.
 */
export function withContrast(color: Color, ground: Color, ratio: number, condition: Condition): Color | null {
  const [l, c, h] = convert(color, 'oklch', condition).components as [number, number, number];
  const at = (lightness: number): Color => {
    const made = convert({ space: 'oklch', components: [lightness, c, h] }, 'rgb', condition);
    return { space: 'rgb', components: made.components.map((v) => Math.round(v * 255) / 255) };
  };
  const passes = (lightness: number) => contrast(at(lightness), ground, condition) >= ratio;
  const towards = (end: 0 | 1): number | null => {
    if (!passes(end)) return null;
    let [far, near]: [number, number] = [end, l];
    for (let i = 0; i < 20; i++) {
      const middle = (far + near) / 2;
      if (passes(middle)) far = middle;
      else near = middle;
    }
    return far;
  };
  if (passes(l)) return color;
  const ends = ([0, 1] as const).flatMap((end) => towards(end) ?? []);
  if (ends.length === 0) return null;
  const best = ends.reduce((a, b) => (Math.abs(a - l) <= Math.abs(b - l) ? a : b));
  const found = at(best);
  return toHex(found, condition) === toHex(color, condition) ? null : found;
}
