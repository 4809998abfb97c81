import { existsSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import {
  conditionIn,
  DE00,
  deltaE00,
  type Lab,
  NearIndex,
  SHIPPED,
  USUAL_CONDITION,
} from '../../core/color/index.ts';
import { assign } from '../../core/match/index.ts';
import { allSwatches, type Library } from '../../core/swatch/index.ts';
import { sampleBooks } from '../../demo/books/index.ts';
import { loadEngine } from '../../profiles/load.ts';
import { Harness } from '../browser/harness.ts';
import { random } from '../fuzz/mutate.ts';
import { quickest } from './quickest.ts';

const ms = (v: number) => `${v < 10 ? v.toFixed(1) : v.toFixed(0)} ms`;

function labs(count: number, seed = count): Lab[] {
  const next = random(seed);
  return Array.from({ length: count }, () => [next() * 100, (next() - 0.5) * 160, (next() - 0.5) * 160]);
}

/** The nearest of all, one after the other. */
function scan(all: readonly Lab[], lab: Lab): number {
  let best = Number.POSITIVE_INFINITY;
  for (const one of all) {
    const d = deltaE00(lab, one);
    if (d < best) best = d;
  }
  return best;
}

/** A book as large as any, of random inks with curves. */
function largeBook(count: number): Library {
  const next = random(count);
  const swatches = labs(count).map((lab, i) => ({
    id: `ink-${i}`,
    name: `LB ${i + 1}`,
    code: String(i + 1),
    kind: 'spot' as const,
    color: { space: 'lab' as const, components: lab.map((v) => Math.round(v * 100) / 100) },
    spectrum: {
      start: 380,
      step: 10,
      values: Array.from({ length: 36 }, () => Math.round(next() * 1e4) / 1e4),
    },
  }));
  return {
    id: 'large',
    name: 'Large book',
    book: { prefix: 'LB ' },
    groups: [{ id: 'g', name: '', swatches }],
  };
}

/** The nearest by the index beside a plain scan, one-to-one pairing, and a book of 20,000 in the real browser. */
export async function benchBooks(): Promise<void> {
  const [book, more, queries] = [labs(20_000), labs(100_000), labs(256, 7)];
  const made = await quickest(() => new NearIndex(book));
  const index = new NearIndex(book);
  const by = await quickest(() => queries.map((q) => index.closest(q)));
  const plain = await quickest(() => queries.map((q) => scan(book, q)), 1);
  console.log(
    `\n256 colours against 20,000: ${ms(by)} by the index (made in ${ms(made)}), ${ms(plain)} by a plain scan`,
  );
  const large = new NearIndex(more);
  const one = await quickest(() => large.nearest(queries[0]!, 5), 20);
  const build = await quickest(() => new NearIndex(more), 3);
  const alone = await quickest(() => scan(more, queries[0]!));
  console.log(
    `one against 100,000: ${ms(one)} by the index (made in ${ms(build)}), ${ms(alone)} by a plain scan`,
  );

  const engine = await loadEngine(fileURLToPath(new URL('../../profiles/', import.meta.url)));
  const on = (profile: string) => conditionIn(engine, { ...USUAL_CONDITION, profile });
  let books: Library[] = [];
  const conditions = { coated: on(SHIPPED.coated), uncoated: on(SHIPPED.uncoated) };
  const computed = await quickest(() => {
    books = sampleBooks(conditions);
  }, 2);
  const [coated, uncoated] = books.map((b) => allSwatches(b).map((s) => s.color.components as Lab));
  const paired = await quickest(() => assign(coated!, uncoated!, DE00), 1);
  console.log(
    `both sample books computed in ${ms(computed)}; one translated into the other, one to one: ${ms(paired)}`,
  );

  if (!existsSync('build/server/index.js')) {
    console.log('In the browser: build the application first (npm run build).');
    return;
  }
  const harness = await Harness.start();
  try {
    const response = await fetch(`${harness.url}/books/kept/large-book`, {
      method: 'PUT',
      headers: { 'Content-Type': 'application/json' },
      body: JSON.stringify(largeBook(20_000)),
    });
    if (!response.ok) throw new Error(await response.text());
    const screen = await harness.page('/gather');
    const { page } = screen;
    await page.evaluateOnNewDocument(() => {
      const seen: number[] = [];
      Object.assign(window, { seen });
      new PerformanceObserver((list) => {
        for (const entry of list.getEntries()) seen.push(entry.duration);
      }).observe({ type: 'longtask' });
    });
    // the page itself is there; what is timed is the way from the click to the first leaf
    await screen.go('/gather');
    const longest = async () => {
      const seen = await page.evaluate(() => Reflect.get(window, 'seen').splice(0));
      return seen.length > 0 ? ms(Math.max(...seen)) : 'none over 50 ms';
    };
    await longest();
    const start = performance.now();
    await screen.click('link', 'Book');
    await page.waitForSelector('[data-place]');
    console.log(
      `\na book of 20,000: the first leaf after ${ms(performance.now() - start)}, longest task ${await longest()}`,
    );
    await page.focus('[aria-current=true][data-place]');
    for (let i = 0; i < 60; i++) await page.keyboard.press(i % 3 ? 'ArrowRight' : 'ArrowDown');
    console.log(`  60 steps with the arrow keys: longest task ${await longest()}`);
    const strip = (await (await page.$('[role=slider][aria-label=Leaf]'))!.boundingBox())!;
    await page.mouse.move(strip.x + 2, strip.y + 20);
    await page.mouse.down();
    for (let i = 0; i <= 40; i++) await page.mouse.move(strip.x + (strip.width * i) / 41, strip.y + 20);
    await page.mouse.up();
    console.log(`  turning all leaves: longest task ${await longest()}`);
    await page.keyboard.type('12345', { delay: 60 });
    console.log(`  typing a number: longest task ${await longest()}`);
    const { JSHeapUsedSize } = await page.metrics();
    console.log(`  script memory of the page: ${((JSHeapUsedSize ?? 0) / 1e6).toFixed(0)} MB`);
  } finally {
    await harness.stop();
  }
}
