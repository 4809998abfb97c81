import { fileURLToPath } from 'node:url';
import { clampChroma, converter } from 'culori';
import { conditionOf, PrintCondition } from '../../core/color/index.ts';
import { recovered } from '../../core/harmony/finder-trial.ts';
import {
  CIRCLES,
  circleById,
  circles,
  familyOf,
  fitted,
  paintRibbon,
  plainAsked,
  pressGamutOf,
  SRGB,
} from '../../core/harmony/index.ts';
import { loadEngine } from '../../profiles/load.ts';
import { random } from '../fuzz/mutate.ts';
import { quickest } from './quickest.ts';

const [WIDTH, HEIGHT] = [736, 220];

/** A family that is dragged, the ribbon, chroma given up beside culori, the press's gamut, and how often rules are found again. */
export async function benchHarmony(): Promise<void> {
  const engine = await loadEngine(fileURLToPath(new URL('../../profiles/', import.meta.url)));
  const condition = new PrintCondition(engine, conditionOf({}));
  const start = performance.now();
  const press = pressGamutOf(condition);
  console.log(`\nthe gamut of a press: ${(performance.now() - start).toFixed(0)} ms, once for a condition`);
  for (const [name, gamut] of [
    ['sRGB', SRGB],
    ['the press', press],
  ] as const) {
    const asked = {
      ...plainAsked({ space: 'oklch', components: [0.55, 0.17, 25] }),
      rule: 'freely',
      count: 8,
      also: ['lighter', 'darker', 'neutral'] as ('lighter' | 'darker' | 'neutral')[],
    };
    const ms = await quickest(() => {
      for (const circle of CIRCLES) familyOf({ ...asked, circle }, gamut, condition);
    }, 30);
    console.log(`12 members inside ${name} in all three orders of hue: ${ms.toFixed(2)} ms (a frame has 16)`);
  }
  const pixels = new Uint8ClampedArray(WIDTH * HEIGHT * 4);
  const rgb = converter('rgb');
  const theirs = await quickest(() => {
    for (let y = 0; y < HEIGHT; y++)
      for (let x = 0; x < WIDTH; x++) {
        const c = rgb({ mode: 'oklch', l: 1 - y / HEIGHT, c: 0.15, h: (x / WIDTH) * 360 });
        pixels[(y * WIDTH + x) * 4] = c.r * 255;
      }
  }, 3);
  for (const circle of circles) {
    const ms = await quickest(
      () => paintRibbon({ pixels, width: WIDTH, height: HEIGHT }, circle, 0.15, 'rgb'),
      30,
    );
    console.log(
      `the ribbon of ${WIDTH} × ${HEIGHT}, ${circle.name}: ${ms.toFixed(1)} ms (goal 8; culori pixel by pixel ${theirs.toFixed(0)})`,
    );
  }
  const next = random(10_000);
  const colors = Array.from(
    { length: 10_000 },
    () => [next(), next() * 0.37, next() * 360] as [number, number, number],
  );
  const ours = await quickest(() => colors.map((c) => fitted(c, circleById('perceptual'), SRGB)));
  const clamp = await quickest(() =>
    colors.map(([l, c, h]) => clampChroma({ mode: 'oklch', l, c, h }, 'oklch', 'rgb')),
  );
  console.log(
    `10,000 colours brought inside sRGB: ${ours.toFixed(0)} ms, culori's clampChroma ${clamp.toFixed(0)}`,
  );
  const { right, all, wrong } = recovered(1000, 2026);
  const worst = [...wrong].sort((a, b) => b[1] - a[1]).slice(0, 3);
  console.log(
    `the rule of ${all} families with noise of ΔE00 2: ${((100 * right) / all).toFixed(1)} % found again (goal 95)${worst.length > 0 ? `; most often ${worst.map(([w, n]) => `${w} ${n}`).join(', ')}` : ''}`,
  );
}
