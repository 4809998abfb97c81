import { fromRgb8 } from '../color/index.ts';
import { byHue, byLightness } from '../swatch/order.ts';
import type { PaletteColor } from './reduce.ts';

const color = (c: PaletteColor) => fromRgb8(...c.rgb);

/** The orders a palette can be shown in. */
export const paletteOrders = {
  share: { label: 'share', compare: (a: PaletteColor, b: PaletteColor) => b.share - a.share },
  lightness: {
    label: 'lightness',
    compare: (a: PaletteColor, b: PaletteColor) => byLightness(color(a), color(b)),
  },
  hue: { label: 'hue', compare: (a: PaletteColor, b: PaletteColor) => byHue(color(a), color(b)) },
  appearance: { label: 'appearance', compare: (a: PaletteColor, b: PaletteColor) => a.first - b.first },
} as const;

export type PaletteOrder = keyof typeof paletteOrders;
