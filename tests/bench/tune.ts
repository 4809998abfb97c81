import ColorJs from 'colorjs.io';
import { SRGB } from '../../core/harmony/index.ts';
import { allSwatches } from '../../core/swatch/index.ts';
import { coated } from '../../core/testing.ts';
import { move, prepareTuning, type Tuning } from '../../core/tune/index.ts';
import { Harness, type Screen } from '../browser/harness.ts';
import { largeLibrary } from './large.ts';

// npm run bench -- tune: what it takes to move 5,000 swatches, beside colorjs.io, and while a hand drags. Needs a build.

const SWATCHES = 5000;
const RUNS = 15;

const median = (of: number[]) => [...of].sort((a, b) => a - b)[of.length >> 1]!;

const WAYS: [name: string, tuning: (i: number) => Tuning][] = [
  ['shift', (i) => ({ lightness: 3 + i / 10, chroma: 1.2, hue: -8 })],
  ['blend', (i) => ({ blend: { toward: { space: 'rgb', components: [0.8, 0.6, 0.4] }, percent: 20 + i } })],
  ['equalise', (i) => ({ even: { lightness: 40 + i, chroma: 30 } })],
  ['relight', () => ({ relight: { from: 'D65', to: 'A' } })],
  ['reverse', () => ({ reverse: true })],
];

function inCore(): void {
  const swatches = allSwatches(largeLibrary(SWATCHES));
  const prepared = prepareTuning(swatches, coated);
  console.log(`${SWATCHES.toLocaleString('en')} swatches moved, ms`);
  for (const [name, tuning] of WAYS) {
    const times = Array.from({ length: RUNS }, (_, i) => {
      const start = performance.now();
      move(prepared, tuning(i), SRGB);
      return performance.now() - start;
    });
    console.log(`${name.padEnd(44)}${median(times).toFixed(1).padStart(8)}`);
  }
  const theirs = swatches.map((s) => new ColorJs('srgb', s.color.components as [number, number, number]));
  const times = Array.from({ length: 3 }, () => {
    const start = performance.now();
    for (const color of theirs) {
      const [L, C, h] = color.to('oklch').coords as [number, number, number];
      new ColorJs('oklch', [L + 0.03, C * 1.2, h - 8]).to('srgb').toGamut({ method: 'css' });
    }
    return performance.now() - start;
  });
  console.log(`${'shift, by colorjs.io'.padEnd(44)}${median(times).toFixed(1).padStart(8)}`);
}

/** How long each frame took while a slider was dragged to and fro, ms. @param before the hand lets go */
export async function dragged(
  screen: Screen,
  name: string,
  before: () => Promise<unknown> = async () => undefined,
): Promise<number[]> {
  const { page } = screen;
  const slider = await screen.find('slider', name);
  const track = await slider.evaluateHandle((e) => e.closest('.MuiSlider-root')!);
  const box = (await (track as typeof slider).boundingBox())!;
  // as text: what is written here has names that the page does not know
  await page.evaluate(`
    window.waits = [];
    let last = performance.now();
    const tick = (now) => {
      window.waits.push(now - last);
      last = now;
      requestAnimationFrame(tick);
    };
    requestAnimationFrame(tick);
  `);
  const y = box.y + box.height / 2;
  await page.mouse.move(box.x + box.width / 2, y);
  await page.mouse.down();
  await page.evaluate(() => (Reflect.get(window, 'waits') as number[]).splice(0));
  for (let step = 0; step <= 120; step++) {
    await page.mouse.move(box.x + box.width * (0.5 + 0.4 * Math.sin(step / 10)), y);
    await new Promise((resolve) => setTimeout(resolve, 8));
  }
  const frames = await page.evaluate(() => Reflect.get(window, 'waits') as number[]);
  await before();
  await page.mouse.up();
  return frames;
}

async function inBrowser(): Promise<void> {
  const harness = await Harness.start();
  try {
    const id = await harness.keep(largeLibrary(SWATCHES));
    const screen = await harness.page(`/libraries/${id}/arrange`);
    const { page } = screen;
    await screen.text(/5,000 swatches · saved/);
    await page.focus('[role=listbox]');
    await page.keyboard.down('Control');
    await page.keyboard.press('a');
    await page.keyboard.up('Control');
    await page.keyboard.press('t');
    const frames = await dragged(screen, 'Lightness', () => screen.text(/5,000 swatches · largest ΔE00/));
    const sorted = [...frames].sort((a, b) => a - b);
    const at = (part: number) => sorted[Math.min(sorted.length - 1, Math.floor(part * sorted.length))]!;
    console.log(
      `\nOne of them dragged in the browser: ${frames.length} frames, median ${at(0.5).toFixed(1)} ms, ` +
        `nine of ten under ${at(0.9).toFixed(1)} ms, longest ${at(1).toFixed(1)} ms`,
    );
  } finally {
    await harness.stop();
  }
}

export async function benchTune(): Promise<void> {
  inCore();
  await inBrowser();
}
