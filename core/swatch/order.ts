import { type Color, type Lab, toLab as labOf } from '../color/index.ts';
import type { Swatch } from './model.ts';

/** Chroma below which a hue says nothing: neutrals go to the end of a hue order, by lightness. */
const NEUTRAL_CHROMA = 6;

/** A sort asks for the same colour many times over. */
const known = new WeakMap<Color, Lab>();
function toLab(color: Color): Lab {
  let lab = known.get(color);
  if (!lab) {
    lab = labOf(color);
    known.set(color, lab);
  }
  return lab;
}

/** Compares by CIE lightness, light first. */
export const byLightness = (a: Color, b: Color) => toLab(b)[0] - toLab(a)[0];

/** Compares by CIE hue angle, then lightness; neutrals after all hues. */
export function byHue(a: Color, b: Color): number {
  return hueKey(a) - hueKey(b) || byLightness(a, b);
}

/** Compares by CIE chroma, strongest first. */
export const byChroma = (a: Color, b: Color) => chroma(toLab(b)) - chroma(toLab(a));

const chroma = ([, a, b]: number[]) => Math.hypot(a!, b!);

function hueKey(color: Color): number {
  const lab = toLab(color);
  if (chroma(lab) < NEUTRAL_CHROMA) return 1000;
  const h = (Math.atan2(lab[2], lab[1]) * 180) / Math.PI;
  return h < 0 ? h + 360 : h;
}

const names = new Intl.Collator('en', { numeric: true });

/** The orders a selection can be sorted by. */
export const swatchOrders = {
  lightness: { label: 'Lightness', compare: (a: Swatch, b: Swatch) => byLightness(a.color, b.color) },
  hue: { label: 'Hue', compare: (a: Swatch, b: Swatch) => byHue(a.color, b.color) },
  chroma: { label: 'Chroma', compare: (a: Swatch, b: Swatch) => byChroma(a.color, b.color) },
  name: {
    label: 'Name',
    // numbers inside names count as numbers: 9 before 10
    compare: (a: Swatch, b: Swatch) => names.compare(a.name, b.name),
  },
} as const;

export type SwatchOrder = keyof typeof swatchOrders;
