// npm run screenshots: one picture of each main view from the demo's data, into docs/screenshots
import { execFileSync } from 'node:child_process';
import { mkdirSync } from 'node:fs';
import { strToU8, zipSync } from 'fflate';
import { Harness, type Screen } from './harness.ts';

const [folder = 'docs/screenshots'] = process.argv.slice(2);
mkdirSync(folder, { recursive: true });

const harness = await Harness.start();
const samples = `${harness.folder}/pictures`;
execFileSync('npx', ['tsx', 'demo/seed.ts', harness.folder], {
  env: { ...process.env, DATABASE_URL: `file:${harness.folder}/papillon.db` },
});
await harness.serve({ PAPILLON_SAMPLES: samples });

const screen = await harness.page('/');
const pause = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms));
const shot = async (name: string, s: Screen = screen) => {
  await pause(350);
  await s.shot(`${folder}/${name}.png`);
};

await shot('libraries-light');
await screen.button('Dark surround');
await shot('libraries');
await screen.button('Light surround');
await screen.click('link', 'Harbour at first light');
await screen.choose('Boot-top red');
await shot('arrange');
await screen.button('List');
await shot('arrange-list');
await screen.button('Mosaic');
await screen.button('Mid surround');
await shot('arrange-mid');
await screen.button('Light surround');
await screen.click('link', 'Gather');
await shot('gather-empty');
await screen.button('Sample harbour-at-first-light.png');
await screen.text(/Put 10 in the tray/);
await pause(800);
await screen.button('Put 10 in the tray');
// what is said in passing should not hide the view
await pause(5600);
await shot('gather');
await screen.button('Place in…');
await shot('place');
await screen.page.keyboard.press('Escape');
await screen.button('Point');
await screen.page.mouse.move(420, 330);
await screen.page.mouse.click(420, 330);
await shot('gather-point');
await screen.click('link', 'Hand over');
await screen.text(/change on the way|exactly/);
for (const destination of ['Painting', 'Print and spot', 'Web and interface', 'Tablet'])
  await screen.click('checkbox', destination);
await screen.button('Vector drawing ASE 1 file');
await screen.page.waitForSelector('.report[data-stale=false]');
await shot('hand-over');
await screen.button('Dark surround');
await screen.click('checkbox', 'Cutting and engraving');
await screen.page.waitForSelector('.report[data-stale=false]');
await shot('hand-over-dark');
await screen.button('Light surround');
await screen.click('link', 'Arrange');
await screen.button('Merge…');
await screen.button('Compare');
await screen.text(/Same colour, another name/);
await shot('merge');
await screen.page.keyboard.press('Escape');

const ropes = (name: string, ...lines: string[]) => `GIMP Palette\nName: ${name}\n#\n${lines.join('\n')}\n`;
const job = zipSync({
  'season/ropes.gpl': strToU8(
    ropes('Ropes', '138 106 60\tHemp', '234 215 168\tNew rope', '58 32 19\tTarred'),
  ),
  'season/flags.txt': strToU8('#8a1c24 #14304a #d9a441 #f3ecdf #2f7d6b'),
  'season/deck.gpl': strToU8(ropes('Deck', '91 56 32\tTeak', '160 106 60\tOiled teak', '12 999 4\tTorn')),
  'season/letter.txt': strToU8('Dear crew'),
});
await screen.drop([{ name: 'season.zip', bytes: job }]);
await screen.text(/Open 3 files/);
await shot('open');
await screen.page.keyboard.press('Escape');
await screen.go('/convert');
await screen.drop([{ name: 'season.zip', bytes: job }]);
await screen.text(/2 files/);
for (const format of ['ASE', 'ACO', 'ACT']) await screen.click('checkbox', format);
await screen.page.waitForSelector('.report[data-stale=false]');
await shot('convert');
if (screen.errors.length > 0) console.error(screen.errors.join('\n'));
await harness.stop();
