import type { Page } from 'puppeteer-core';
import { formatById } from '../../core/formats/index.ts';
import { libraryOf, services } from '../../core/testing.ts';
import { Harness, type Screen } from '../browser/harness.ts';

// npm run bench -- large: how long a page of a large library is held up by each thing that is done. Needs a build.

const SWATCHES = 20_000;
const A_GROUP = 200;

export const largeLibrary = (swatches: number) =>
  libraryOf(
    'Large',
    Object.fromEntries(
      Array.from({ length: swatches / A_GROUP }, (_, g) => [
        `Group ${g + 1}`,
        Array.from({ length: A_GROUP }, (_, i): [string, string] => [
          `Rope ${g * A_GROUP + i + 1}`,
          `#${(((g * A_GROUP + i) * 3331) & 0xffffff).toString(16).padStart(6, '0')}`,
        ]),
      ]),
    ),
  );
const large = largeLibrary(SWATCHES);

/** Notes every task of over 50 ms from the beginning of the page. */
const watch = (page: Page) =>
  page.evaluateOnNewDocument(() => {
    Object.assign(window, { tasks: [] });
    new PerformanceObserver((list) => {
      for (const entry of list.getEntries())
        (Reflect.get(window, 'tasks') as number[]).push(Math.round(entry.duration));
    }).observe({ type: 'longtask', buffered: true });
  });

async function timed(name: string, { page }: Screen, run: () => Promise<unknown>): Promise<void> {
  const tasks = () => page.evaluate(() => (Reflect.get(window, 'tasks') as number[]).splice(0));
  await tasks();
  const start = performance.now();
  await run();
  const ms = Math.round(performance.now() - start);
  // what is still to come belongs to it
  await new Promise((resolve) => setTimeout(resolve, 1500));
  const long = (await tasks()).filter((t) => t > 100);
  console.log(
    [
      name.padEnd(44),
      `${ms} ms`.padStart(9),
      `${Math.max(0, ...long)} ms`.padStart(14),
      String(long.length).padStart(16),
    ].join(''),
  );
}

export async function benchLarge(): Promise<void> {
  const harness = await Harness.start();
  try {
    const id = await harness.keep(large);
    const screen = await harness.page('/');
    const { page } = screen;
    await watch(page);
    await screen.reload();
    console.log(
      `With ${SWATCHES.toLocaleString('en')} swatches            `.padEnd(44) +
        '     time  longest task  tasks over 100',
    );
    await timed('Arrange, until swatches are seen', screen, async () => {
      await screen.go(`/libraries/${id}/arrange`);
      await page.waitForSelector('[role=option]', { timeout: 60_000 });
    });
    await timed('find, each letter of “rope 19999”', screen, async () => {
      await page.keyboard.press('/');
      await page.keyboard.type('rope 19999', { delay: 30 });
      await page.waitForFunction(() => document.body.textContent?.includes('Rope 19999'), {
        timeout: 60_000,
      });
    });
    await page.keyboard.press('Escape');
    await timed('rename a swatch', screen, async () => {
      await (await page.waitForSelector('[role=option]'))!.click({ count: 2 });
      await (await page.waitForSelector('[aria-label="Name of the swatch"]'))!.type('New');
      await page.keyboard.press('Enter');
    });
    await timed('choose all', screen, async () => {
      await page.keyboard.down('Control');
      await page.keyboard.press('a');
      await page.keyboard.up('Control');
      await screen.text(/20,000 swatches/);
    });
    await timed('Hand over, until its first rows', screen, async () => {
      await screen.click('link', 'Hand over');
      await page.waitForSelector('.Changes-line', { timeout: 60_000 });
    });
    await timed('Check, until its findings', screen, async () => {
      await screen.click('link', 'Check');
      await page.waitForSelector('[class*=Findings] [role=option]', { timeout: 60_000 });
    });
    const gpl = formatById('gpl');
    const bytes = await gpl.encode(large, services as never);
    await screen.go('/');
    await timed('a file of them dropped, until it is listed', screen, async () => {
      await screen.drop([{ name: 'large.gpl', bytes }]);
      await page.waitForSelector('[role=dialog] [type=submit]');
    });
    await timed('opened as a library, until it is seen', screen, async () => {
      await screen.button('Open as a library');
      await page.waitForSelector('[role=option]', { timeout: 60_000 });
    });
  } finally {
    await harness.stop();
  }
}
