// npm run screenshots: one picture of each main view from the demo's data, into docs/screenshots
import { execFileSync } from 'node:child_process';
import { mkdirSync } from 'node:fs';
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
await shot('hand-over');
await screen.drop([
  {
    name: 'ropes.txt',
    bytes: 'GIMP Palette\nName: Ropes\n#\n138 28 36\tHull red\n217 164 65\tLine gold\n20 48 74\tNavy\n',
  },
  { name: 'broken.ase', bytes: 'ASEF\0\x01\0\0\0\0\0\x09' },
]);
await screen.text(/Open 1 file/);
await shot('open');
if (screen.errors.length > 0) console.error(screen.errors.join('\n'));
await harness.stop();
