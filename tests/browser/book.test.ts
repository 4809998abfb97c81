import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { acb } from '../../core/formats/acb/acb.ts';
import { libraryOf, services } from '../../core/testing.ts';
import { Harness, type Screen } from './harness.ts';

let harness: Harness;
let screen: Screen;
let id = '';
beforeAll(async () => {
  harness = await Harness.start();
  id = await harness.keep(
    libraryOf('Harbour signs', {
      Hull: [
        ['Boot-top', '#b3262b'],
        ['Kelp', '#2f7d6b'],
        ['Night', '#14304a'],
      ],
    }),
  );
  screen = await harness.page('/');
});
afterAll(() => harness?.stop());

const keys = async (...list: string[]) => {
  for (const key of list) await screen.page.keyboard.press(key as 'Enter');
};
const readout = (label: string) =>
  screen.page.$eval(`[role=complementary][aria-label=${label}]`, (e) => e.textContent ?? '');
const ink = () => screen.page.$eval('[aria-label=Ink] h2', (e) => e.textContent ?? '');
const isInk = (name: string) => expect.poll(ink).toBe(name);
const tray = () =>
  screen.page.$$eval('section[aria-label=Tray] button[aria-label^=Remove]', (list) =>
    list.map((e) => e.getAttribute('aria-label')!.replace(/^Remove (.*) from the tray$/, '$1')),
  );

describe('Gather › Book', () => {
  it('begins with two books by one click, and goes to a number as it is typed', async () => {
    await screen.go(`/libraries/${id}/gather?from=book`);
    await screen.button('Add the Kestrelmere Inks');
    await screen.text(/Leaf \d+ of \d+/);
    // a digit anywhere begins a number
    await screen.page.keyboard.type('612');
    await isInk('KW 612');
    await screen.text(/1 of \d+, ↓ for the next/);
    await keys('ArrowDown');
    await isInk('KW 1612');
    await keys('ArrowUp');
    await isInk('KW 612');
    await expect.poll(() => readout('Ink')).toMatch(/Recipe.*Ember 7/);
    expect(await readout('Ink')).toMatch(/same ink on uncoated · ΔE00 \d/);
    await keys('Enter');
    await expect.poll(tray).toEqual(['KW 612']);
  });

  it('shows the same number on the other paper, and the leaf of a typed colour', async () => {
    await screen.button('uncoated');
    await isInk('KW 612');
    expect(await readout('Ink')).toMatch(/on uncoated/);
    await screen.button('coated');
    await screen.fill('Number, name or colour', '#14304a');
    await screen.text(/closest, ΔE00 \d/);
    await expect.poll(() => screen.text(/Leaf \d+ of \d+ · blues/)).toBeTruthy();
  });

  it('finds inks by hue and nuance in words, in any order', async () => {
    await screen.fill('Number, name or colour', 'dark blue');
    await screen.text(/\d+ of (?:\d+|many), ↓ for the next/);
    const isDarkBlue = async () => {
      const [, r, g, b] = /sRGB(\d+) (\d+) (\d+)/.exec(await readout('Ink')) ?? [];
      return Number(b) > Number(r) && Number(b) > Number(g) && Number(b) < 150;
    };
    await expect.poll(isDarkBlue).toBe(true);
    const first = await ink();
    await screen.fill('Number, name or colour', 'green');
    await expect.poll(isDarkBlue).toBe(false);
    await screen.fill('Number, name or colour', 'blue, dark');
    await isInk(first!);
  });

  it('is walked with arrow keys, on into the next leaf, and takes several', async () => {
    await screen.fill('Number, name or colour', '101');
    await isInk('KW 101');
    await screen.page.focus('[aria-current=true][data-place]');
    const at = () =>
      screen.page.$eval('[role=slider][aria-label=Leaf]', (e) => Number(e.getAttribute('aria-valuenow')));
    const leaf = await at();
    for (let i = 0; i < 12 && (await at()) === leaf; i++) await keys('ArrowRight');
    expect(await at()).toBe(leaf + 1);
    await keys('Space', 'ArrowDown', 'Space');
    await screen.text(/2 inks marked/);
    await keys('Enter');
    await expect.poll(async () => (await tray()).length).toBe(3);
    // what the keyboard is on is still one of the leaf
    expect(await screen.page.evaluate(() => document.activeElement?.hasAttribute('data-place'))).toBe(true);
  });

  it('puts marked tints in the tray as tints of that ink', async () => {
    await screen.fill('Number, name or colour', '2101');
    await isInk('KW 2101');
    await screen.page.waitForSelector('fieldset[aria-label=Tints] button[aria-label^="40 %"]');
    for (const percent of ['40 %', '70 %'])
      await screen.page.click(`fieldset[aria-label=Tints] button[aria-label^="${percent}"]`);
    await screen.button('2 tints to the tray');
    await expect.poll(tray).toEqual(expect.arrayContaining(['KW 2101 40 %', 'KW 2101 70 %']));
  });

  it('compares curated sets and takes several in one step', async () => {
    await screen.button('Sets');
    for (const name of ['Rope and enamel', 'Night watch']) await screen.click('checkbox', name);
    const before = (await tray()).length;
    await screen.button('Take 2 sets');
    await expect.poll(async () => (await tray()).length).toBe(before + 10);
  });
});

describe('the nearest, by one key', () => {
  it('swaps a swatch for a typed number without the mouse, and back in one undo', async () => {
    await screen.go(`/libraries/${id}/arrange`);
    await screen.choose('Boot-top');
    await keys('n');
    await screen.text(/Swap, or find the nearest/);
    await screen.page.keyboard.type('612');
    await screen.page.waitForFunction(() =>
      document.querySelector('#nearest-0')?.textContent?.includes('KW 612'),
    );
    await keys('Enter');
    await screen.text(/Swapped for KW 612/);
    expect(await screen.names()).toEqual(['KW 612', 'Kelp', 'Night']);
    expect(await readout('Readout')).toMatch(/612 · spot/);
    await screen.text(/From Kestrelmere Inks on (un)?coated, 612/);
    await screen.page.keyboard.down('Control');
    await keys('z');
    await screen.page.keyboard.up('Control');
    await expect.poll(() => screen.names()).toEqual(['Boot-top', 'Kelp', 'Night']);
  });

  it('lists the nearest of all books, inside a tolerance, and says when there is none', async () => {
    await screen.choose('Kelp');
    await keys('n');
    await screen.page.waitForSelector('#nearest-7');
    const figures = await screen.page.$$eval('#nearest-list [role=option]', (list) =>
      list.map((e) => Number(/([\d.]+)$/.exec(e.textContent ?? '')![1])),
    );
    expect([...figures].sort((a, b) => a - b)).toEqual(figures);
    await screen.fill('tolerance', '0.1');
    await screen.text(/Nothing lies within ΔE00 0\.1/);
    await keys('Escape');
  });
});

describe('the nearest to a colour of the tray', () => {
  it('is asked for by the same key, and goes to the tray', async () => {
    await screen.go(`/libraries/${id}/gather?from=book`);
    await screen.page.waitForSelector('section[aria-label=Tray] button[aria-label^=Remove]');
    const before = (await tray()).length;
    await screen.page.focus('section[aria-label=Tray] button[aria-label^=Remove]');
    await keys('n');
    await screen.page.waitForSelector('#nearest-1[role=option]');
    await keys('ArrowDown', 'Enter');
    await expect.poll(async () => (await tray()).length).toBe(before + 1);
  });
});

describe('Check › Nearest in a book', () => {
  it('pairs every swatch, keeps the pairs with a group, and either side finds the other', async () => {
    await screen.go(`/libraries/${id}/check`);
    await screen.text(/Nearest in a book/);
    await screen.press('Nearest in a book');
    await screen.text(/of 3 have an equivalent within 2\.0|All of 3/);
    const rows = () => screen.page.$$eval('[data-swatch]', (list) => list.map((e) => e.textContent ?? ''));
    const first = (await rows())[0]!;
    // another of the five by the arrow keys, and accepted
    await screen.page.focus('[data-swatch][aria-current=true]');
    await keys('ArrowRight');
    await expect.poll(async () => (await rows()).includes(first)).toBe(false);
    await screen.fill('tolerance', '20');
    await screen.text(/3 accepted/);
    await screen.button('Keep as a group');
    await screen.text(/3 equivalents in the group/);
    await screen.go(`/libraries/${id}/arrange`);
    await screen.choose('Kelp');
    const name = await screen.page.$eval('[aria-label=Equivalents] a', (e) => e.textContent!);
    expect(name).toMatch(/^KW \d+$/);
    await screen.page.click('[aria-label=Equivalents] a');
    await isInk(name);
    await expect.poll(() => readout('Ink')).toMatch(/In this library.*Kelp \(equivalent, ΔE00/);
    // what was kept is what stands there the next time, and is accepted however far it is
    await screen.go(`/libraries/${id}/check`);
    await screen.press('Nearest in a book');
    // and so are the three of the group, which are in the book themselves
    await screen.text(/6 accepted/);
    expect(await rows()).toEqual(expect.arrayContaining([expect.stringContaining(`Kelp${name}`)]));
  });

  it('uses no number twice where that is asked', async () => {
    await screen.go(`/libraries/${id}/check`);
    await screen.press('Nearest in a book');
    await screen.click('checkbox', 'Use each number once');
    await screen.text(/have an equivalent|All of/);
    const numbers = () =>
      screen.page.$$eval('[aria-label=Equivalents] label', (list) => [
        ...new Set(list.flatMap((e) => /^Accept (KW \d+)/.exec(e.textContent ?? '')?.[1] ?? [])),
      ]);
    await expect.poll(numbers).toHaveLength(6);
  });
});

describe('from book to book', () => {
  it('every ink is translated, and what comes of it is a library with its pairs', async () => {
    await screen.go('/books/kestrelmere-coated');
    await screen.click('link', 'Translate…');
    await screen.page.waitForSelector('[data-swatch]');
    // it is not held against itself
    await screen.press('in Kestrelmere Inks on uncoated');
    await screen.click('checkbox', 'Harbour signs');
    await keys('Escape');
    await screen.text(/in Kestrelmere Inks on uncoated and 1 more/);
    await screen.page.waitForFunction(() => !document.querySelector('[role=dialog]'));
    await screen.fill('tolerance', '50');
    await screen.text(/1\D?\d{3} accepted/);
    await screen.button('Keep as a library');
    await screen.page.waitForFunction(() => /libraries\/.+\/arrange/.test(location.pathname));
    await screen.text(/1,0\d\d swatches/);
    await screen.choose('KW 101');
    await screen.page.waitForSelector('[aria-label=Equivalents] a');
  });
});

describe('books of its own', () => {
  it('come from files, say what the user sets, and are not edited', async () => {
    const inks = libraryOf('Rope inks', {
      '': [
        ['RI 1', 'Lab 40 57 33'],
        ['RI 2', 'Lab 71 13 57'],
      ],
    });
    inks.book = { prefix: 'RI ' };
    for (const [i, s] of inks.groups[0]!.swatches.entries())
      Object.assign(s, { kind: 'spot', code: String(i + 1) });
    await screen.go('/books');
    await screen.drop([{ name: 'rope.acb', bytes: acb.encode(inks, services) }]);
    await screen.text(/Open 1 file/);
    await screen.click('radio', 'A book: not edited, for every library to take from');
    await screen.button('Keep as a book');
    await screen.text(/Where it is used/);
    await screen.fill('Substrate', 'film');
    await keys('Enter');
    await expect
      .poll(async () =>
        (await (await fetch(`${harness.url}/books/kept`)).json()).find(
          (b: { name: string }) => b.name === 'Rope inks',
        ),
      )
      .toMatchObject({ facts: { substrate: 'film', prefix: 'RI ' }, swatchCount: 2 });
    const book = new URL(screen.page.url()).pathname.split('/').pop();
    await screen.go(`/libraries/${book}/arrange`);
    expect(new URL(screen.page.url()).pathname).toBe(`/books/${book}`);
    await screen.go(`/libraries/${book}/hand-over`);
    await screen.text(/Where do the colours go/);
    await screen.go(`/gather?from=book&book=${book}&ink=2`);
    await isInk('RI 2');
    // a file from another installation knows the book by another id
    await screen.go(`/gather?from=book&book=elsewhere&called=Rope+inks&ink=1`);
    await isInk('RI 1');
    await screen.go(`/books/${book}`);
    await screen.button('Remove');
    await screen.text(/was removed/);
    await screen.button('Undo');
    await screen.text(/Rope inks/);
    await screen.go(`/books/${book}`);
    await screen.button('Remove');
    // another page would end what is being asked of the server
    await screen.text(/was removed/);
    await screen.go('/books');
    await screen.button('Restore');
    await screen.page.waitForFunction(() => !document.querySelector('[aria-label="Removed"]'));
  });

  it('of processing steps give the names that machines look for, to the letter', async () => {
    await screen.go('/books/processing-steps');
    await screen.fill('Cutting', 'knife ONE');
    await keys('Enter');
    await screen.fill('Creasing', 'Knife one');
    await keys('Enter');
    await screen.text(/“knife ONE” and “Knife one” differ by capitals/);
    await screen.go(`/libraries/${id}/gather?from=book&book=processing-steps&ink=Cutting`);
    await isInk('knife ONE');
    await screen.button('To the tray');
    await expect.poll(tray).toEqual(expect.arrayContaining(['knife ONE']));
  });
});
