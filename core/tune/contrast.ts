import { sides } from '../check/contrast.ts';
import { type Color, type Condition, contrastOf, luminance } from '../color/index.ts';
import type { Swatch } from '../swatch/model.ts';

/** More texts or grounds than this are not looked at. */
const MAX_SIDE = 200;

/** A text on a ground, of which one or both get another color. */
export interface PairAfter {
  text: Swatch;
  ground: Swatch;
  /** Contrast ratios of WCAG 2.2, 1 to 21. */
  was: number;
  is: number;
}

/**
 * The pairs of text and ground, by their roles, that change when some swatches get other colors, and how many of them begin and
 * cease to reach a contrast.
 * @param least a ratio of WCAG 2.2, 1 to 21
 */
export function contrastAfter(
  swatches: readonly Swatch[],
  after: { get(id: string): Color | undefined },
  least: number,
  condition: Condition,
): { starts: number; stops: number; pairs: PairAfter[] } {
  const { text, ground } = sides([...swatches], '', '');
  const lights = (list: Swatch[]) =>
    list.slice(0, MAX_SIDE).map((swatch) => {
      const was = luminance(swatch.color, condition);
      const color = after.get(swatch.id);
      return { swatch, was, is: color ? luminance(color, condition) : was };
    });
  const [texts, grounds] = [lights(text), lights(ground)];
  let [starts, stops] = [0, 0];
  const pairs: PairAfter[] = [];
  for (const t of texts)
    for (const g of grounds) {
      if (t.swatch.id === g.swatch.id) continue;
      const [was, is] = [contrastOf(t.was, g.was), contrastOf(t.is, g.is)];
      if (t.was !== t.is || g.was !== g.is) pairs.push({ text: t.swatch, ground: g.swatch, was, is });
      if (is >= least && was < least) starts++;
      if (was >= least && is < least) stops++;
    }
  return { starts, stops, pairs };
}
