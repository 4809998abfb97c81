import { appearance, type Color, type Condition } from '../color/index.ts';
import type { Swatch } from './model.ts';

/** Chroma below which a hue says nothing: neutrals go to the end of a hue order, by lightness. */
const NEUTRAL_CHROMA = 6;

// a sort asks for the same colour many times over; what it looks like is found once
const labOf = (color: Color, condition: Condition) => appearance(color, condition).lab;

type Compare<T> = (a: T, b: T) => number;

/** Compares by CIE lightness, light first. */
export const byLightness =
  (condition: Condition): Compare<Color> =>
  (a, b) =>
    labOf(b, condition)[0] - labOf(a, condition)[0];

/** Compares by CIE hue angle, then lightness; neutrals after all hues. */
export const byHue = (condition: Condition): Compare<Color> => {
  const lighter = byLightness(condition);
  return (a, b) => hueKey(a, condition) - hueKey(b, condition) || lighter(a, b);
};

/** Compares by CIE chroma, strongest first. */
export const byChroma =
  (condition: Condition): Compare<Color> =>
  (a, b) =>
    chroma(labOf(b, condition)) - chroma(labOf(a, condition));

const chroma = ([, a, b]: number[]) => Math.hypot(a!, b!);

function hueKey(color: Color, condition: Condition): number {
  const lab = labOf(color, condition);
  if (chroma(lab) < NEUTRAL_CHROMA) return 1000;
  const h = (Math.atan2(lab[2], lab[1]) * 180) / Math.PI;
  return h < 0 ? h + 360 : h;
}

const names = new Intl.Collator('en', { numeric: true });

const ofColors =
  (order: (condition: Condition) => Compare<Color>) =>
  (condition: Condition): Compare<Swatch> => {
    const compare = order(condition);
    return (a, b) => compare(a.color, b.color);
  };

/** The orders a selection can be sorted by. */
export const swatchOrders = {
  lightness: { label: 'Lightness', by: ofColors(byLightness) },
  hue: { label: 'Hue', by: ofColors(byHue) },
  chroma: { label: 'Chroma', by: ofColors(byChroma) },
  name: {
    label: 'Name',
    // numbers inside names count as numbers: 9 before 10
    by: (): Compare<Swatch> => (a, b) => names.compare(a.name, b.name),
  },
} as const;

export type SwatchOrder = keyof typeof swatchOrders;
