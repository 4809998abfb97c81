import { readFileSync } from 'node:fs';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { libraryOf } from '../../core/testing.ts';
import { Harness, type Screen } from './harness.ts';

let harness: Harness;
let screen: Screen;
let id = '';
beforeAll(async () => {
  harness = await Harness.start();
  id = await harness.keep(
    libraryOf('Harbour signs', {
      Hull: [
        ['Lamp', '#00ff00'],
        ['Signal', '#ff0000'],
        ['Kelp', '#2f7d6b'],
      ],
      Inks: [
        ['Magenta', 'C 0 M 100 Y 0 K 0'],
        ['Deep', 'C 90 M 80 Y 80 K 60'],
        ['Deep too', 'C 90 M 80 Y 80 K 60'],
      ],
    }),
  );
  screen = await harness.page('/');
});
afterAll(() => harness?.stop());

const coated = readFileSync('profiles/coated-offset.icc');
/** Another profile than the shipped one: the same tables under another copyright year. */
const another = () => {
  const bytes = new Uint8Array(coated);
  bytes[24 + 1] = bytes[24 + 1]! ^ 1;
  return bytes;
};
const findings = () =>
  screen.page.$$eval('[role=option]', (list) => list.map((e) => e.querySelector('strong')?.textContent));
const counts = () =>
  screen.page.$$eval('.Check-check', (list) =>
    Object.fromEntries(list.map((e) => [...e.firstElementChild!.children].map((c) => c.textContent ?? ''))),
  );
const readout = () =>
  screen.page.$eval('[role=complementary][aria-label=Readout]', (e) => e.textContent ?? '');

describe('Check', () => {
  it('counts what every check finds, the worst first, and shows one in detail', async () => {
    await screen.go(`/libraries/${id}/check`);
    await screen.text(/2 colours the press cannot reach/);
    expect(await findings()).toEqual(['Lamp', 'Signal']);
    expect(await counts()).toMatchObject({
      'Press gamut': '2',
      'Look-alikes': '1',
      Names: '1',
      'Total ink': '0',
    });
    await screen.text(/The press comes no nearer than ΔE00 \d/);
  });

  it('fixes in one edit, which one undo takes back', async () => {
    await screen.button('Take the nearest inside');
    await screen.text(/1 colour the press cannot reach/);
    expect(await findings()).toEqual(['Signal']);
    await screen.page.keyboard.down('Control');
    await screen.page.keyboard.press('z');
    await screen.page.keyboard.up('Control');
    await screen.text(/2 colours the press cannot reach/);
  });

  it('leaves alone what is to be left, after a reload too, and looks again when asked', async () => {
    await screen.page.click('#finding-0');
    await screen.button('Leave it');
    await screen.text(/1 finding left as it is/);
    await screen.text(/saved/);
    await screen.reload();
    await screen.text(/1 finding left as it is/);
    expect(await findings()).toEqual(['Signal']);
    await screen.button('Look again');
    await screen.text(/2 colours the press cannot reach/);
  });

  it('goes from finding to finding with the arrow keys', async () => {
    await screen.page.click('#finding-0');
    await screen.page.focus('[role=listbox]');
    await screen.page.keyboard.press('ArrowDown');
    await expect
      .poll(() => screen.page.$eval('[role=option][aria-selected=true] strong', (e) => e.textContent))
      .toBe('Signal');
  });

  it('holds the library against an earlier state of itself', async () => {
    await screen.press('Against…');
    const state = await screen.page.waitForFunction(
      () => document.querySelector<HTMLOptionElement>('option[value^="state "]')?.value,
    );
    const select = await screen.find('combobox', 'against');
    await select.select((await state.jsonValue()) as string);
    await screen.text(/Nothing differs from|difference/);
  });

  it('shows the stage as another eye sees it', async () => {
    const select = await screen.find('combobox', 'look as');
    await select.select('deutan');
    expect(await screen.page.$eval('.Check-found', (e) => getComputedStyle(e).filter)).toMatch(/url/);
    await select.select('');
  });
});

describe('the print condition', () => {
  it('is chosen for the library, shows its inks again, and is undone like any edit', async () => {
    await screen.go(`/libraries/${id}/arrange`);
    await screen.choose('Magenta');
    // FOGRA39L: 48 74 −3
    expect(await readout()).toMatch(/Lab D50\s*48\.0 74\.1/);
    await screen.go(`/libraries/${id}/check`);
    await screen.press('Printed on');
    const profile = await screen.find('combobox', 'profile');
    await screen.page.waitForFunction(
      () => document.querySelectorAll('[role=dialog] select')[0]!.children.length > 1,
    );
    await profile.select('b73572ebfde60be70288e2705c0bb98e10acf27487a43bc26aa622923f354d2c');
    await screen.button('Print on it');
    await screen.text(/Uncoated offset \(FOGRA29L\)/);
    await screen.text(/over 300 %/);
    await screen.go(`/libraries/${id}/arrange`);
    await screen.choose('Magenta');
    expect(await readout()).not.toMatch(/48\.0 74\.1/);
    await screen.button('Undo');
    await expect.poll(readout).toMatch(/48\.0 74\.1/);
  });

  it('is searched by: the list of libraries has the colours as they print', async () => {
    const found = async (hex: string) =>
      (await (await fetch(`${harness.url}/?q=${encodeURIComponent(`close to ${hex}`)}`)).text()).includes(
        'with Magenta',
      );
    // what the plain formula made of it is nowhere
    expect(await found('#ff00ff')).toBe(false);
    expect(screen.errors).toEqual([]);
  });
});

describe('profiles', () => {
  it('are refused by what is wrong with them, and nothing is kept', async () => {
    await screen.go('/profiles');
    await screen.drop([
      { name: 'short.icc', bytes: coated.subarray(0, 1000) },
      { name: 'none.icc', bytes: 'no profile' },
    ]);
    await screen.text(/short\.icc: it is cut short/);
    await screen.text(/none\.icc: it is no ICC profile/);
    expect((await (await fetch(`${harness.url}/profiles/kept`)).json()).length).toBe(2);
    const large = await fetch(`${harness.url}/profiles/kept`, {
      method: 'POST',
      headers: { 'Content-Type': 'application/vnd.iccprofile' },
      body: new Uint8Array(17e6),
    });
    expect(large.status).toBe(413);
  });

  it('are kept once, print a library, and stay while it uses them', async () => {
    await screen.drop([{ name: 'press.icc', bytes: another() }]);
    await screen.text(/Papillon coated-offset.*is here/);
    await screen.drop([{ name: 'again.icc', bytes: another() }]);
    await screen.text(/Papillon coated-offset/);
    const list = await (await fetch(`${harness.url}/profiles/kept`)).json();
    expect(list.length).toBe(3);
    const { hash } = list.at(-1);
    await screen.go(`/libraries/${id}/check`);
    await screen.press('Printed on');
    await screen.page.waitForFunction(
      () => document.querySelectorAll('[role=dialog] select')[0]!.children.length > 2,
    );
    await (await screen.find('combobox', 'profile')).select(hash);
    await screen.button('Print on it');
    // it is read before the library is set to it
    await screen.text(/Printed on\s*Papillon coated-offset/);
    await screen.text(/· saved/);
    await screen.reload();
    await screen.text(/cannot reach/);
    const refused = await fetch(`${harness.url}/profiles/${hash}`, { method: 'DELETE' });
    expect([refused.status, await refused.text()]).toEqual([409, expect.stringMatching(/“Harbour signs”/)]);
    expect(screen.errors).toEqual([]);
  });

  it('that nobody uses go', async () => {
    const bytes = another();
    bytes[24 + 3] = bytes[24 + 3]! ^ 2;
    await screen.go('/profiles');
    await screen.drop([{ name: 'spare.icc', bytes }]);
    await expect
      .poll(async () => (await (await fetch(`${harness.url}/profiles/kept`)).json()).length)
      .toBe(4);
    const gone = await Promise.all(
      (await (await fetch(`${harness.url}/profiles/kept`)).json()).map(
        async (p: { hash: string }) =>
          (await fetch(`${harness.url}/profiles/${p.hash}`, { method: 'DELETE' })).status,
      ),
    );
    // two ship, one is used, one goes
    expect(gone.sort()).toEqual([204, 409, 409, 409]);
  });
});
