import type { Part, Swatch } from './model.ts';

const HALVES: Record<number, string> = { 0.25: '¼', 0.5: '½', 0.75: '¾' };

/** A number of parts as mixers write it: halves and quarters as fractions, all else with a point. */
export function partsText(parts: number): string {
  const whole = Math.floor(parts);
  const fraction = HALVES[parts - whole];
  if (fraction) return whole > 0 ? `${whole}${fraction}` : fraction;
  return String(Math.round(parts * 100) / 100);
}

/** `Ember 14 · Madder 3 · Soot ½` */
export const recipeText = (recipe: readonly Part[]): string =>
  recipe.map(({ of, parts }) => `${of} ${partsText(parts)}`).join(' · ');

/** `40 % of KW 612` */
export const tintText = ({ of, percent }: NonNullable<Swatch['tint']>): string => `${percent} % of ${of}`;
