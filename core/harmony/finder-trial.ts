import {
  deltaE00,
  type Lab,
  labToOklab,
  type Oklch,
  oklabToLab,
  oklabToOklch,
  oklchToOklab,
} from '../color/index.ts';
import { coated } from '../testing.ts';
import { type Asked, CIRCLES, familyOf, findRule, plainAsked, rules, SRGB } from './index.ts';

/** A row of numbers 0–1 that is always the same for the same seed (Numerical Recipes' linear congruence). */
function dice(seed: number): () => number {
  let state = seed >>> 0;
  return () => {
    state = (state * 1664525 + 1013904223) >>> 0;
    return state / 2 ** 32;
  };
}

/**
 * How often the finder gets back the rule that families were made by, for test and benchmark: random bases with a hue to speak of,
 * angles from the middle of their ranges, as the ends of some are other rules, and each color off by ΔE00 2.
 */
export function recovered(
  families: number,
  seed: number,
): { right: number; all: number; wrong: Map<string, number> } {
  const random = dice(seed);
  const normal = () => Math.sqrt(-2 * Math.log(random() + 1e-12)) * Math.cos(2 * Math.PI * random());
  const color = () => ({
    color: {
      space: 'oklch' as const,
      components: [0.45 + random() * 0.35, 0.08 + random() * 0.1, random() * 360],
    },
  });
  const list = rules.filter((r) => r.id !== 'freely');
  const wrong = new Map<string, number>();
  let right = 0;
  for (let i = 0; i < families; i++) {
    const rule = list[i % list.length]!;
    const circle = CIRCLES[Math.floor(random() * 3)]!;
    let bases = [color()];
    // colors of one lightness with hues between them are neighbours as much as a way from one to the other
    while (rule.bases.min > 1 && !(bases.length === 2 && apart(bases) > 0.15)) bases = [color(), color()];
    const asked: Asked = {
      ...plainAsked(bases[0]!.color),
      bases,
      rule: rule.id,
      circle,
      also: [],
      lightness:
        random() < 0.5
          ? { by: 'base', amount: 0, bend: 1 }
          : { by: 'spread', amount: 0.1 + random() * 0.1, bend: 1 },
    };
    if (rule.angle) asked.angle = rule.angle.min + (rule.angle.max - rule.angle.min) * (0.2 + 0.6 * random());
    if (rule.id === 'near-complementary') asked.angle = (random() < 0.5 ? -1 : 1) * (15 + random() * 25);
    if (rule.id === 'analogous') {
      asked.angle = 15 + random() * 25;
      asked.count = random() < 0.5 ? 3 : 5;
    }
    const noisy = familyOf(asked, SRGB, coated).map((m) => off(m.lch, [normal(), normal(), normal()]));
    const found = findRule(noisy, circle)?.rule ?? 'none';
    if (found === rule.id) right++;
    else wrong.set(`${rule.id} taken for ${found}`, (wrong.get(`${rule.id} taken for ${found}`) ?? 0) + 1);
  }
  return { right, all: families, wrong };
}

const apart = (bases: { color: { components: number[] } }[]) =>
  Math.abs(bases[0]!.color.components[0]! - bases[1]!.color.components[0]!);

/** A color ΔE00 2 away in a direction of Lab. */
function off(lch: Oklch, direction: number[]): Oklch {
  const from = oklabToLab(oklchToOklab(lch));
  let size = 1;
  const at = (): Lab => from.map((v, k) => v + direction[k]! * size) as Lab;
  for (let k = 0; k < 30; k++) size *= 2 / deltaE00(from, at());
  return oklabToOklch(labToOklab(at()));
}
