import { sides } from '../check/contrast.ts';
import { type Color, type Condition, contrastOf, luminance } from '../color/index.ts';
import type { Swatch } from '../swatch/model.ts';

/** More texts or grounds than this are not looked at. */
const MAX_SIDE = 200;

/**
 * How many pairs of text and ground, by their roles, begin and cease to reach a contrast when some swatches get other colors.
 * @param least a ratio of WCAG 2.2, 1 to 21
 */
export function contrastAfter(
  swatches: readonly Swatch[],
  after: ReadonlyMap<string, Color>,
  least: number,
  condition: Condition,
): { starts: number; stops: number } {
  const { text, ground } = sides([...swatches], '', '');
  const lights = (list: Swatch[]) =>
    list.slice(0, MAX_SIDE).map((s) => {
      const was = luminance(s.color, condition);
      const color = after.get(s.id);
      return { id: s.id, was, is: color ? luminance(color, condition) : was };
    });
  const [texts, grounds] = [lights(text), lights(ground)];
  let [starts, stops] = [0, 0];
  for (const t of texts)
    for (const g of grounds) {
      if (t.id === g.id) continue;
      const [before, now] = [contrastOf(t.was, g.was) >= least, contrastOf(t.is, g.is) >= least];
      if (now && !before) starts++;
      if (before && !now) stops++;
    }
  return { starts, stops };
}
