import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { allSwatches, emptyBoard, type Library } from '../../core/swatch/index.ts';
import { libraryOf } from '../../core/testing.ts';
import { Harness, type Screen } from './harness.ts';

// Links, by the hand that makes them and the hand that opens them.

let harness: Harness;
let owner: Screen;
let visitor: Screen;
let id = '';
let address = '';
const library: Library = libraryOf('Harbour', {
  Sky: [
    ['Slate', '#455a66'],
    ['Night', '#263a46'],
  ],
  Hull: [['Red', '#b3262b']],
});
library.items = [
  emptyBoard(
    'board',
    'On one page',
    allSwatches(library).map((s, i) => ({
      id: `o${i}`,
      of: 'swatch',
      refs: [s.id],
      name: s.name,
      weight: 2,
    })),
  ),
];

beforeAll(async () => {
  harness = await Harness.start();
  id = await harness.keep(library);
  owner = await harness.page(`/libraries/${id}/arrange`);
  await owner.page
    .browserContext()
    .overridePermissions(harness.url, ['clipboard-read', 'clipboard-write', 'clipboard-sanitized-write']);
});
afterAll(() => harness?.stop());

const copied = async () => {
  await owner.page.bringToFront();
  return owner.page.evaluate(() => navigator.clipboard.readText());
};
const field = async (selector: string, text: string) => {
  const input = (await owner.page.waitForSelector(selector))!;
  await input.click({ count: 3 });
  await input.type(text);
  await owner.page.keyboard.press('Tab');
};
const path = () => address.replace(harness.url, '');

describe('a link', () => {
  it('is made, named and copied', async () => {
    await owner.button('Share');
    await owner.button('New link');
    await field('[role=dialog] input:not([readonly])', 'Printer');
    await owner.button('Copy the address of Printer');
    await owner.text(/The address of “Printer” was copied/);
    address = await copied();
    expect(address).toMatch(/\/s\/[\w-]{22}$/);
  });

  it('opens the library in another browser, to read and copy from, and nothing else', async () => {
    visitor = await harness.elsewhere(path());
    await visitor.text(/Harbour/);
    expect(await visitor.page.title()).toBe('Harbour · Papillon');
    await visitor.button('Red');
    await visitor.text(/#B3262B/);
    await visitor.button('Dark surround');
    expect(await visitor.page.$eval('html', (e) => e.dataset.surround)).toBe('dark');
    await visitor.reload();
    expect(await visitor.page.$eval('html', (e) => e.dataset.surround)).toBe('dark');
    // no steps, no libraries, no way to either
    expect(await visitor.page.$$eval('a', (all) => all.map((a) => new URL(a.href).pathname))).toEqual([
      expect.stringMatching(/^\/s\/[\w-]{22}\/files\//),
    ]);
  });

  it('shows a change of the owner as it happens', async () => {
    await owner.button('Done');
    await owner.choose('Red');
    await owner.fill('Name', 'Boot-top red');
    await owner.page.keyboard.press('Enter');
    await visitor.text(/Boot-top red/);
  });

  it('says that it is without a connection, and shows what it has', async () => {
    await visitor.page.setOfflineMode(true);
    await visitor.text(/The server cannot be reached/);
    await visitor.text(/Boot-top red/);
    await visitor.page.setOfflineMode(false);
    await visitor.page.waitForFunction(() => !document.body.textContent?.includes('cannot be reached'));
  });

  it('shows a board instead, whose colours are read where they stand, and allows what is ticked', async () => {
    await owner.button('Share');
    await owner.page.select('[aria-label="What Printer shows"]', await boardOf());
    await owner.button('all formats');
    await owner.button('some');
    await owner.page.keyboard.press('Escape');
    await owner.text(/ASE, PDF sheet/);
    await visitor.text(/from Harbour/);
    await visitor.page.waitForSelector('[role=img] svg');
    await visitor.button('Night');
    await visitor.text(/#263A46/);
    await visitor.page.click('rect[fill="#455a66"]');
    await visitor.text(/#455A66/);
    const files = () => visitor.page.$$eval('footer a', (all) => all.map((a) => a.textContent));
    await expect.poll(files).toEqual(['ASE', 'PDF sheet']);
  });

  it('fits a phone of 360 px', async () => {
    await visitor.page.setViewport({ width: 360, height: 720, isMobile: true, hasTouch: true });
    const wide = await visitor.page.evaluate(() => document.documentElement.scrollWidth);
    expect(wide).toBeLessThanOrEqual(360);
    const small = await visitor.page.$$eval('main button, footer a', (all) =>
      all.filter((e) => e.getBoundingClientRect().height < 40).map((e) => e.textContent),
    );
    expect(small).toEqual([]);
  });

  it('ends the open page when it is revoked', async () => {
    await owner.button('More for Printer');
    await owner.click('menuitem', 'Revoke');
    await visitor.text(/This link has ended/);
    await visitor.page.reload();
    await visitor.text(/This link has ended/);
    expect(visitor.errors).toEqual([]);
  });
});

/** The board as the server calls it. */
async function boardOf(): Promise<string> {
  const reply = await fetch(`${harness.url}/libraries/${id}/changes`);
  return ((await reply.json()) as { library: Library }).library.items![0]!.id;
}

describe('a file link', () => {
  it('is made of a group, and is always as the library is', async () => {
    await owner.button('New file link…');
    await owner.button('Make the file link');
    await owner.button('Copy the address of CSS');
    await owner.text(/The address of “CSS” was copied/);
    const file = await copied();
    expect(file).toMatch(/\/f\/[\w-]{22}\/harbour\.css$/);
    const css = async () => (await fetch(file)).text();
    expect(await css()).toContain('#b3262b');
    await owner.button('Done');
    await owner.choose('Night');
    await owner.fill('Name', 'Night water');
    await owner.page.keyboard.press('Enter');
    await expect.poll(css).toContain('night-water');
    expect(owner.errors).toEqual([]);
  });
});
