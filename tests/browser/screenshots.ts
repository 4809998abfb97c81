// npm run screenshots: one picture of each main view from the demo's data, into docs/screenshots
import { execFileSync } from 'node:child_process';
import { mkdirSync, readFileSync } from 'node:fs';
import { strToU8, zipSync } from 'fflate';
import { Harness, type Screen } from './harness.ts';

const [folder = 'docs/screenshots'] = process.argv.slice(2);
mkdirSync(folder, { recursive: true });

const harness = await Harness.start();
const demo = `${harness.folder}/demo`;
const samples = `${demo}/pictures`;
execFileSync('node', ['scripts/seed.mjs', demo]);
await harness.serve({
  DATABASE_URL: `file:${demo}/papillon.db`,
  PAPILLON_SAMPLES: samples,
  PAPILLON_BACKUPS: '',
});

const screen = await harness.page('/');
const pause = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms));
const shot = async (name: string, s: Screen = screen) => {
  await pause(350);
  await s.shot(`${folder}/${name}.png`);
};

await screen.button('Dark surround');
await shot('libraries');
await screen.button('Light surround');
await screen.click('link', 'Harbour at first light');
await screen.choose('Boot-top red');
await shot('arrange');
await screen.choose('Harbour slate');
await screen.page.keyboard.down('Shift');
await screen.choose('First light');
await screen.page.keyboard.up('Shift');
await screen.page.keyboard.press('t');
await screen.fill('Lightness', '3.5');
await screen.fill('Chroma, times', '1.22');
await screen.fill('Hue, °', '-8');
await screen.page.waitForSelector('[aria-label="In use"] img');
await screen.text(/largest ΔE00/);
await screen.page.evaluate(() => (document.activeElement as HTMLElement).blur());
await pause(1500);
await shot('tune');
await screen.button('Cancel');
await screen.click('link', 'Apply');
await screen.page.waitForSelector('[data-work] img');
await screen.page.click('#color-8');
await screen.text(/KW|408/);
await pause(2500);
await shot('apply');
await screen.click('link', 'Gather');
await screen.drop([
  {
    name: 'harbour-at-first-light.png',
    bytes: readFileSync(`${demo}/pictures/harbour-at-first-light.png`),
  },
]);
await screen.text(/Put 10 in the tray/);
await pause(800);
await screen.button('Put 10 in the tray');
// what is reported in passing should not hide the view
await pause(5600);
await shot('gather');
await screen.button('256');
await screen.text(/Put 256 in the tray/);
await pause(800);
await screen.button('New take');
await screen.button('24');
await screen.text(/Put 24 in the tray/);
await pause(800);
await screen.button('New take');
await screen.button('10');
await screen.text(/Put 10 in the tray/);
await screen.button('paper');
for (const [name, key, times] of [
  ['Balance, from areas to accents', 'ArrowRight', 35],
  ['Look-alikes under, ΔE00', 'ArrowRight', 70],
] as const) {
  await (await screen.find('slider', name)).focus();
  for (let i = 0; i < times; i++) await screen.page.keyboard.press(key);
}
await screen.page.evaluate(() => (document.activeElement as HTMLElement).blur());
await screen.button('lightness');
await pause(800);
await shot('gather-takes');
await screen.button('Start over');
await screen.click('link', 'Harmony');
await screen.button('Boot-top red');
await screen.text(/lost chroma to fit the gamut|Every member is inside/);
await pause(800);
await screen.page.focus('[data-key="0.1"]');
await screen.page.evaluate(() => (document.activeElement as HTMLElement).blur());
await screen.button('New take');
await screen.button('Tetradic');
await screen.page.evaluate(() => (document.activeElement as HTMLElement).blur());
await pause(300);
await screen.page.evaluate(() =>
  (document.querySelector('section[aria-label=Takes] [aria-pressed]') as HTMLElement).click(),
);
await shot('harmony');
await screen.button('Family');
await screen.click('link', 'Book');
await screen.fill('Number, name or colour', '408');
await screen.page.waitForSelector('fieldset[aria-label=Tints] button');
for (const percent of ['20 %', '55 %', '85 %'])
  await screen.page.click(`fieldset[aria-label=Tints] button[aria-label^="${percent}"]`);
await screen.page.evaluate(() => (document.activeElement as HTMLElement).blur());
await screen.page.mouse.move(600, 690);
await pause(600);
await shot('book');
await screen.click('link', 'Reading');
await screen.text(/All that CxF\/X-4 asks for is there/);
await screen.text(/Nearest in books, by their spectra/);
await pause(900);
await shot('reading');
await screen.click('link', 'Check');
await screen.text(/cannot reach|print within/);
const check = (title: string) =>
  screen.page.evaluate((t) => {
    [...document.querySelectorAll<HTMLElement>('.Check-check')]
      .find((b) => b.textContent?.startsWith(t))
      ?.click();
  }, title);
await check('Nearest in a book');
await screen.page.waitForSelector('[data-swatch]');
await pause(900);
await shot('nearest');
await check('Look-alikes');
await shot('check');
await screen.click('link', 'Hand over');
await screen.text(/change on the way|exactly/);
for (const destination of ['Painting', 'Print and spot', 'Web and interface', 'Tablet'])
  await screen.click('checkbox', destination);
await screen.button('Vector drawing ASE 1 file');
await screen.page.waitForSelector('.Report-report[data-stale=false]');
await shot('hand-over');
await screen.click('link', 'Arrange');
await screen.button('Board');
await screen.page.waitForSelector('[role=img] image');
await pause(2500);
await screen.page.evaluate(() => {
  const all = [...document.querySelectorAll<HTMLElement>('[aria-label="On this board"] button')];
  all.find((b) => b.textContent?.includes('Boot-top red'))!.click();
});
await pause(300);
await shot('board');
await screen.button('Mosaic');
await screen.button('Share');
await screen.text(/File links/);
const address = async (link: string) => {
  await screen.button(`Copy the address of ${link}`);
  await screen.text(new RegExp(`address of “${link}” was copied`));
  return screen.page.evaluate(() => navigator.clipboard.readText());
};
const naming = async (name: string) => {
  await screen.button('New link');
  await screen.text(/the address of New link/);
  const fields = await screen.page.$$('[role=dialog] input:not([readonly])');
  await fields.at(-1)!.click({ count: 3 });
  await fields.at(-1)!.type(name);
  await screen.page.keyboard.press('Tab');
  await screen.text(new RegExp(`the address of ${name}`));
};
await screen.page
  .browserContext()
  .overridePermissions(harness.url, ['clipboard-read', 'clipboard-write', 'clipboard-sanitized-write']);
await screen.page.bringToFront();
await naming('Office');
await naming('Printer');
const [, boardOption] = await screen.page.$$eval('[aria-label="What Printer shows"] option', (all) =>
  all.map((o) => o.value),
);
await screen.page.select('[aria-label="What Printer shows"]', boardOption!);
await (await screen.page.$$('[aria-label="What Printer may do"] button'))[1]!.click();
await (await screen.page.$$('[aria-label="What Office may do"] button'))[2]!.click();
await (await screen.page.$$('[aria-haspopup=dialog][aria-expanded=false]')).at(-1)!.click();
await screen.button('some');
await screen.page.keyboard.press('Escape');
await screen.text(/ASE, PDF sheet/);
await screen.button('New file link…');
await screen.button('Make the file link');
const shared = await address('Printer');
const visitor = await harness.elsewhere(shared.replace(harness.url, ''));
await visitor.page.waitForSelector('[role=img] svg image');
await visitor.page.click('rect[fill="#b61e28"]');
await visitor.fill('Comment on Boot-top red', 'Is 408 within reach on uncoated? The timetables are on 90 g.');
await visitor.fill('Your name', 'Printer');
await visitor.page.keyboard.press('Enter');
await visitor.text(/1 open/);
await pause(1500);
await shot('shared-page', visitor);
await visitor.page.close();
await screen.page.bringToFront();
await pause(5600);
await shot('share');
await screen.button('Done');

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
// a few changes to look back on
const rename = async (from: string, to: string) => {
  await screen.choose(from);
  await screen.page.keyboard.press('Enter');
  await screen.page.waitForSelector('[aria-label="Name of the swatch"]');
  await screen.page.keyboard.type(to);
  await screen.page.keyboard.press('Enter');
};
await rename('Line gold', 'Company gold');
await screen.choose('Boot-top red');
await screen.fill('Recolour', '#8a1c24');
await screen.page.keyboard.press('Enter');
await screen.choose('Night water');
await screen.page.focus('[role=listbox]');
await screen.page.keyboard.press('Delete');
await screen.text(/· saved/);
await screen.click('link', 'History');
await screen.text(/changes, the latest first/);
await (await screen.page.$$('.History-row')).at(-1)!.click();
await screen.text(/different now/);
await shot('history');
await screen.click('link', 'Arrange');

await screen.go('/convert');
await screen.drop([{ name: 'season.zip', bytes: job }]);
await screen.text(/3 files/);
for (const format of ['ASE', 'ACO', 'ACT']) await screen.click('checkbox', format);
await screen.page.waitForSelector('.Report-report[data-stale=false]');
await shot('convert');
await screen.go('/pdf');
await screen.drop([{ name: 'deck-plate.pdf', bytes: readFileSync(`${demo}/artwork/deck-plate.pdf`) }]);
await screen.text(/Boot-top redspot/);
await screen.page.evaluate(() => {
  const all = [...document.querySelectorAll<HTMLElement>('[aria-label=Inks] [aria-pressed]')];
  all.find((b) => b.textContent?.includes('Boot-top red'))!.click();
});
await screen.text(/Replace it with/);
await pause(1500);
await shot('pdf');
if (screen.errors.length > 0) console.error(screen.errors.join('\n'));
await harness.stop();
