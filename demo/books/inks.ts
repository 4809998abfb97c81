import { GRID, type Surface, type Tone } from '../../core/spectral/index.ts';

// Twelve inks and two papers that nobody makes: their curves are drawn by hand, of edges and hills such as pigments have.

export const wavelengths = Array.from({ length: GRID.count }, (_, i) => GRID.start + i * GRID.step);

/** Absorbs what is shorter than `at` nm; `width` says how softly it ends. */
const edge = (strength: number, at: number, width: number) => (nm: number) =>
  strength / (1 + Math.exp((nm - at) / width));
/** Absorbs most at `at` nm. */
const hill = (strength: number, at: number, width: number) => (nm: number) =>
  strength * Math.exp(-(((nm - at) / width) ** 2));
const even = (strength: number) => () => strength;

const curves = {
  Lamp: [edge(9, 486, 9), even(0.006)],
  Marigold: [edge(9, 520, 11), even(0.008)],
  Ember: [edge(10, 572, 10), even(0.012)],
  Madder: [edge(9, 586, 11), hill(-4.6, 432, 34), even(0.016)],
  Heather: [hill(10, 540, 44), edge(1.8, 420, 20), even(0.016)],
  Foxglove: [hill(9, 566, 48), hill(2.6, 512, 40), even(0.06)],
  Squall: [hill(9, 596, 58), hill(2.6, 540, 44), even(0.07)],
  Fathom: [hill(10, 636, 68), edge(0.6, 410, 14), even(0.04)],
  Lagoon: [hill(9, 655, 72), edge(1.7, 425, 16), even(0.03)],
  Eelgrass: [hill(9, 655, 64), edge(5.5, 470, 16), even(0.045)],
  Soot: [edge(1.2, 520, 80), even(16)],
  Veil: [even(0)],
} satisfies Record<string, ((nm: number) => number)[]>;

export type Ink = keyof typeof curves;

/** K/S of each ink at the wavelengths, for a layer of it alone. */
export const absorption = Object.fromEntries(
  Object.entries(curves).map(([name, parts]) => [
    name,
    wavelengths.map((nm) => parts.reduce((sum, part) => sum + part(nm), 0)),
  ]),
) as Record<Ink, number[]>;

/** The inks that have a hue, once round the circle. */
export const circle: Ink[] = [
  'Madder',
  'Ember',
  'Marigold',
  'Lamp',
  'Eelgrass',
  'Lagoon',
  'Fathom',
  'Squall',
  'Foxglove',
  'Heather',
];

export interface Paper {
  name: 'coated' | 'uncoated';
  /** As an instrument sees it. */
  reflectance: number[];
  surface: Surface;
  /** How much of an ink stays on top of it, against a coated sheet. */
  holds: number;
  tone: Tone;
}

/** A white sheet with some brightener, which gives back in the blue what it takes in the violet. */
const sheet = (white: number, cream: number, glow: number) =>
  wavelengths.map(
    (nm) =>
      Math.round(
        (white - cream / (1 + Math.exp((nm - 470) / 35)) - hill(0.3, 380, 22)(nm) + hill(glow, 442, 22)(nm)) *
          1e4,
      ) / 1e4,
  );

export const papers: Paper[] = [
  {
    name: 'coated',
    reflectance: sheet(0.885, 0.03, 0.055),
    surface: { outside: 0.04, inside: 0.6, caught: 0.02 },
    holds: 1,
    tone: { spread: 1.7, gain: 0.05 },
  },
  {
    name: 'uncoated',
    reflectance: sheet(0.85, 0.02, 0.09),
    surface: { outside: 0.045, inside: 0.52, caught: 0.55 },
    holds: 0.55,
    tone: { spread: 2.1, gain: 0.08 },
  },
];
