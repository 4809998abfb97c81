import { type Color, type Condition, convert, deltaE00, type Lab, toLab } from '../color/index.ts';
import type { Gamut } from '../harmony/index.ts';
import { inSpaceOf } from './tune.ts';

/** How far off the variations are, ΔE00, on either side: 1 is about what an eye just tells apart. */
export const VARIATION_STEPS = [-4, -2, -1, 1, 2, 4] as const;
export const VARIATIONS = ['lightness', 'chroma', 'hue'] as const;
export type Variation = (typeof VARIATIONS)[number];

/** A grey has no hue to vary, CIE C*. */
const MIN_CHROMA = 1;
/** The furthest that is looked: the whole of L*, all chroma there is, half a turn. */
const FURTHEST: Record<Variation, number> = { lightness: 100, chroma: 100, hue: 180 };

/** So far along one of L*, C* and h of CIE Lab. */
function along([L, a, b]: Lab, what: Variation, by: number): Lab {
  if (what === 'lightness') return [L + by, a, b];
  const C = Math.hypot(a, b);
  const h = Math.atan2(b, a) + (what === 'hue' ? (by * Math.PI) / 180 : 0);
  const far = what === 'chroma' ? Math.max(0, C + by) : C;
  return [L, far * Math.cos(h), far * Math.sin(h)];
}

/**
 * A color that differs from another by so much in one quantity alone, in its own space; null where there is none: black is not
 * darker, and what a gamut does not hold is not offered.
 *
 * @param step ΔE00; below 0 darker, weaker, or towards red from yellow
 */
export function variationOf(
  color: Color,
  what: Variation,
  step: number,
  gamut: Gamut,
  condition: Condition,
): Color | null {
  const lab = toLab(color, condition);
  if (what === 'hue' && Math.hypot(lab[1], lab[2]) < MIN_CHROMA) return null;
  const sign = Math.sign(step);
  let [low, high] = [0, FURTHEST[what]];
  if (deltaE00(lab, along(lab, what, sign * high)) < Math.abs(step)) return null;
  for (let i = 0; i < 40; i++) {
    const middle = (low + high) / 2;
    if (deltaE00(lab, along(lab, what, sign * middle)) < Math.abs(step)) low = middle;
    else high = middle;
  }
  const found = along(lab, what, sign * high);
  if (found[0] < 0 || found[0] > 100) return null;
  const made: Color = { space: 'lab', components: found };
  const [L, a, b] = convert(made, 'oklab', condition).components as [number, number, number];
  if (!gamut.holds(L, a, b)) return null;
  return inSpaceOf(
    color,
    convert(made, 'oklch', condition).components as [number, number, number],
    condition,
  );
}
