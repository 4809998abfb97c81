import Color from 'colorjs.io';
import { describe, expect, it } from 'vitest';
import { isSurround, type Surround, surrounds } from './tokens';

// Contrast and lightness by colorjs.io, as a second opinion on the theme's numbers.
const contrast = (a: string, b: string) => new Color(a).contrast(new Color(b), 'WCAG21');

describe.each(Object.entries(surrounds))('the %s surround', (_, s) => {
  it('is neutral, as ISO 3664 asks of what surrounds colour', () => {
    for (const color of [s.surround, s.bar, s.field, s.line, s.softLine, s.ink, s.secondInk]) {
      const [, a, b] = new Color(color).to('lab').coords;
      expect(Math.hypot(a ?? 0, b ?? 0)).toBeLessThan(0.01);
    }
  });

  it('has words that can be read on everything they stand on', () => {
    for (const ground of [s.surround, s.bar, s.field])
      expect(contrast(s.ink, ground)).toBeGreaterThanOrEqual(4.5);
    for (const ground of [s.surround, s.bar, s.field])
      expect(contrast(s.secondInk, ground)).toBeGreaterThanOrEqual(4.5);
    expect(contrast(s.onInk, s.ink)).toBeGreaterThanOrEqual(4.5);
  });
});

it('the three are light, mid and dark, L* 82, 50 and 18', () => {
  const lightness = (id: Surround) => new Color(surrounds[id].surround).to('lab').coords[0] ?? 0;
  expect((['light', 'mid', 'dark'] as const).map((id) => Math.round(lightness(id)))).toEqual([82, 50, 18]);
});

it('knows its own names and no others', () => {
  expect(['light', 'mid', 'dark'].every(isSurround)).toBe(true);
  expect(isSurround('purple')).toBe(false);
});
