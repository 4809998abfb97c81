import { unzipSync } from 'fflate';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { libraryOf } from '../../core/testing.ts';
import { Harness, type Screen } from './harness.ts';

// Where libraries stand on the home: shelves, archive, bin; and what is done with several at once.

let harness: Harness;
let screen: Screen;
beforeAll(async () => {
  harness = await Harness.start();
  for (const [name, n] of [
    ['Ferry 10', 1],
    ['Ferry 9', 3],
    ['Kite', 2],
  ] as const)
    await harness.keep(
      libraryOf(name, {
        All: Array.from({ length: n }, (_, i): [string, string] => [`${name} ${i}`, `#8a1c2${i}`]),
      }),
    );
  screen = await harness.page('/');
});
afterAll(() => harness?.stop());

const shown = () => screen.page.$$eval('.Home-name', (links) => links.map((l) => (l as HTMLElement).title));
const choose = (...names: string[]) =>
  names.reduce<Promise<unknown>>(
    (before, name) => before.then(() => screen.click('checkbox', `Choose ${name}`)),
    Promise.resolve(),
  );

describe('shelves', () => {
  it('take several libraries at once, show theirs, and count them', async () => {
    await choose('Ferry 10', 'Ferry 9');
    await screen.text(/2 libraries4 swatches/);
    await screen.button('Shelve…');
    await (await screen.find('textbox', 'Name of a new shelf')).type('Ferry line');
    await screen.page.keyboard.press('Enter');
    await screen.click('link', 'Ferry line 2');
    await expect.poll(async () => (await shown()).sort()).toEqual(['Ferry 10', 'Ferry 9']);
    // the tray is back: nothing is chosen any more
    await screen.text(/gathered colours wait here/);
    // it stays where it was after a reload, and one can be on several
    await screen.reload();
    await expect.poll(async () => (await shown()).length).toBe(2);
    await choose('Ferry 9');
    await screen.button('Shelve…');
    await (await screen.find('textbox', 'Name of a new shelf')).type('Spring');
    await screen.page.keyboard.press('Enter');
    await screen.click('link', 'Spring 1');
    await expect.poll(shown).toEqual(['Ferry 9']);
  });

  it('are renamed, and taken away without their libraries', async () => {
    await screen.button('More for the shelf Spring');
    await screen.click('menuitem', 'Rename the shelf');
    const field = await screen.find('textbox', 'Name of the shelf');
    await field.evaluate((e) => (e as HTMLInputElement).select());
    await field.type('Season 1 & 2');
    await screen.page.keyboard.press('Enter');
    await screen.find('link', 'Season 1 & 2 1');
    await expect.poll(shown).toEqual(['Ferry 9']);
    await screen.button('More for the shelf Season 1 & 2');
    await screen.click('menuitem', 'Remove the shelf; its libraries stay');
    await expect.poll(async () => (await shown()).length).toBe(3);
  });

  it('order by name, as people count, and by size', async () => {
    const order = await screen.find('combobox', 'Order of the libraries');
    await order.select('name');
    await expect.poll(shown).toEqual(['Ferry 9', 'Ferry 10', 'Kite']);
    await order.select('size');
    await expect.poll(shown).toEqual(['Ferry 9', 'Kite', 'Ferry 10']);
    await order.select('newest');
  });
});

describe('several libraries', () => {
  it('go to the archive and back, and are found there', async () => {
    await choose('Kite');
    await screen.button('Archive');
    await screen.text(/1 library in the archive/);
    await expect.poll(async () => (await shown()).sort()).toEqual(['Ferry 10', 'Ferry 9']);
    await screen.fill('Search the libraries', 'Kite 1');
    await expect.poll(shown).toEqual(['Kite']);
    await screen.fill('Search the libraries', '');
    // the search has ended: it goes to a page of its own
    await expect.poll(async () => (await shown()).length).toBe(2);
    await screen.click('link', 'Archive 1');
    await expect.poll(shown).toEqual(['Kite']);
    await choose('Kite');
    await screen.button('Back from the archive');
    await screen.text(/The archive is empty/);
    await screen.click('link', 'All 3');
    await expect.poll(async () => (await shown()).length).toBe(3);
  });

  it('become one with all their groups, and stay themselves', async () => {
    await choose('Ferry 9', 'Kite');
    await screen.button('Make one of them…');
    await screen.fill('Name of the library', 'Both');
    await screen.button('Make library');
    await screen.text(/5 swatches · saved/);
    await screen.go('/');
    await expect.poll(async () => (await shown()).sort()).toEqual(['Both', 'Ferry 10', 'Ferry 9', 'Kite']);
  });

  it('are handed over as one zip, a file for each', async () => {
    await choose('Ferry 9', 'Kite');
    await screen.button('Hand over…');
    await (await screen.find('combobox', 'as')).select('gpl');
    await screen.button('Download');
    const files = unzipSync(await harness.downloaded('converted.zip'));
    expect(Object.keys(files).sort()).toEqual(['Ferry 9.gpl', 'Kite.gpl']);
    expect(new TextDecoder().decode(files['Kite.gpl'])).toMatch(/138 +28 +32\tKite 0/);
    await screen.button('Choose none');
  });

  it('are deleted with one undo, and for good only when asked twice', async () => {
    await choose('Both', 'Kite');
    await screen.button('Delete');
    await screen.text(/2 libraries are deleted/);
    await screen.button('Undo');
    await expect.poll(async () => (await shown()).length).toBe(4);
    await choose('Both');
    await screen.button('Delete');
    await screen.click('link', 'Bin 1');
    await screen.text(/Both5 swatchesdeleted .* 30 days left/);
    await screen.button('Delete for good… Both');
    await screen.button('Cancel');
    await screen.text(/30 days left/);
    await screen.button('Delete for good… Both');
    await screen.button('Delete for good');
    await screen.text(/The bin is empty/);
    await screen.click('link', 'All 3');
    await expect.poll(async () => (await shown()).sort()).toEqual(['Ferry 10', 'Ferry 9', 'Kite']);
  });

  it('are chosen as a run with Shift', async () => {
    await (await screen.find('combobox', 'Order of the libraries')).select('name');
    await choose('Ferry 9');
    await screen.page.keyboard.down('Shift');
    await choose('Kite');
    await screen.page.keyboard.up('Shift');
    await screen.text(/3 libraries6 swatches/);
    await screen.button('Choose none');
  });
});
