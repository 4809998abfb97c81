import type { Color } from '#core/color/index';
import type { Asked, Drag, ScaleAsked } from '#core/harmony/index';
import type { Swatch } from '#core/swatch/index';

/** What members are kept inside: a screen's gamut, the library's own press, or the press of a profile, by its hash. */
export type Inside = 'rgb' | 'p3' | 'press' | (string & {});

/** One family that was tried, with what it is kept inside and how large its members lie side by side. */
export interface FamilyTake {
  id: string;
  name?: string;
  asked: Asked;
  inside: Inside;
  /** Parts of 1, by member; those that are not named have their usual size. */
  areas: Record<string, number>;
}

/** What is made: a family by a rule, a scale, or one by contrast. */
export const HARMONY_VIEWS = ['family', 'scale', 'contrast'] as const;
export type HarmonyView = (typeof HARMONY_VIEWS)[number];

/** What a scale is asked for, plain or by contrast. */
export interface KeptScale extends Omit<ScaleAsked, 'through'> {
  /** Of a spot ink, the ink: its scale is the ramp of its tints. */
  through: { color: Color; name?: string; ink?: Swatch }[];
  /** How the steps are named. */
  pattern: string;
  /** What a contrast scale stands on, and its WCAG ratios. */
  ground: Color;
  ratios: number[];
}

export const PLAIN_SCALE: KeptScale = {
  through: [],
  steps: 11,
  way: 'oklab',
  even: 'way',
  pattern: '{name}-{step}',
  ground: { space: 'rgb', components: [1, 1, 1] },
  // as `usualRatios` has them, which the home does without
  ratios: [1.07, 1.39, 1.81, 2.36, 3.08, 4.01, 5.22, 6.79, 8.85, 11.52, 15],
};

export interface KeptHarmony {
  scale: KeptScale;
  view: HarmonyView;
  takes: FamilyTake[];
  current: string | null;
  drag: Drag;
}

export interface HarmonyState extends KeptHarmony {
  /** The member that is looked at, by its key. */
  member: string;
}
