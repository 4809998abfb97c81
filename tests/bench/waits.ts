import { fileURLToPath } from 'node:url';
import type { Page } from 'puppeteer-core';
import sharp from 'sharp';
import { Harness } from '../browser/harness.ts';
import { largeLibrary } from './large.ts';

// npm run bench -- waits: how long one waits for a palette, and for the page after a rename. Needs a build.

const RUNS = 7;
const SWATCHES = 100_000;

const median = (of: number[]) => [...of].sort((a, b) => a - b)[of.length >> 1]!;
const line = (name: string, of: number[]) =>
  console.log(
    `${name.padEnd(60)}${median(of).toFixed(0).padStart(6)} ms  (${of.map((v) => v.toFixed(0)).join(' ')})`,
  );

/** The browser's own decoding of a picture to its pixels, ms. */
const decoding = (page: Page, base64: string) =>
  page.evaluate(async (text) => {
    const blob = new Blob([Uint8Array.from(atob(text), (c) => c.charCodeAt(0))]);
    const start = performance.now();
    const bitmap = await createImageBitmap(blob);
    const canvas = new OffscreenCanvas(bitmap.width, bitmap.height);
    const context = canvas.getContext('2d', { willReadFrequently: true })!;
    context.drawImage(bitmap, 0, 0);
    context.getImageData(0, 0, bitmap.width, bitmap.height);
    return performance.now() - start;
  }, base64);

/** A photograph of 24 megapixels on a page just opened: until its palette can be put in the tray. */
async function drop(): Promise<void> {
  const file = fileURLToPath(new URL('../photos/rocket.jpg', import.meta.url));
  const bytes = await sharp(file).resize(6000, 4000, { fit: 'fill' }).jpeg({ quality: 90 }).toBuffer();
  const waits: number[] = [];
  const decodings: number[] = [];
  for (let run = 0; run < RUNS; run++) {
    // a browser of its own each time, in which nothing is kept
    const harness = await Harness.start();
    try {
      const screen = await harness.page('/gather');
      const { page } = screen;
      // before the page itself listens
      await page.evaluateOnNewDocument(() => {
        window.addEventListener('drop', () => Object.assign(window, { dropped: performance.now() }), true);
      });
      await screen.reload();
      await screen.drop([{ name: 'photograph.jpg', bytes }]);
      const waited = await page.waitForFunction(
        () =>
          /Put \d+ in the tray/.test(document.body.textContent ?? '') &&
          performance.now() - Reflect.get(window, 'dropped'),
        { polling: 'mutation' },
      );
      waits.push(Number(await waited.jsonValue()));
      const blank = await harness.bare('/favicon.svg');
      decodings.push(await decoding(blank.page, bytes.toString('base64')));
    } finally {
      await harness.stop();
    }
  }
  line('24 megapixels dropped, until their palette', waits);
  line('of it the browser’s own decoding', decodings);
}

/** From the Enter that renames until the page is drawn and free for the next key. */
async function rename(): Promise<void> {
  const harness = await Harness.start();
  try {
    const id = await harness.keep(largeLibrary(SWATCHES));
    const screen = await harness.page('/');
    await screen.go(`/libraries/${id}/arrange`);
    await screen.text(/100,000 swatches · saved/);
    const { page } = screen;
    const waits: number[] = [];
    for (let run = 0; run < RUNS + 2; run++) {
      await page.focus('[role=listbox]');
      await page.keyboard.press('ArrowRight');
      await page.keyboard.press('Enter');
      await page.waitForSelector('[aria-label="Name of the swatch"]');
      await page.keyboard.type(`Name ${run}`);
      await new Promise((resolve) => setTimeout(resolve, 1000));
      waits.push(
        await page.evaluate(async () => {
          const field = document.querySelector<HTMLInputElement>('[aria-label="Name of the swatch"]')!;
          const start = performance.now();
          field.dispatchEvent(new KeyboardEvent('keydown', { key: 'Enter', bubbles: true }));
          await Promise.resolve();
          await new Promise((resolve) => setTimeout(resolve));
          return performance.now() - start;
        }),
      );
      await new Promise((resolve) => setTimeout(resolve, 500));
    }
    line('a rename with 100,000 swatches, until the page is free', waits.slice(2));
  } finally {
    await harness.stop();
  }
}

export async function benchWaits(): Promise<void> {
  await rename();
  await drop();
}
