import { existsSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import sharp from 'sharp';
import { Harness } from '../browser/harness.ts';

const SLIDERS = [
  'Colours',
  'Balance, from areas to accents',
  'Look-alikes under, ΔE00',
  'Cells, side in pixels',
  'Divider between the picture and the picture drawn with the palette',
];

/**
 * Drags every slider of Gather › Picture over its whole way on a photograph of 24 megapixels, in the real browser, and says
 * how long the page's main thread was held up at most. The browser reports tasks of 50 ms and more (W3C Long Tasks).
 */
export async function benchDrag(): Promise<void> {
  if (!existsSync('build/server/index.js')) {
    console.log('\nDragging: build the application first (npm run build).');
    return;
  }
  const file = fileURLToPath(new URL('../photos/rocket.jpg', import.meta.url));
  const bytes = await sharp(file).resize(6000, 4000, { fit: 'fill' }).jpeg({ quality: 90 }).toBuffer();
  const harness = await Harness.start();
  try {
    const screen = await harness.page('/gather');
    const { page } = screen;
    await screen.drop([{ name: 'photograph.jpg', bytes }]);
    await screen.text(/Put 10 in the tray/);
    await page.evaluate(() => {
      const seen: number[] = [];
      Object.assign(window, { seen });
      new PerformanceObserver((list) => {
        for (const entry of list.getEntries()) seen.push(entry.duration);
      }).observe({ type: 'longtask' });
    });
    console.log('\nDragging on 24 megapixels: the longest task of the main thread, ms');
    for (const name of SLIDERS) {
      const slider = await screen.find('slider', name);
      const track = await slider.evaluateHandle((e) => e.closest('.MuiSlider-root') ?? e);
      const box = await (track as typeof slider).boundingBox();
      if (!box) continue;
      await page.evaluate(() => Reflect.get(window, 'seen').splice(0));
      const y = box.y + box.height / 2;
      const from = name.startsWith('Divider') ? box.x + box.width / 2 : box.x + 2;
      await page.mouse.move(from, y);
      await page.mouse.down();
      for (let step = 0; step <= 60; step++) await page.mouse.move(box.x + (box.width * step) / 60, y);
      await page.mouse.up();
      await new Promise((resolve) => setTimeout(resolve, 1500));
      const seen = await page.evaluate(() => Reflect.get(window, 'seen'));
      console.log(`${name.padEnd(70)}${seen.length ? Math.max(...seen).toFixed(0) : 'under 50'}`);
      if (name.startsWith('Colours')) await screen.fill('How many colours', '24');
      if (name.startsWith('Cells')) await slider.press('Home');
    }
  } finally {
    await harness.stop();
  }
}
