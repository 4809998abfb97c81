import { fileURLToPath } from 'node:url';
import sharp from 'sharp';
import { Harness } from './tests/browser/harness.ts';
const file = fileURLToPath(new URL('./tests/photos/rocket.jpg', import.meta.url));
const bytes = await sharp(file).resize(6000, 4000, { fit: 'fill' }).jpeg({ quality: 90 }).toBuffer();
const harness = await Harness.start();
const screen = await harness.page('/gather');
await screen.drop([{ name: 'photograph.jpg', bytes }]);
for (let i = 0; i < 8; i++) { await new Promise((r) => setTimeout(r, 1000)); console.log((await screen.page.evaluate(() => document.body.textContent!.slice(0, 3000).match(/.{60}(tray).{40}/g)))); }
await screen.shot('/tmp/x.png');
await harness.stop();
