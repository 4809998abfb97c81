import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { fleet } from '../../core/testing.ts';
import { Harness, type Screen } from './harness.ts';

// What is done without a mouse: how many presses it takes, and where the focus is.

let harness: Harness;
let screen: Screen;
let id = '';
beforeAll(async () => {
  harness = await Harness.start();
  id = await harness.keep({ ...fleet, name: 'Fleet' });
  await harness.keep({ ...fleet, name: 'Harbour signs' });
  screen = await harness.page(`/libraries/${id}/arrange`);
});
afterAll(() => harness?.stop());

const press = (...keys: Parameters<Screen['page']['keyboard']['press']>[0][]) => chord(screen, keys);

async function chord({ page }: Screen, keys: Parameters<Screen['page']['keyboard']['press']>[0][]) {
  for (const key of keys.slice(0, -1)) await page.keyboard.down(key);
  await page.keyboard.press(keys.at(-1)!);
  for (const key of keys.slice(0, -1)) await page.keyboard.up(key);
}

describe('commands', () => {
  const chosen = () =>
    screen.page.evaluate(() => document.querySelector('#commands [aria-selected=true]')?.textContent ?? '');
  const ask = async (text: string) => {
    await press('Control', 'k');
    await screen.find('combobox', 'Find an act, a step, a library, a swatch or a format');
    await screen.page.keyboard.type(text);
  };
  const path = () => new URL(screen.page.url()).pathname + new URL(screen.page.url()).search;

  it('lead to a step, another library, a format and a swatch by a few letters', async () => {
    await ask('chec');
    await expect.poll(chosen).toMatch(/^Check/);
    await press('Enter');
    await screen.text(/Choose a finding to see how to fix it|No findings/);
    expect(path()).toBe(`/libraries/${id}/check`);
    await ask('as gpl');
    await expect.poll(chosen).toMatch(/^Hand over as GPL/);
    await press('Enter');
    await expect.poll(path).toBe(`/libraries/${id}/hand-over?format=gpl`);
    await expect
      .poll(() => screen.page.$eval('[role=tab][aria-selected=true]', (e) => e.textContent))
      .toMatch(/GPL/);
    await ask('harbour si');
    await expect.poll(chosen).toMatch(/^Harbour signs/);
    await press('Enter');
    await screen.text(/Harbour signs/);
    const swatch = (await screen.names())[2]!;
    await ask(swatch);
    await expect.poll(chosen).toContain(swatch);
    await press('Enter');
    await expect
      .poll(() => screen.page.$$eval('[role=option][aria-selected=true]', (all) => all.length))
      .toBe(1);
  });

  it('do what a button of the screen does, and are heard in a field, too', async () => {
    await screen.go(`/libraries/${id}/arrange`);
    const before = await screen.names();
    await screen.page.focus('[role=listbox]');
    await press('Home');
    await press('Delete');
    await expect.poll(async () => (await screen.names()).length).toBe(before.length - 1);
    await press('/');
    await ask('undo');
    await expect.poll(chosen).toMatch(/^Undo/);
    await press('Enter');
    await expect.poll(() => screen.names()).toEqual(before);
  });

  it('take what was typed, however late the list follows', async () => {
    await screen.go(`/libraries/${id}/arrange`);
    await screen.names();
    await ask('');
    await screen.page.emulateCPUThrottling(20);
    try {
      // as fast as the keys can be sent
      await Promise.all([...'as gpl'].map((letter) => screen.page.keyboard.press(letter as 'a')));
      await press('Enter');
    } finally {
      await screen.page.emulateCPUThrottling(null);
    }
    await expect.poll(path).toBe(`/libraries/${id}/hand-over?format=gpl`);
  });

  it('say when nothing has that name, and leave the focus where it was', async () => {
    await screen.go(`/libraries/${id}/arrange`);
    await screen.names();
    await screen.page.focus('[role=listbox]');
    await ask('nothing is called this');
    await screen.text(/Nothing has that name/);
    await press('Enter');
    await press('Escape');
    await expect
      .poll(() => screen.page.evaluate(() => document.activeElement?.getAttribute('role')))
      .toBe('listbox');
  });
});

it('the square brackets lead from step to step', async () => {
  await screen.go(`/libraries/${id}/arrange`);
  const step = () => screen.page.$eval('nav[aria-label=Steps] [aria-current=page]', (e) => e.textContent);
  for (const next of ['Apply', 'Check', 'Hand over', 'Hand over']) {
    await press(']');
    await expect.poll(step).toBe(next);
  }
  await press('[');
  await expect.poll(step).toBe('Check');
});

/** Presses one key after another, and counts them; a word that is typed counts as its letters. */
class Hand {
  presses = 0;

  constructor(private readonly screen: Screen) {}

  async press(...keys: Parameters<Screen['page']['keyboard']['press']>[0][]): Promise<void> {
    this.presses++;
    await chord(this.screen, keys);
  }

  async type(text: string): Promise<void> {
    this.presses += [...text].length;
    await this.screen.page.keyboard.type(text);
  }

  /** Tab until the focus is on what is called so. */
  async tabTo(name: RegExp): Promise<void> {
    for (let i = 0; i < 60; i++) {
      const found = await this.screen.focused();
      if (name.test(found)) return;
      await this.press('Tab');
    }
    throw new Error(`${name} is not within 60 presses of Tab.`);
  }
}

describe('presses', () => {
  it('from a picture to two files: at most 40', async () => {
    await screen.go('/');
    const path = join(harness.folder, 'pennant.png');
    const flag = sharp({ create: { width: 300, height: 200, channels: 3, background: '#2f7d6b' } });
    const parts = ['#b3262b', '#c2a33a', '#102030', '#e7cfa6', '#8a5cc2', '#3f8cc2'].map((background, i) => ({
      input: { create: { width: 40, height: 100, channels: 3 as const, background } },
      left: 45 * i,
      top: 20 * (i % 3),
    }));
    writeFileSync(path, await flag.composite(parts).png().toBuffer());
    const hand = new Hand(screen);
    await hand.press('Control', 'k');
    await screen.find('combobox', 'Find an act, a step, a library, a swatch or a format');
    await hand.type('open');
    const [chooser] = await Promise.all([screen.page.waitForFileChooser(), hand.press('Enter')]);
    await chooser.accept([path]);
    await screen.text(/Put 7 in the tray/);
    await expect
      .poll(() => screen.page.evaluate(() => document.activeElement?.textContent))
      .toMatch(/7 colours/);
    await hand.tabTo(/How many colours/);
    for (const n of ['5', '4', '3']) {
      await hand.type(n);
      await hand.press('Enter');
      await screen.text(new RegExp(`Put ${n} in the tray`));
    }
    await hand.press('Control', 'Enter');
    await screen.text(/3 waiting/);
    await hand.press('Control', 'Shift', 'Enter');
    await screen.find('textbox', 'Name of the library');
    await hand.press('Enter');
    await screen.text(/3 swatches · saved/);
    await expect
      .poll(() => screen.page.evaluate(() => document.activeElement?.getAttribute('role')))
      .toBe('listbox');
    await hand.press(']');
    await hand.press(']');
    await hand.press(']');
    await screen.text(/All 3 swatches arrive/);
    await hand.press('Control', 'Enter');
    await harness.downloaded('pennant kit.zip');
    await screen.text(/Download again/);
    await hand.press('Control', 'k');
    await screen.find('combobox', 'Find an act, a step, a library, a swatch or a format');
    await hand.type('only');
    await hand.press('Enter');
    await harness.downloaded('pennant.ase');
    expect(hand.presses).toBeLessThanOrEqual(40);
  });

  it('from a typed colour by a rule to a library: at most 35', async () => {
    await screen.go('/');
    const hand = new Hand(screen);
    const command = async (text: string, begins: RegExp) => {
      await hand.press('Control', 'k');
      await screen.find('combobox', 'Find an act, a step, a library, a swatch or a format');
      await hand.type(text);
      await expect
        .poll(() =>
          screen.page.evaluate(() => document.querySelector('#commands [aria-selected=true]')?.textContent),
        )
        .toMatch(begins);
      await hand.press('Enter');
      // a hand sees that it is gone before it presses the next key
      await expect.poll(() => screen.page.$('[role=dialog]')).toBeNull();
    };
    await command('harm', /^Gather: Harmony/);
    // the field that it begins with has the focus
    await expect.poll(() => screen.focused()).toMatch(/^Colour/);
    await hand.type('#b3262b');
    await hand.press('Enter');
    await screen.text(/Put 5 in the tray/);
    await command('triad', /^Triadic/);
    // until its press is known a family can not be put anywhere, which its button shows
    await screen.page.waitForFunction(() =>
      [...document.querySelectorAll('button')].some(
        (b) => b.textContent === 'Put 5 in the tray' && !b.disabled,
      ),
    );
    await hand.press('Control', 'Enter');
    await screen.text(/5 waiting/);
    await hand.press('Control', 'Shift', 'Enter');
    await screen.find('textbox', 'Name of the library');
    await hand.press('Enter');
    await screen.text(/5 swatches · saved/);
    expect(hand.presses).toBeLessThanOrEqual(35);
  });

  it('to the colours of an artwork: one, from the step before', async () => {
    await screen.go(`/libraries/${id}/apply`);
    await screen.drop([
      {
        name: 'badge.svg',
        bytes:
          '<svg xmlns="http://www.w3.org/2000/svg" width="300" height="150"><rect width="300" height="150" fill="#102030"/><circle cx="80" cy="70" r="30" fill="#c8102e"/></svg>',
      },
    ]);
    await screen.text(/2 colours in 2 parts/);
    await screen.click('link', 'Arrange');
    await screen.names();
    await press(']');
    await expect
      .poll(() => screen.page.evaluate(() => document.activeElement?.getAttribute('aria-label')))
      .toBe('Colours of the artwork');
  });
});

describe('a list', () => {
  it('is one Tab stop with arrow keys inside, and keeps the focus when what has it goes', async () => {
    await screen.go('/gather?from=codes');
    await screen.fill('Type or paste codes', '#112233 #445566 #778899');
    await press('Enter');
    await press('Control', 'Enter');
    await screen.text(/3 waiting/);
    const focused = () =>
      screen.page.evaluate(() => document.activeElement?.getAttribute('aria-label') ?? '');
    const stops = await screen.page.$$eval(
      'section[aria-label=Tray] button[aria-label^=Remove]',
      (all) => all.filter((b) => (b as HTMLElement).tabIndex === 0).length,
    );
    expect(stops).toBe(1);
    await screen.page.focus('section[aria-label=Tray] button[aria-label^=Remove]');
    const first = await focused();
    await press('ArrowRight');
    const second = await focused();
    expect(second).not.toBe(first);
    await press('End');
    await press('Home');
    expect(await focused()).toBe(first);
    await press('Enter');
    await screen.text(/2 waiting/);
    await expect.poll(focused).toBe(second);
  });
});
