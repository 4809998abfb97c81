import type { Placed } from './asked.ts';
import { around, type Circle, turnOf } from './circles.ts';

/** A number that a rule can be set by. */
export interface Setting {
  label: string;
  initial: number;
  min: number;
  max: number;
  unit: '°' | '';
}

/** A companion: how far around it stands from its base, and how much of the rule's angle comes to that. */
export interface Turn {
  role: string;
  turn: number;
  bend: number;
}

export interface Steps {
  roles: string[];
  /** Where in the run the base stands, as a place in `roles`; null when it is not in it. */
  base: number | null;
  /** The color at a part of the way, 0–1. */
  at(t: number): Placed;
}

interface Common {
  id: string;
  name: string;
  /** In a line: what it does. */
  about: string;
  bases: { min: number; max: number };
  angle?: Setting;
  count?: Setting;
}

/** A harmony rule as a declaration: companions that stand around their base, or a run of steps. */
export type Rule =
  | (Common & { turns(count: number): Turn[] })
  | (Common & {
      /**
       * @param reach how far a run goes from its base in lightness, 0–1
       * @param angle degrees, where the rule has one
       */
      run(bases: Placed[], count: number, angle: number, reach: number, circle: Circle): Steps;
    });

const angle = (label: string, initial: number, min: number, max: number): Setting => ({
  label,
  initial,
  min,
  max,
  unit: '°',
});
const steps = (initial: number): Setting => ({ label: 'Steps', initial, min: 2, max: 11, unit: '' });

/** Companions of one rule, with what the angle does to each. */
const turning = (
  id: string,
  name: string,
  about: string,
  list: readonly (readonly [role: string, turn: number, bend?: number])[],
  own?: Setting,
): Rule => ({
  id,
  name,
  about,
  bases: { min: 1, max: 4 },
  ...(own ? { angle: own } : {}),
  turns: () => list.map(([role, turn, bend = 0]) => ({ role, turn, bend })),
});

const mix = (from: Placed, to: Placed, t: number): Placed => [
  from[0] + (to[0] - from[0]) * t,
  from[1] + (to[1] - from[1]) * t,
  around(from[2] + turnOf(from[2], to[2]) * t),
];

/** A run from the base to an end that has its hue. */
const towards = (
  id: string,
  name: string,
  about: string,
  role: string,
  end: (base: Placed) => Placed,
): Rule => ({
  id,
  name,
  about,
  bases: { min: 1, max: 4 },
  count: steps(5),
  run: ([base], count) => ({
    roles: Array.from({ length: count + 1 }, (_, i) => (i === 0 ? 'base' : `${role} ${i}`)),
    base: 0,
    at: (t) => mix(base!, end(base!), t),
  }),
});

/** A grey is given the hue of what it is mixed with, so that nothing turns on the way to it. */
function hued(bases: Placed[]): Placed[] {
  return bases.map((b, i) => {
    if (b[1] > 0.01) return b;
    const other = [bases[i - 1], bases[i + 1]].find((o) => o && o[1] > 0.01);
    return other ? [b[0], b[1], other[2]] : b;
  });
}

/** The chroma of a neutral that leans to a hue. */
const LEANING = 0.022;

/**
 * Every rule there is, in the order they are listed; a new one is a place in this list. Names and angles are common practice,
 * no source; where an angle can be set, the initial one is what the trade mostly takes.
 */
export const rules: readonly Rule[] = [
  turning('complementary', 'Complementary', 'the hue opposite', [['complement', 180]]),
  turning(
    'near-complementary',
    'Near complementary',
    'a hue beside the one opposite',
    [['companion', 180, 1]],
    angle('From the opposite', 30, -45, 45),
  ),
  turning(
    'split',
    'Split',
    'the two hues beside the one opposite',
    [
      ['left companion', 180, -1],
      ['right companion', 180, 1],
    ],
    angle('Split angle', 30, 10, 55),
  ),
  {
    id: 'analogous',
    name: 'Analogous',
    about: 'neighbours to both sides',
    bases: { min: 1, max: 4 },
    angle: angle('Between neighbours', 30, 5, 45),
    count: { label: 'Hues', initial: 3, min: 3, max: 5, unit: '' },
    turns: (count) =>
      [
        { role: 'left neighbour', turn: 0, bend: -1 },
        { role: 'right neighbour', turn: 0, bend: 1 },
        { role: 'far left', turn: 0, bend: -2 },
        { role: 'far right', turn: 0, bend: 2 },
      ].slice(0, count > 3 ? 4 : 2),
  },
  turning('triadic', 'Triadic', 'three hues a third apart', [
    ['second', 120],
    ['third', 240],
  ]),
  turning(
    'tetradic',
    'Tetradic',
    'two pairs of opposites, a rectangle',
    [
      ['neighbour', 0, 1],
      ['complement', 180],
      ['neighbour’s complement', 180, 1],
    ],
    angle('Between the pairs', 60, 20, 80),
  ),
  turning('square', 'Square', 'four hues a quarter apart', [
    ['second', 90],
    ['third', 180],
    ['fourth', 270],
  ]),
  turning(
    'neighbour-split',
    'Neighbour and split',
    'a neighbour, and the neighbours of both opposites',
    [
      ['neighbour', 0, 1],
      ['left companion', 180, -1],
      ['right companion', 180, 1],
    ],
    angle('Angle', 30, 10, 40),
  ),
  {
    id: 'one-hue',
    name: 'One hue',
    about: 'darker and lighter steps of one hue',
    bases: { min: 1, max: 4 },
    count: steps(5),
    run([base], count, _, reach) {
      const [L, C, place] = base!;
      const darker = Math.floor(count / 2);
      const lighter = count - darker;
      const low = Math.max(0.08, L - Math.max(reach, 0.05) * 1.5);
      const high = Math.min(0.98, L + Math.max(reach, 0.05) * 1.5);
      return {
        roles: [
          ...Array.from({ length: darker }, (_, i) => `darker ${darker - i}`),
          'base',
          ...Array.from({ length: lighter }, (_, i) => `lighter ${i + 1}`),
        ],
        base: darker,
        at(t) {
          const middle = darker / count;
          const light =
            t < middle ? low + ((L - low) * t) / middle : L + ((high - L) * (t - middle)) / (1 - middle);
          return [light, C, place];
        },
      };
    },
  },
  towards('shades', 'Shades', 'the base with more and more black', 'shade', ([L, C, h]) => [
    L * 0.22,
    C * 0.22,
    h,
  ]),
  towards('tints', 'Tints', 'the base with more and more white', 'tint', ([L, C, h]) => [
    L + (1 - L) * 0.88,
    C * 0.12,
    h,
  ]),
  towards('tones', 'Tones', 'the base with more and more grey', 'tone', ([L, C, h]) => [L, C * 0.1, h]),
  {
    id: 'neutral',
    name: 'Neutrals',
    about: 'greys that lean to the base or to its opposite',
    bases: { min: 1, max: 4 },
    count: steps(5),
    angle: angle('Leaning, from the base', 0, 0, 180),
    run: ([base], count, lean, reach) => ({
      roles: Array.from({ length: count }, (_, i) => `neutral ${i + 1}`),
      base: null,
      at: (t) => {
        const half = 0.2 + Math.max(0, reach);
        return [
          Math.max(0.12, 0.6 - half) + t * (Math.min(0.97, 0.6 + half) - Math.max(0.12, 0.6 - half)),
          Math.min(LEANING, base![1] || 0),
          around(base![2] + lean),
        ];
      },
    }),
  },
  {
    id: 'between',
    name: 'Between',
    about: 'a family that leads from one given colour to the next',
    bases: { min: 2, max: 4 },
    count: { label: 'Steps between', initial: 3, min: 1, max: 9, unit: '' },
    run(bases, count) {
      const points = hued(bases);
      const spans = points.length - 1;
      return {
        roles: Array.from({ length: spans * (count + 1) + 1 }, (_, i) => {
          const span = i / (count + 1);
          return Number.isInteger(span)
            ? span
              ? `base ${span + 1}`
              : 'base'
            : `between ${i - Math.floor(span)}`;
        }),
        base: 0,
        at(t) {
          const at = Math.min(spans - 1, Math.floor(t * spans));
          return mix(points[at]!, points[at + 1]!, t * spans - at);
        },
      };
    },
  },
  {
    id: 'freely',
    name: 'Freely',
    about: 'every handle goes where it is put',
    bases: { min: 1, max: 4 },
    count: { label: 'Members', initial: 3, min: 1, max: 11, unit: '' },
    turns: (count) =>
      Array.from({ length: count }, (_, i) => ({
        role: `member ${i + 2}`,
        turn: (360 * (i + 1)) / (count + 1),
        bend: 0,
      })),
  },
];

/** Rules by what they were called when families were kept with them. */
const FORMER: Record<string, string> = { compound: 'neighbour-split' };

export const ruleById = (id: string): Rule | undefined => rules.find((r) => r.id === (FORMER[id] ?? id));
