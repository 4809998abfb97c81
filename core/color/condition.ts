import type { Color, Condition, ConditionSetting } from './model.ts';
import { SHIPPED } from './shipped.ts';

/** What new libraries start with: coated offset, with the ink that its sheets usually take (common practice, no source). */
export const USUAL_CONDITION: ConditionSetting = {
  profile: SHIPPED.coated,
  intent: 'relative',
  inkLimit: 320,
};

/** A library's condition, or the usual one. */
export const conditionOf = ({ condition }: { condition?: ConditionSetting }): ConditionSetting =>
  condition ?? USUAL_CONDITION;

/** The ink limit a paper usually has, %: 300–330 coated, 280–300 uncoated (common practice, no source). */
export const usualInkLimit = (profile: string) => (profile === SHIPPED.uncoated ? 300 : 320);

/** Thrown where an ink comes to a place that has no print condition: a mistake of Papillon's own. */
const noInks = (): never => {
  throw new Error('A device colour has no appearance without a print condition.');
};

/** For colours that are surely of no device: those of pictures and of codes for screens. */
export const screenOnly: Condition = {
  setting: USUAL_CONDITION,
  name: 'screen',
  isDevice: ({ space }) => space === 'cmyk',
  throughOf: noInks,
  shown: noInks,
  measured: noInks,
  inks: noInks,
  print: noInks,
  separate: noInks,
  prepare: () => undefined,
  seen: new WeakMap(),
};

/** The profiles that a library needs: that of its condition, and those its colors name. */
export function profilesOf(setting: ConditionSetting, colors: Iterable<Color>): string[] {
  const found = new Set([setting.profile]);
  for (const { profile } of colors) if (profile) found.add(profile);
  return [...found];
}
